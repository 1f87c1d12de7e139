-- Measured anew, with the strong changes of the sound.
ALTER TABLE music ADD COLUMN first_change REAL;
ALTER TABLE music ADD COLUMN last_change REAL;
DELETE FROM music;
CREATE INDEX music_by_tempo ON music (tempo);
CREATE INDEX track_line_by_tempo ON track_line (tempo) WHERE tempo IS NOT NULL;

-- 0 to 5; 0 for none, whatever the tags say.
ALTER TABLE track_own ADD COLUMN rating INTEGER;
ALTER TABLE track_own ADD COLUMN comment TEXT;

-- Places in a track that a person has marked.
CREATE TABLE track_mark (
    id       INTEGER PRIMARY KEY,
    track_id INTEGER NOT NULL REFERENCES track (id) ON DELETE CASCADE,
    -- From the start of the file.
    seconds  REAL    NOT NULL,
    title    TEXT    NOT NULL
);
CREATE INDEX track_mark_of_track ON track_mark (track_id, seconds);

-- Names of folders with slashes between them; empty for a set that is in none.
ALTER TABLE music_set ADD COLUMN folder TEXT NOT NULL DEFAULT '';
-- The day that it is for, as ISO 8601 writes it.
ALTER TABLE music_set ADD COLUMN held_on TEXT;
-- A rule as JSON instead of places.
ALTER TABLE music_set ADD COLUMN rule TEXT;

-- A place outlives its track: it is filled again when the file comes back.
CREATE TABLE place (
    id        INTEGER PRIMARY KEY AUTOINCREMENT,
    set_id    INTEGER NOT NULL REFERENCES music_set (id) ON DELETE CASCADE,
    position  INTEGER NOT NULL,
    track_id  INTEGER REFERENCES track (id) ON DELETE SET NULL,
    -- Of the copy that went last.
    path      TEXT,
    title     TEXT,
    artist    TEXT,
    length_ms INTEGER
);
INSERT INTO place (id, set_id, position, track_id) SELECT id, set_id, position, track_id FROM set_item;
DROP TABLE set_item;
ALTER TABLE place RENAME TO set_item;
CREATE INDEX set_item_of_set ON set_item (set_id, position);
CREATE INDEX set_item_of_track ON set_item (track_id);
CREATE INDEX set_item_lost ON set_item (path) WHERE track_id IS NULL;

-- What a person said of a track that is no longer known, until its file comes back.
CREATE TABLE own_kept (
    path        TEXT PRIMARY KEY,
    tempo       REAL,
    first_beat  REAL,
    musical_key TEXT,
    energy      INTEGER,
    rating      INTEGER,
    comment     TEXT,
    -- A JSON list of pairs of seconds and title.
    marks       TEXT NOT NULL
);

CREATE TRIGGER copy_gone BEFORE DELETE ON copy BEGIN
    UPDATE set_item SET (path, title, artist, length_ms) = (
        SELECT OLD.path, t.title, t.artist, CASE WHEN OLD.sample_rate > 0 THEN OLD.frame_count * 1000 / OLD.sample_rate ELSE 0 END FROM track t WHERE t.id = OLD.track_id)
    WHERE track_id = OLD.track_id;
    INSERT OR REPLACE INTO own_kept (path, tempo, first_beat, musical_key, energy, rating, comment, marks)
    SELECT OLD.path, o.tempo, o.first_beat, o.musical_key, o.energy, o.rating, o.comment,
        (SELECT json_group_array(json_array(seconds, title)) FROM track_mark WHERE track_id = OLD.track_id)
    FROM (SELECT OLD.track_id AS id) t LEFT JOIN track_own o ON o.track_id = t.id
    WHERE o.track_id IS NOT NULL OR EXISTS (SELECT 1 FROM track_mark WHERE track_id = OLD.track_id);
END;

CREATE TRIGGER copy_back AFTER INSERT ON copy BEGIN
    UPDATE set_item SET track_id = NEW.track_id WHERE track_id IS NULL AND path = NEW.path;
    INSERT OR IGNORE INTO track_own (track_id, tempo, first_beat, musical_key, energy, rating, comment)
    SELECT NEW.track_id, tempo, first_beat, musical_key, energy, rating, comment FROM own_kept WHERE path = NEW.path;
    INSERT INTO track_mark (track_id, seconds, title)
    SELECT NEW.track_id, mark.value ->> 0, mark.value ->> 1 FROM own_kept, json_each(own_kept.marks) mark
    WHERE own_kept.path = NEW.path AND NOT EXISTS (SELECT 1 FROM track_mark WHERE track_id = NEW.track_id);
    DELETE FROM own_kept WHERE path = NEW.path;
END;
