-- Files that are being handed over. What has arrived lies in a hidden file of the music folder; its length is how far it is.
CREATE TABLE upload (
    id          INTEGER PRIMARY KEY,
    folder_id   INTEGER NOT NULL REFERENCES folder (id) ON DELETE CASCADE,
    path        TEXT    NOT NULL,
    file_bytes  INTEGER NOT NULL,
    modified_at INTEGER NOT NULL,
    started_at  INTEGER NOT NULL,
    -- The same file chosen again goes on where it stopped.
    UNIQUE (folder_id, path, file_bytes, modified_at)
);
