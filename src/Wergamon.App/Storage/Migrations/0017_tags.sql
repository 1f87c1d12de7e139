-- Files that are edited together, with the changes that are not written yet.
CREATE TABLE tag_sheet (
    id        INTEGER PRIMARY KEY,
    title     TEXT    NOT NULL,
    opened_at INTEGER NOT NULL
);

CREATE TABLE tag_sheet_file (
    sheet_id INTEGER NOT NULL REFERENCES tag_sheet (id) ON DELETE CASCADE,
    position INTEGER NOT NULL,
    copy_id  INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    PRIMARY KEY (sheet_id, copy_id)
) WITHOUT ROWID;
CREATE INDEX tag_sheet_file_by_copy ON tag_sheet_file (copy_id);

-- kind: field (its values as a JSON list), pictures (all of them as JSON), name (the new path).
CREATE TABLE tag_edit (
    sheet_id    INTEGER NOT NULL REFERENCES tag_sheet (id) ON DELETE CASCADE,
    copy_id     INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    kind        TEXT    NOT NULL,
    field       TEXT    NOT NULL COLLATE NOCASE,
    value       TEXT    NOT NULL,
    is_left_out INTEGER NOT NULL DEFAULT 0,
    PRIMARY KEY (sheet_id, copy_id, kind, field)
) WITHOUT ROWID;
CREATE INDEX tag_edit_by_copy ON tag_edit (copy_id);

-- Pictures that edits refer to, kept while they may be needed.
CREATE TABLE tag_sheet_picture (
    sheet_id INTEGER NOT NULL REFERENCES tag_sheet (id) ON DELETE CASCADE,
    hash     TEXT    NOT NULL REFERENCES artwork (hash),
    PRIMARY KEY (sheet_id, hash)
) WITHOUT ROWID;
CREATE INDEX tag_sheet_picture_by_hash ON tag_sheet_picture (hash);

-- What a write replaced. old_path is set where the file was renamed, too.
CREATE TABLE tag_undo (
    item_id      INTEGER PRIMARY KEY REFERENCES run_item (id) ON DELETE CASCADE,
    copy_id      INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    -- False until the new file is in place and recorded.
    is_done      INTEGER NOT NULL,
    is_in_place  INTEGER NOT NULL,
    old_length   INTEGER NOT NULL,
    old_path     TEXT,
    -- Length of the written file, and the hash of its bytes that are not those of the old one.
    new_length   INTEGER NOT NULL,
    new_hash     TEXT    NOT NULL,
    -- The item that has taken it back.
    undone_by    INTEGER REFERENCES run_item (id) ON DELETE SET NULL
);
CREATE INDEX tag_undo_by_copy ON tag_undo (copy_id);
CREATE INDEX tag_undo_by_undoing ON tag_undo (undone_by);

-- The old file in order: ranges of the written file (position only), and old bytes.
CREATE TABLE tag_undo_piece (
    item_id  INTEGER NOT NULL REFERENCES tag_undo (item_id) ON DELETE CASCADE,
    position INTEGER NOT NULL,
    "offset" INTEGER NOT NULL,
    length   INTEGER NOT NULL,
    bytes    BLOB,
    PRIMARY KEY (item_id, position)
);

-- The next item of a run is found without looking at those that have ended.
CREATE INDEX run_item_by_turn ON run_item (run_id, state, position);

-- Copies whose file is being recorded after a change that is proved to have left the sound alone.
CREATE TABLE sound_kept (copy_id INTEGER PRIMARY KEY REFERENCES copy (id) ON DELETE CASCADE);

DROP TRIGGER audio_changed;
CREATE TRIGGER audio_changed AFTER UPDATE ON copy
    WHEN (OLD.file_bytes <> NEW.file_bytes OR OLD.modified_at <> NEW.modified_at
        OR (OLD.file_number <> NEW.file_number AND OLD.file_number <> 0 AND NEW.file_number <> 0 AND OLD.path = NEW.path))
        AND NOT EXISTS (SELECT 1 FROM sound_kept WHERE copy_id = NEW.id) BEGIN
    DELETE FROM analysis WHERE copy_id = NEW.id;
    DELETE FROM comparison WHERE first_copy_id = NEW.id OR second_copy_id = NEW.id;
    UPDATE copy SET real_bits = NULL, real_rate = NULL WHERE id = NEW.id AND real_bits IS NOT NULL;
END;
