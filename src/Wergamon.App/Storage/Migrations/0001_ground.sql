-- Times are Unix milliseconds, sizes bytes, lengths samples of one channel.

CREATE TABLE folder (
    id         INTEGER PRIMARY KEY,
    path       TEXT    NOT NULL UNIQUE,
    added_at   INTEGER NOT NULL,
    scanned_at INTEGER
);

CREATE TABLE album (
    id       INTEGER PRIMARY KEY,
    -- What tracks of one album share: album artist and title, or the folder where the tags say nothing.
    identity TEXT    NOT NULL UNIQUE,
    artist   TEXT    NOT NULL,
    title    TEXT    NOT NULL,
    year     TEXT,
    genre    TEXT,
    added_at INTEGER NOT NULL
);
CREATE INDEX album_by_artist ON album (artist COLLATE NOCASE, year, title COLLATE NOCASE);

CREATE TABLE track (
    id       INTEGER PRIMARY KEY,
    album_id INTEGER NOT NULL REFERENCES album (id),
    disc     INTEGER,
    number   INTEGER,
    title    TEXT    NOT NULL,
    artist   TEXT    NOT NULL,
    added_at INTEGER NOT NULL
);
CREATE INDEX track_by_album ON track (album_id, disc, number, title);

CREATE TABLE copy (
    id                 INTEGER PRIMARY KEY,
    track_id           INTEGER NOT NULL REFERENCES track (id),
    folder_id          INTEGER REFERENCES folder (id) ON DELETE SET NULL,
    path               TEXT    NOT NULL UNIQUE,
    kind               TEXT    NOT NULL,
    codec_name         TEXT    NOT NULL,
    sample_rate        INTEGER NOT NULL,
    channels           INTEGER NOT NULL,
    channel_roles      INTEGER NOT NULL,
    bits               INTEGER NOT NULL,
    is_float           INTEGER NOT NULL,
    frame_count        INTEGER NOT NULL,
    is_lossless        INTEGER NOT NULL,
    kilobits_per_second INTEGER NOT NULL,
    fidelity           INTEGER NOT NULL,
    generation         INTEGER NOT NULL,
    file_bytes         INTEGER NOT NULL,
    modified_at        INTEGER NOT NULL,
    damage             TEXT,
    is_missing         INTEGER NOT NULL DEFAULT 0,
    folder_cover_path  TEXT,
    tags_total         INTEGER NOT NULL,
    tags_held_by_id3   INTEGER NOT NULL,
    tags_held_by_flac  INTEGER NOT NULL,
    tags_from_name     INTEGER NOT NULL,
    id3_bytes          INTEGER NOT NULL,
    flac_tag_bytes     INTEGER NOT NULL,
    added_at           INTEGER NOT NULL
);
CREATE INDEX copy_by_track ON copy (track_id);
CREATE INDEX copy_by_folder ON copy (folder_id);

-- Files that look like music and cannot be read, with the reason.
CREATE TABLE unreadable_file (
    path        TEXT    PRIMARY KEY,
    folder_id   INTEGER NOT NULL REFERENCES folder (id) ON DELETE CASCADE,
    reason      TEXT    NOT NULL,
    file_bytes  INTEGER NOT NULL,
    modified_at INTEGER NOT NULL
);
CREATE INDEX unreadable_file_by_folder ON unreadable_file (folder_id);

CREATE TABLE tag (
    copy_id   INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    position  INTEGER NOT NULL,
    name      TEXT    NOT NULL,
    value     TEXT    NOT NULL,
    from_name INTEGER NOT NULL,
    PRIMARY KEY (copy_id, position)
) WITHOUT ROWID;

-- Each picture once, by its SHA-256.
CREATE TABLE artwork (
    hash      TEXT    PRIMARY KEY,
    mime_type TEXT    NOT NULL,
    width     INTEGER,
    height    INTEGER,
    data      BLOB    NOT NULL
);

CREATE TABLE copy_artwork (
    copy_id     INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    position    INTEGER NOT NULL,
    kind        INTEGER NOT NULL,
    description TEXT    NOT NULL,
    hash        TEXT    NOT NULL REFERENCES artwork (hash),
    PRIMARY KEY (copy_id, position)
) WITHOUT ROWID;
CREATE INDEX copy_artwork_by_hash ON copy_artwork (hash);

-- Where a copy came from: the step that made it. A copy without a row came in as it is.
CREATE TABLE lineage (
    copy_id      INTEGER PRIMARY KEY REFERENCES copy (id) ON DELETE CASCADE,
    from_copy_id INTEGER REFERENCES copy (id) ON DELETE SET NULL,
    target_name  TEXT    NOT NULL,
    steps        TEXT    NOT NULL,
    made_at      INTEGER NOT NULL
);
CREATE INDEX lineage_by_source ON lineage (from_copy_id);

-- Targets with the person's own choices.
CREATE TABLE target (
    key      TEXT PRIMARY KEY,
    settings TEXT NOT NULL
);

CREATE TABLE plan (
    id            INTEGER PRIMARY KEY,
    title         TEXT    NOT NULL,
    target_key    TEXT    NOT NULL,
    output_folder TEXT,
    created_at    INTEGER NOT NULL
);

CREATE TABLE plan_item (
    plan_id     INTEGER NOT NULL REFERENCES plan (id) ON DELETE CASCADE,
    position    INTEGER NOT NULL,
    track_id    INTEGER NOT NULL REFERENCES track (id),
    is_left_out INTEGER NOT NULL DEFAULT 0,
    PRIMARY KEY (plan_id, position)
) WITHOUT ROWID;

CREATE TABLE run (
    id            INTEGER PRIMARY KEY,
    plan_id       INTEGER REFERENCES plan (id) ON DELETE SET NULL,
    title         TEXT    NOT NULL,
    target_name   TEXT    NOT NULL,
    output_folder TEXT    NOT NULL,
    state         TEXT    NOT NULL,
    started_at    INTEGER NOT NULL,
    ended_at      INTEGER,
    -- Time spent working, stops and restarts left out.
    active_ms     INTEGER NOT NULL DEFAULT 0
);
CREATE INDEX run_by_state ON run (state);

CREATE TABLE run_item (
    id             INTEGER PRIMARY KEY,
    run_id         INTEGER NOT NULL REFERENCES run (id) ON DELETE CASCADE,
    position       INTEGER NOT NULL,
    track_id       INTEGER NOT NULL REFERENCES track (id),
    source_copy_id INTEGER NOT NULL REFERENCES copy (id),
    title          TEXT    NOT NULL,
    relative_path  TEXT    NOT NULL,
    if_taken       TEXT    NOT NULL,
    steps          TEXT    NOT NULL,
    fidelity       INTEGER NOT NULL,
    generation     INTEGER NOT NULL,
    bytes_before   INTEGER NOT NULL,
    duration_ms    INTEGER NOT NULL,
    -- The job as the worker gets it, without its temporary name.
    job            TEXT    NOT NULL,
    state          TEXT    NOT NULL,
    temporary_path TEXT,
    final_path     TEXT,
    proof          TEXT,
    failure        TEXT,
    new_copy_id    INTEGER REFERENCES copy (id) ON DELETE SET NULL
);
CREATE INDEX run_item_by_run ON run_item (run_id, position);
CREATE INDEX run_item_by_state ON run_item (state, run_id, position);
