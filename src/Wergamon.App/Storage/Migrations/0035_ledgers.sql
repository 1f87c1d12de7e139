-- Small files that were written beside others, by the hashes that they have had: only such a file, unchanged, is ever written over or removed.
CREATE TABLE companion (
    path TEXT NOT NULL,
    hash TEXT NOT NULL,
    PRIMARY KEY (path, hash)
) WITHOUT ROWID;

-- Files on sticks that were written here and whose place another one takes: they go, however often that is cut off.
CREATE TABLE stick_stray (
    delivery_id INTEGER NOT NULL REFERENCES delivery (id) ON DELETE CASCADE,
    path        TEXT    NOT NULL,
    bytes       INTEGER NOT NULL,
    modified_at INTEGER NOT NULL,
    PRIMARY KEY (delivery_id, path)
) WITHOUT ROWID;

-- The key first: older shells of SQLite report damage in tables of this kind whose key comes later.
CREATE TABLE sheet_file (
    sheet_id INTEGER NOT NULL REFERENCES tag_sheet (id) ON DELETE CASCADE,
    copy_id  INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    position INTEGER NOT NULL,
    PRIMARY KEY (sheet_id, copy_id)
) WITHOUT ROWID;
INSERT INTO sheet_file (sheet_id, copy_id, position) SELECT sheet_id, copy_id, position FROM tag_sheet_file;
DROP TABLE tag_sheet_file;
ALTER TABLE sheet_file RENAME TO tag_sheet_file;
CREATE INDEX tag_sheet_file_by_copy ON tag_sheet_file (copy_id);
