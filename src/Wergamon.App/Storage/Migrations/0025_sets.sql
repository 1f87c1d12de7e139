-- What the music of a file was found to be.
CREATE TABLE music (
    copy_id          INTEGER PRIMARY KEY REFERENCES copy (id) ON DELETE CASCADE,
    -- Beats a minute; null where no beat was found.
    tempo            REAL,
    -- Seconds to the first beat.
    first_beat       REAL,
    tempo_confidence REAL,
    slowest          REAL,
    fastest          REAL,
    -- Other tempos that fit, as a JSON list.
    alternatives     TEXT NOT NULL,
    musical_key      TEXT,
    second_key       TEXT,
    key_confidence   REAL,
    -- Frequency of A in Hz.
    tuning           REAL,
    onsets           REAL NOT NULL,
    brightness       REAL NOT NULL,
    first_sound      REAL NOT NULL,
    last_sound       REAL NOT NULL,
    failure          TEXT
);

-- What a person says about a track goes before what was measured.
CREATE TABLE track_own (
    track_id    INTEGER PRIMARY KEY REFERENCES track (id) ON DELETE CASCADE,
    tempo       REAL,
    first_beat  REAL,
    musical_key TEXT,
    energy      INTEGER
);

-- Lists of tracks that a person has put in order.
CREATE TABLE music_set (
    id           INTEGER PRIMARY KEY,
    title        TEXT    NOT NULL UNIQUE COLLATE NOCASE,
    notes        TEXT    NOT NULL DEFAULT '',
    gap_ms       INTEGER NOT NULL DEFAULT 0,
    crossfade_ms INTEGER NOT NULL DEFAULT 0,
    created_at   INTEGER NOT NULL
);

CREATE TABLE set_item (
    id       INTEGER PRIMARY KEY AUTOINCREMENT,
    set_id   INTEGER NOT NULL REFERENCES music_set (id) ON DELETE CASCADE,
    position INTEGER NOT NULL,
    track_id INTEGER NOT NULL REFERENCES track (id) ON DELETE CASCADE
);
CREATE INDEX set_item_of_set ON set_item (set_id, position);
CREATE INDEX set_item_of_track ON set_item (track_id);

-- How a set was before each change, for undo.
CREATE TABLE set_change (
    id     INTEGER PRIMARY KEY AUTOINCREMENT,
    set_id INTEGER NOT NULL REFERENCES music_set (id) ON DELETE CASCADE,
    -- In words: "2 tracks moved".
    title  TEXT    NOT NULL,
    -- The items in order, as a JSON list of pairs of item and track.
    before TEXT    NOT NULL
);
CREATE INDEX set_change_of_set ON set_change (set_id);

-- Another file under the name of a copy has other music.
DROP TRIGGER audio_changed;
CREATE TRIGGER audio_changed AFTER UPDATE ON copy
    WHEN (OLD.file_bytes <> NEW.file_bytes OR OLD.modified_at <> NEW.modified_at
        OR (OLD.file_number <> NEW.file_number AND OLD.file_number <> 0 AND NEW.file_number <> 0 AND OLD.path = NEW.path))
        AND NOT EXISTS (SELECT 1 FROM sound_kept WHERE copy_id = NEW.id) BEGIN
    DELETE FROM analysis WHERE copy_id = NEW.id;
    DELETE FROM music WHERE copy_id = NEW.id;
    DELETE FROM comparison WHERE first_copy_id = NEW.id OR second_copy_id = NEW.id;
    UPDATE copy SET real_bits = NULL, real_rate = NULL WHERE id = NEW.id AND real_bits IS NOT NULL;
END;
