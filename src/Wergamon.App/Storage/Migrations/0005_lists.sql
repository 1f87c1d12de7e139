-- One row per track as lists show, sort, filter and find it, made of its album, its copies and their tags.
CREATE TABLE track_line (
    track_id      INTEGER PRIMARY KEY REFERENCES track (id) ON DELETE CASCADE,
    album_id      INTEGER NOT NULL,
    title         TEXT    NOT NULL,
    artist        TEXT    NOT NULL,
    album         TEXT    NOT NULL,
    -- Folded, numbers in natural order; see FoldedText.
    title_key     TEXT    NOT NULL,
    artist_key    TEXT    NOT NULL,
    album_key     TEXT    NOT NULL,
    disc          INTEGER,
    number        INTEGER,
    year          TEXT,
    genre         TEXT,
    -- Of the master copy.
    format        TEXT    NOT NULL,
    sample_rate   INTEGER NOT NULL,
    bits          INTEGER NOT NULL,
    channels      INTEGER NOT NULL,
    kilobits      INTEGER NOT NULL,
    length_ms     INTEGER NOT NULL,
    path          TEXT    NOT NULL,
    path_key      TEXT    NOT NULL,
    tempo         REAL,
    musical_key   TEXT,
    rating        TEXT,
    added_at      INTEGER NOT NULL,
    -- Of all copies.
    copies        INTEGER NOT NULL,
    bytes         INTEGER NOT NULL,
    has_artwork   INTEGER NOT NULL,
    has_lossless  INTEGER NOT NULL,
    is_untagged   INTEGER NOT NULL,
    is_damaged    INTEGER NOT NULL,
    is_missing    INTEGER NOT NULL,
    fits_disc     INTEGER NOT NULL
);
CREATE INDEX track_line_by_title ON track_line (title_key, track_id);
CREATE INDEX track_line_by_artist ON track_line (artist_key, album_key, disc, number, track_id);
CREATE INDEX track_line_by_album ON track_line (album_key, disc, number, track_id);
CREATE INDEX track_line_by_path ON track_line (path_key, track_id);
CREATE INDEX track_line_by_added ON track_line (added_at, track_id);
CREATE INDEX track_line_by_album_id ON track_line (album_id, sample_rate);

-- What tracks are found by: words that are folded already. Only whether a track has a word is kept, not where.
CREATE VIRTUAL TABLE track_text USING fts5 (words, content = '', contentless_delete = 1, detail = none, prefix = '1 2 3', tokenize = "unicode61 remove_diacritics 0");

-- Tracks whose line has to be made anew.
CREATE TABLE track_stale (track_id INTEGER PRIMARY KEY);
INSERT INTO track_stale SELECT id FROM track;

-- Not INSERT OR IGNORE: in a trigger the statement that fires it decides on conflicts, and an upsert would fail.
CREATE TRIGGER stale_track_new AFTER INSERT ON track BEGIN
    INSERT INTO track_stale SELECT NEW.id WHERE NEW.id NOT IN (SELECT track_id FROM track_stale);
END;
CREATE TRIGGER stale_track_change AFTER UPDATE ON track BEGIN
    INSERT INTO track_stale SELECT NEW.id WHERE NEW.id NOT IN (SELECT track_id FROM track_stale);
END;
CREATE TRIGGER stale_track_gone AFTER DELETE ON track BEGIN
    DELETE FROM track_text WHERE rowid = OLD.id;
    INSERT INTO track_stale SELECT OLD.id WHERE OLD.id NOT IN (SELECT track_id FROM track_stale);
END;
CREATE TRIGGER stale_copy_new AFTER INSERT ON copy BEGIN
    INSERT INTO track_stale SELECT NEW.track_id WHERE NEW.track_id NOT IN (SELECT track_id FROM track_stale);
END;
CREATE TRIGGER stale_copy_change AFTER UPDATE ON copy BEGIN
    INSERT INTO track_stale SELECT id FROM track WHERE id IN (NEW.track_id, OLD.track_id) AND id NOT IN (SELECT track_id FROM track_stale);
END;
CREATE TRIGGER stale_copy_gone AFTER DELETE ON copy WHEN EXISTS (SELECT 1 FROM track WHERE id = OLD.track_id) BEGIN
    INSERT INTO track_stale SELECT OLD.track_id WHERE OLD.track_id NOT IN (SELECT track_id FROM track_stale);
END;
CREATE TRIGGER stale_album_change AFTER UPDATE ON album
    WHEN OLD.artist <> NEW.artist OR OLD.title <> NEW.title OR OLD.year IS NOT NEW.year OR OLD.genre IS NOT NEW.genre BEGIN
    INSERT INTO track_stale SELECT id FROM track WHERE album_id = NEW.id AND id NOT IN (SELECT track_id FROM track_stale);
END;
