-- Tables and columns get the names that the trade uses; what is in them stays.
DROP TRIGGER to_join_new;
DROP TRIGGER to_join_changed;
DROP TRIGGER to_join_surveyed;
DROP TRIGGER sound_changed;
DROP TRIGGER sound_replaced;

ALTER TABLE survey RENAME TO analysis;
ALTER TABLE likeness RENAME TO match_key;
ALTER TABLE joining RENAME TO track_match;
ALTER TABLE track_match RENAME COLUMN likeness TO rule;
ALTER TABLE track_match RENAME COLUMN joined_at TO matched_at;
ALTER TABLE kept_apart RENAME TO kept_separate;
ALTER TABLE to_join RENAME TO to_match;
ALTER TABLE run_item RENAME COLUMN if_taken TO if_exists;

DROP INDEX likeness_by_key;
CREATE INDEX match_key_by_key ON match_key (name, key, copy_id);
DROP INDEX joining_by_other;
CREATE INDEX track_match_by_other ON track_match (with_copy_id);
DROP INDEX kept_apart_by_other;
CREATE INDEX kept_separate_by_other ON kept_separate (other_copy_id);

CREATE TRIGGER to_match_new AFTER INSERT ON copy BEGIN INSERT INTO to_match SELECT NEW.id WHERE NEW.id NOT IN (SELECT copy_id FROM to_match); END;
CREATE TRIGGER to_match_changed AFTER UPDATE ON copy
    WHEN OLD.file_bytes <> NEW.file_bytes OR OLD.modified_at <> NEW.modified_at OR OLD.path <> NEW.path OR OLD.is_trashed <> NEW.is_trashed
    BEGIN INSERT INTO to_match SELECT NEW.id WHERE NEW.id NOT IN (SELECT copy_id FROM to_match); END;
CREATE TRIGGER to_match_analysed AFTER INSERT ON analysis BEGIN INSERT INTO to_match SELECT NEW.copy_id WHERE NEW.copy_id NOT IN (SELECT copy_id FROM to_match); END;

-- Another file under the name of a copy has other audio, though size and time be the same.
CREATE TRIGGER audio_changed AFTER UPDATE ON copy
    WHEN OLD.file_bytes <> NEW.file_bytes OR OLD.modified_at <> NEW.modified_at
        OR (OLD.file_number <> NEW.file_number AND OLD.file_number <> 0 AND NEW.file_number <> 0 AND OLD.path = NEW.path) BEGIN
    DELETE FROM analysis WHERE copy_id = NEW.id;
    DELETE FROM comparison WHERE first_copy_id = NEW.id OR second_copy_id = NEW.id;
    UPDATE copy SET real_bits = NULL, real_rate = NULL WHERE id = NEW.id AND real_bits IS NOT NULL;
END;

-- Documents kept as JSON follow.
UPDATE run_item SET
    job = replace(replace(replace(replace(job, '"FoldDown"', '"Downmix"'), '"sourcesBehind"', '"appendedSources"'), '"sourcesBeside"', '"parallelSources"'), '"fold":', '"downmix":'),
    target = replace(replace(target, '"foldsToStereo"', '"downmixesToStereo"'), '"ifTaken"', '"ifExists"'),
    proof = replace(proof, '"foldGainDecibels"', '"downmixGainDecibels"'),
    steps = replace(steps, 'fold to stereo', 'downmix to stereo');
UPDATE target SET settings = replace(replace(settings, '"foldsToStereo"', '"downmixesToStereo"'), '"ifTaken"', '"ifExists"');
UPDATE lineage SET steps = replace(steps, 'fold to stereo', 'downmix to stereo');
