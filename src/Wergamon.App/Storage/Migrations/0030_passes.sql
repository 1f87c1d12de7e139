-- Bench: a sound encoded again and again.
CREATE TABLE passes (
    id         INTEGER PRIMARY KEY AUTOINCREMENT,
    -- The sound that it begins with: a JSON document.
    source     TEXT    NOT NULL,
    count      INTEGER NOT NULL,
    run_id     INTEGER REFERENCES run (id) ON DELETE SET NULL,
    created_at INTEGER NOT NULL
);

-- One target, as it was then: a JSON document.
CREATE TABLE pass_series (
    id        INTEGER PRIMARY KEY AUTOINCREMENT,
    passes_id INTEGER NOT NULL REFERENCES passes (id) ON DELETE CASCADE,
    position  INTEGER NOT NULL,
    target    TEXT    NOT NULL
);
CREATE INDEX pass_series_of_passes ON pass_series (passes_id, position);

CREATE TABLE pass (
    series_id INTEGER NOT NULL REFERENCES pass_series (id) ON DELETE CASCADE,
    number    INTEGER NOT NULL,
    -- The file in the cache and what comparing it has found: JSON documents.
    sound     TEXT    NOT NULL,
    original  TEXT    NOT NULL,
    previous  TEXT    NOT NULL,
    PRIMARY KEY (series_id, number)
) WITHOUT ROWID;
