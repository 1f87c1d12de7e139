-- Files that are uploaded to be converted, and join no music folder.
CREATE TABLE upload_batch (
    id         INTEGER PRIMARY KEY,
    path       TEXT NOT NULL,
    created_at INTEGER NOT NULL,
    plan_id    INTEGER REFERENCES plan (id) ON DELETE SET NULL
);

CREATE TABLE upload_new (
    id          INTEGER PRIMARY KEY,
    folder_id   INTEGER REFERENCES folder (id) ON DELETE CASCADE,
    batch_id    INTEGER REFERENCES upload_batch (id) ON DELETE CASCADE,
    path        TEXT NOT NULL,
    file_bytes  INTEGER NOT NULL,
    modified_at INTEGER NOT NULL,
    started_at  INTEGER NOT NULL
);
INSERT INTO upload_new (id, folder_id, path, file_bytes, modified_at, started_at) SELECT id, folder_id, path, file_bytes, modified_at, started_at FROM upload;
DROP TABLE upload;
ALTER TABLE upload_new RENAME TO upload;
CREATE UNIQUE INDEX upload_by_file ON upload (COALESCE(folder_id, 0), COALESCE(batch_id, 0), path, file_bytes, modified_at);
