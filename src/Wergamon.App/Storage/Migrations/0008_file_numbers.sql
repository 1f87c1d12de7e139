-- The number of a file in its file system; 0 as long as it is not known, or where there is none that lasts.
ALTER TABLE copy ADD COLUMN file_number INTEGER NOT NULL DEFAULT 0;
ALTER TABLE unreadable_file ADD COLUMN file_number INTEGER NOT NULL DEFAULT 0;

-- Another file under the same path has another sound, though size and time be the same.
CREATE TRIGGER sound_replaced AFTER UPDATE OF file_number ON copy
    WHEN OLD.file_number <> NEW.file_number AND OLD.file_number <> 0 AND NEW.file_number <> 0 AND OLD.path = NEW.path BEGIN
    DELETE FROM survey WHERE copy_id = NEW.id;
    DELETE FROM comparison WHERE first_copy_id = NEW.id OR second_copy_id = NEW.id;
    UPDATE copy SET real_bits = NULL, real_rate = NULL WHERE id = NEW.id AND real_bits IS NOT NULL;
END;
