-- Folders in which whatever is put is converted.
CREATE TABLE drop_folder (
    id              INTEGER PRIMARY KEY,
    path            TEXT NOT NULL UNIQUE,
    target_key      TEXT NOT NULL,
    output_folder   TEXT NOT NULL,
    takes_originals INTEGER NOT NULL DEFAULT 0,
    is_paused       INTEGER NOT NULL DEFAULT 0
);

-- Their files, from when they are taken into a run on.
CREATE TABLE drop_file (
    folder_id   INTEGER NOT NULL REFERENCES drop_folder (id) ON DELETE CASCADE,
    path        TEXT NOT NULL,
    file_bytes  INTEGER NOT NULL,
    modified_at INTEGER NOT NULL,
    run_id      INTEGER REFERENCES run (id) ON DELETE SET NULL,
    state       TEXT NOT NULL DEFAULT 'running' CHECK (state IN ('running', 'done', 'failed')),
    PRIMARY KEY (folder_id, path)
) WITHOUT ROWID;
