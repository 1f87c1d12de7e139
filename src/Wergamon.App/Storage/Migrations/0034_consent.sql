-- What was agreed to be lost when originals go: kept with the plan, and asked again when it changes.
ALTER TABLE plan ADD COLUMN agreed_loss TEXT;
-- What the target did to the sound when the person agreed; null where nothing was agreed to.
ALTER TABLE drop_folder ADD COLUMN agreed_loss TEXT;
-- Whether an original may go: its copy keeps all of it, or its loss was agreed to before the run began.
ALTER TABLE drop_file ADD COLUMN may_go INTEGER NOT NULL DEFAULT 0;

-- Files of drop folders that may still be growing: since when they have had this size and time, restarts included.
CREATE TABLE drop_seen (
    folder_id   INTEGER NOT NULL REFERENCES drop_folder (id) ON DELETE CASCADE,
    path        TEXT    NOT NULL,
    file_bytes  INTEGER NOT NULL,
    modified_at INTEGER NOT NULL,
    since       INTEGER NOT NULL,
    PRIMARY KEY (folder_id, path)
) WITHOUT ROWID;
