-- What going through the whole sound of a copy gave.
CREATE TABLE survey (
    copy_id   INTEGER PRIMARY KEY REFERENCES copy (id) ON DELETE CASCADE,
    -- The MD5 of all samples with their shape; null where nothing could be decoded.
    samples   TEXT,
    peak      REAL    NOT NULL,
    -- Lowest and highest sample of each column as signed bytes.
    waveform  BLOB    NOT NULL,
    failure   TEXT
);

-- Bits and sample rate that the sound really uses; null as long as nobody has gone through it.
ALTER TABLE copy ADD COLUMN real_bits INTEGER;
ALTER TABLE copy ADD COLUMN real_rate INTEGER;

-- A copy in the trash keeps its row with all that hangs on it; its path is where it lies there.
ALTER TABLE copy ADD COLUMN is_trashed INTEGER NOT NULL DEFAULT 0;
CREATE INDEX copy_in_trash ON copy (track_id) WHERE is_trashed;

-- By what files may be taken for copies of one track; see Likeness. Only equal keys are compared.
CREATE TABLE likeness (
    copy_id INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    name    TEXT    NOT NULL,
    key     TEXT    NOT NULL,
    PRIMARY KEY (copy_id, name)
) WITHOUT ROWID;
CREATE INDEX likeness_by_key ON likeness (name, key, copy_id);

-- A copy that came to a track of another, and by which likeness.
CREATE TABLE joining (
    copy_id      INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    with_copy_id INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    likeness     TEXT    NOT NULL,
    joined_at    INTEGER NOT NULL,
    PRIMARY KEY (copy_id, with_copy_id)
) WITHOUT ROWID;
CREATE INDEX joining_by_other ON joining (with_copy_id);

-- Copies that the person took apart; they are not joined again. The lower number comes first.
CREATE TABLE kept_apart (
    copy_id       INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    other_copy_id INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    PRIMARY KEY (copy_id, other_copy_id)
) WITHOUT ROWID;
CREATE INDEX kept_apart_by_other ON kept_apart (other_copy_id);

-- Copies that have not been held against the others yet.
CREATE TABLE to_join (copy_id INTEGER PRIMARY KEY REFERENCES copy (id) ON DELETE CASCADE);
INSERT INTO to_join SELECT id FROM copy;

CREATE TRIGGER to_join_new AFTER INSERT ON copy BEGIN INSERT INTO to_join SELECT NEW.id WHERE NEW.id NOT IN (SELECT copy_id FROM to_join); END;
CREATE TRIGGER to_join_changed AFTER UPDATE ON copy
    WHEN OLD.file_bytes <> NEW.file_bytes OR OLD.modified_at <> NEW.modified_at OR OLD.path <> NEW.path OR OLD.is_trashed <> NEW.is_trashed
    BEGIN INSERT INTO to_join SELECT NEW.id WHERE NEW.id NOT IN (SELECT copy_id FROM to_join); END;
CREATE TRIGGER to_join_surveyed AFTER INSERT ON survey BEGIN INSERT INTO to_join SELECT NEW.copy_id WHERE NEW.copy_id NOT IN (SELECT copy_id FROM to_join); END;

-- How the sound of one copy differs from that of another, in words.
CREATE TABLE comparison (
    first_copy_id  INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    second_copy_id INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    words          TEXT    NOT NULL,
    PRIMARY KEY (first_copy_id, second_copy_id)
) WITHOUT ROWID;
CREATE INDEX comparison_by_second ON comparison (second_copy_id);

-- Another file under the name of a copy has another sound.
CREATE TRIGGER sound_changed AFTER UPDATE ON copy WHEN OLD.file_bytes <> NEW.file_bytes OR OLD.modified_at <> NEW.modified_at BEGIN
    DELETE FROM survey WHERE copy_id = NEW.id;
    DELETE FROM comparison WHERE first_copy_id = NEW.id OR second_copy_id = NEW.id;
    UPDATE copy SET real_bits = NULL, real_rate = NULL WHERE id = NEW.id AND real_bits IS NOT NULL;
END;

-- What happened to a copy, in words.
CREATE TABLE copy_event (
    id          INTEGER PRIMARY KEY,
    copy_id     INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    happened_at INTEGER NOT NULL,
    words       TEXT    NOT NULL
);
CREATE INDEX copy_event_by_copy ON copy_event (copy_id, id);

-- Files that can be put back. One that was replaced by a newer one has no copy: the newer one is that copy now.
CREATE TABLE trash_item (
    id         INTEGER PRIMARY KEY,
    copy_id    INTEGER UNIQUE REFERENCES copy (id) ON DELETE CASCADE,
    path       TEXT    NOT NULL,
    place      TEXT    NOT NULL,
    file_bytes INTEGER NOT NULL,
    reason     TEXT    NOT NULL,
    taken_at   INTEGER NOT NULL
);
CREATE INDEX trash_item_by_time ON trash_item (taken_at);
