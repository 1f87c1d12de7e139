-- Plans that are kept: a part of the library, a target and a folder.
CREATE TABLE mirror (
    id            INTEGER PRIMARY KEY,
    title         TEXT NOT NULL,
    part          TEXT NOT NULL,
    target        TEXT NOT NULL,
    output_folder TEXT NOT NULL,
    created_at    INTEGER NOT NULL,
    run_id        INTEGER REFERENCES run (id) ON DELETE SET NULL
);

-- What single tracks of a mirror do otherwise.
CREATE TABLE mirror_choice (
    mirror_id   INTEGER NOT NULL REFERENCES mirror (id) ON DELETE CASCADE,
    track_id    INTEGER NOT NULL REFERENCES track (id) ON DELETE CASCADE,
    is_left_out INTEGER NOT NULL,
    stream      INTEGER,
    exception   TEXT,
    PRIMARY KEY (mirror_id, track_id)
) WITHOUT ROWID;

-- The files that a mirror has made. They outlive the tracks that they were made of, or nobody would know what is to go.
CREATE TABLE mirror_file (
    mirror_id          INTEGER NOT NULL REFERENCES mirror (id) ON DELETE CASCADE,
    track_id           INTEGER NOT NULL,
    path               TEXT NOT NULL,
    digest             TEXT,
    source_bytes       INTEGER NOT NULL,
    source_modified_at INTEGER NOT NULL,
    recipe             TEXT NOT NULL,
    tags               TEXT NOT NULL,
    PRIMARY KEY (mirror_id, track_id)
) WITHOUT ROWID;

-- What a plan was made from where that is more than certain tracks, and the mirror that it will change.
ALTER TABLE plan ADD COLUMN part TEXT;
ALTER TABLE plan ADD COLUMN mirror_id INTEGER REFERENCES mirror (id) ON DELETE SET NULL;
