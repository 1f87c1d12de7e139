-- What goes out: discs and files made of tracks in an order.
CREATE TABLE delivery (
    id         INTEGER PRIMARY KEY,
    kind       TEXT    NOT NULL,
    title      TEXT    NOT NULL,
    -- A JSON document of its kind.
    settings   TEXT    NOT NULL,
    created_at INTEGER NOT NULL
);

CREATE TABLE delivery_item (
    id          INTEGER PRIMARY KEY AUTOINCREMENT,
    delivery_id INTEGER NOT NULL REFERENCES delivery (id) ON DELETE CASCADE,
    position    INTEGER NOT NULL,
    -- Null when the track has left the library.
    track_id    INTEGER REFERENCES track (id) ON DELETE SET NULL,
    -- As they were when the track was put here.
    title       TEXT    NOT NULL,
    artist      TEXT    NOT NULL,
    -- A JSON document of its kind; null where nothing is special.
    settings    TEXT
);
CREATE INDEX delivery_item_of_delivery ON delivery_item (delivery_id, position);
CREATE INDEX delivery_item_of_track ON delivery_item (track_id);

-- The runs that carried it out.
CREATE TABLE delivery_run (
    run_id      INTEGER PRIMARY KEY REFERENCES run (id) ON DELETE CASCADE,
    delivery_id INTEGER NOT NULL REFERENCES delivery (id) ON DELETE CASCADE
);
CREATE INDEX delivery_run_of_delivery ON delivery_run (delivery_id, run_id);
