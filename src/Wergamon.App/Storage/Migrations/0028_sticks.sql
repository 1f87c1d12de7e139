-- Sticks: what should be on them, and what was written to them. A stick is a delivery of its own kind.
CREATE TABLE device (
    key         TEXT PRIMARY KEY,
    -- A JSON document.
    description TEXT NOT NULL
);

CREATE TABLE stick_list (
    id          INTEGER PRIMARY KEY AUTOINCREMENT,
    delivery_id INTEGER NOT NULL REFERENCES delivery (id) ON DELETE CASCADE,
    position    INTEGER NOT NULL,
    title       TEXT    NOT NULL,
    -- Of another station; null for a part of the library.
    list_id     INTEGER,
    -- A JSON document; null for a list.
    part        TEXT
);
CREATE INDEX stick_list_of_delivery ON stick_list (delivery_id, position);

CREATE TABLE stick_file (
    delivery_id INTEGER NOT NULL REFERENCES delivery (id) ON DELETE CASCADE,
    key         TEXT    NOT NULL,
    path        TEXT    NOT NULL,
    sound       TEXT    NOT NULL,
    tags        TEXT    NOT NULL,
    bytes       INTEGER NOT NULL,
    modified_at INTEGER NOT NULL,
    -- Rises from one file that is written to the next.
    turn        INTEGER NOT NULL,
    -- What the library said of the track, and what the file held, when it was written: JSON documents.
    sent        TEXT    NOT NULL,
    held        TEXT    NOT NULL,
    PRIMARY KEY (delivery_id, key)
) WITHOUT ROWID;

-- What is about to become true of a file. It is, once the file at this path has this length and time.
CREATE TABLE stick_intent (
    delivery_id INTEGER NOT NULL REFERENCES delivery (id) ON DELETE CASCADE,
    key         TEXT    NOT NULL,
    path        TEXT    NOT NULL,
    sound       TEXT    NOT NULL,
    tags        TEXT    NOT NULL,
    bytes       INTEGER NOT NULL,
    modified_at INTEGER NOT NULL,
    sent        TEXT    NOT NULL,
    held        TEXT    NOT NULL,
    PRIMARY KEY (delivery_id, key)
) WITHOUT ROWID;

-- Tracks that somebody deleted on the device, to stay off it.
CREATE TABLE stick_skip (
    delivery_id INTEGER NOT NULL REFERENCES delivery (id) ON DELETE CASCADE,
    track_id    INTEGER NOT NULL REFERENCES track (id) ON DELETE CASCADE,
    PRIMARY KEY (delivery_id, track_id)
) WITHOUT ROWID;
