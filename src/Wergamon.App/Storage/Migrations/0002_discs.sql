-- Choices of the person that belong to no one thing, as JSON.
CREATE TABLE setting (
    key   TEXT PRIMARY KEY,
    value TEXT NOT NULL
);

-- Discs that were seen. Several albums may have the same table of contents, so the ID alone does not tell discs apart.
CREATE TABLE disc (
    id          INTEGER PRIMARY KEY,
    sha1_id     TEXT    NOT NULL,
    checksum_id TEXT    NOT NULL,
    contents    TEXT    NOT NULL,
    album       TEXT    NOT NULL,
    -- Where the names came from: catalogue, disc text, typed, none.
    named_by    TEXT    NOT NULL,
    seen_at     INTEGER NOT NULL
);
CREATE INDEX disc_by_sha1 ON disc (sha1_id, seen_at);

CREATE TABLE disc_picture (
    disc_id INTEGER NOT NULL REFERENCES disc (id) ON DELETE CASCADE,
    kind    INTEGER NOT NULL,
    hash    TEXT    NOT NULL REFERENCES artwork (hash),
    PRIMARY KEY (disc_id, kind)
) WITHOUT ROWID;

ALTER TABLE run ADD COLUMN kind TEXT NOT NULL DEFAULT 'convert';
ALTER TABLE run ADD COLUMN disc_id INTEGER REFERENCES disc (id);
ALTER TABLE run ADD COLUMN drive TEXT;
ALTER TABLE run ADD COLUMN rip_settings TEXT;
-- Why a run stopped by itself, for the person.
ALTER TABLE run ADD COLUMN stop_reason TEXT;

-- What a run reads from a disc. The sound lies in a file of its own until all copies of it are made.
CREATE TABLE rip_track (
    run_id       INTEGER NOT NULL REFERENCES run (id) ON DELETE CASCADE,
    number       INTEGER NOT NULL,
    first_sector INTEGER NOT NULL,
    end_sector   INTEGER NOT NULL,
    state        TEXT    NOT NULL,
    reading      TEXT,
    PRIMARY KEY (run_id, number)
) WITHOUT ROWID;

-- An item of a rip has no source copy, and no track before its first copy is made.
CREATE TABLE run_item_new (
    id             INTEGER PRIMARY KEY,
    run_id         INTEGER NOT NULL REFERENCES run (id) ON DELETE CASCADE,
    position       INTEGER NOT NULL,
    track_id       INTEGER REFERENCES track (id),
    source_copy_id INTEGER REFERENCES copy (id),
    -- The number of the track on the disc, 0 for what is hidden before track 1, -1 for the whole disc.
    disc_track     INTEGER,
    target         TEXT,
    title          TEXT    NOT NULL,
    relative_path  TEXT    NOT NULL,
    if_taken       TEXT    NOT NULL,
    steps          TEXT    NOT NULL,
    fidelity       INTEGER NOT NULL,
    generation     INTEGER NOT NULL,
    bytes_before   INTEGER NOT NULL,
    duration_ms    INTEGER NOT NULL,
    job            TEXT    NOT NULL,
    state          TEXT    NOT NULL,
    temporary_path TEXT,
    final_path     TEXT,
    proof          TEXT,
    failure        TEXT,
    new_copy_id    INTEGER REFERENCES copy (id) ON DELETE SET NULL
);
INSERT INTO run_item_new (id, run_id, position, track_id, source_copy_id, title, relative_path, if_taken, steps, fidelity, generation, bytes_before,
    duration_ms, job, state, temporary_path, final_path, proof, failure, new_copy_id)
SELECT id, run_id, position, track_id, source_copy_id, title, relative_path, if_taken, steps, fidelity, generation, bytes_before,
    duration_ms, job, state, temporary_path, final_path, proof, failure, new_copy_id FROM run_item;
DROP TABLE run_item;
ALTER TABLE run_item_new RENAME TO run_item;
CREATE INDEX run_item_by_run ON run_item (run_id, position);
CREATE INDEX run_item_by_state ON run_item (state, run_id, position);

-- A copy can come from a disc.
ALTER TABLE lineage ADD COLUMN disc_id INTEGER REFERENCES disc (id);
ALTER TABLE lineage ADD COLUMN disc_track INTEGER;
ALTER TABLE lineage ADD COLUMN reading TEXT;
CREATE INDEX lineage_by_disc ON lineage (disc_id, disc_track);
