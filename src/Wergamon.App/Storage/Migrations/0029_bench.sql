-- Bench: null tests. Comparisons that Duplicates has made are kept as their sentences from now on, and made again when they are next shown.
DROP TABLE comparison;
CREATE TABLE comparison (
    first_copy_id  INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    second_copy_id INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    verdict        TEXT,
    failure        TEXT,
    PRIMARY KEY (first_copy_id, second_copy_id)
) WITHOUT ROWID;
CREATE INDEX comparison_second ON comparison (second_copy_id);

CREATE TABLE null_test (
    id            INTEGER PRIMARY KEY AUTOINCREMENT,
    -- What is compared: JSON documents.
    first         TEXT    NOT NULL,
    second        TEXT    NOT NULL,
    matches_level INTEGER NOT NULL,
    run_id        INTEGER REFERENCES run (id) ON DELETE SET NULL,
    -- A JSON document; null before the end.
    result        TEXT,
    failure       TEXT,
    created_at    INTEGER NOT NULL
);
