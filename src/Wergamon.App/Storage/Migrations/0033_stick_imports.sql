-- Files that somebody put on a stick and that were copied into the library: what they were then, and where they went.
CREATE TABLE stick_import (
    delivery_id INTEGER NOT NULL REFERENCES delivery (id) ON DELETE CASCADE,
    path        TEXT    NOT NULL,
    copy_path   TEXT    NOT NULL,
    bytes       INTEGER NOT NULL,
    modified_at INTEGER NOT NULL,
    PRIMARY KEY (delivery_id, path)
) WITHOUT ROWID;
