-- Plans hold tracks with exceptions, and files that are not in the library.
CREATE TABLE plan_item_new (
    plan_id     INTEGER NOT NULL REFERENCES plan (id) ON DELETE CASCADE,
    position    INTEGER NOT NULL,
    track_id    INTEGER REFERENCES track (id),
    -- A file that is not in the library, as it was read; null for a track.
    file        TEXT,
    is_left_out INTEGER NOT NULL DEFAULT 0,
    stream      INTEGER,
    -- In what it differs from the target of the plan.
    exception   TEXT,
    PRIMARY KEY (plan_id, position)
) WITHOUT ROWID;
INSERT INTO plan_item_new (plan_id, position, track_id, is_left_out, stream) SELECT plan_id, position, track_id, is_left_out, stream FROM plan_item;
DROP TABLE plan_item;
ALTER TABLE plan_item_new RENAME TO plan_item;
CREATE INDEX plan_item_by_track ON plan_item (track_id);

-- How long this machine takes for one kind of work, for estimates.
CREATE TABLE pace (
    work       TEXT PRIMARY KEY,
    playing_ms REAL NOT NULL,
    worked_ms  REAL NOT NULL
);
