-- Bench: whether files are what they say.
CREATE TABLE inspection (
    copy_id INTEGER PRIMARY KEY REFERENCES copy (id) ON DELETE CASCADE,
    -- A JSON document; null where the file could not be read.
    result  TEXT,
    failure TEXT
);

CREATE TABLE finding (
    copy_id INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    kind    TEXT    NOT NULL,
    -- False for what may have another reason as well.
    is_sure INTEGER NOT NULL,
    PRIMARY KEY (copy_id, kind)
) WITHOUT ROWID;
CREATE INDEX finding_by_kind ON finding (kind, is_sure);

-- Lists count tracks with findings.
CREATE TRIGGER stale_finding_new AFTER INSERT ON finding BEGIN
    INSERT OR IGNORE INTO track_stale SELECT track_id FROM copy WHERE id = NEW.copy_id;
END;
CREATE TRIGGER stale_finding_gone AFTER DELETE ON finding BEGIN
    INSERT OR IGNORE INTO track_stale SELECT track_id FROM copy WHERE id = OLD.copy_id;
END;

-- Another file under the name of a copy has another sound.
DROP TRIGGER audio_changed;
CREATE TRIGGER audio_changed AFTER UPDATE ON copy
    WHEN (OLD.file_bytes <> NEW.file_bytes OR OLD.modified_at <> NEW.modified_at
        OR (OLD.file_number <> NEW.file_number AND OLD.file_number <> 0 AND NEW.file_number <> 0 AND OLD.path = NEW.path))
        AND NOT EXISTS (SELECT 1 FROM sound_kept WHERE copy_id = NEW.id) BEGIN
    DELETE FROM analysis WHERE copy_id = NEW.id;
    DELETE FROM music WHERE copy_id = NEW.id;
    DELETE FROM inspection WHERE copy_id = NEW.id;
    DELETE FROM finding WHERE copy_id = NEW.id;
    DELETE FROM comparison WHERE first_copy_id = NEW.id OR second_copy_id = NEW.id;
    UPDATE copy SET real_bits = NULL, real_rate = NULL WHERE id = NEW.id AND real_bits IS NOT NULL;
END;
