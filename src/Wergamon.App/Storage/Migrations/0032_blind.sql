-- Bench: blind tests of two sounds that were compared. Which sound X was follows from the seed.
CREATE TABLE blind_test (
    id           INTEGER PRIMARY KEY AUTOINCREMENT,
    null_test_id INTEGER NOT NULL REFERENCES null_test (id) ON DELETE CASCADE,
    seed         BLOB    NOT NULL,
    trials       INTEGER NOT NULL,
    created_at   INTEGER NOT NULL
);
CREATE INDEX blind_test_of_null_test ON blind_test (null_test_id);

CREATE TABLE blind_answer (
    blind_test_id INTEGER NOT NULL REFERENCES blind_test (id) ON DELETE CASCADE,
    trial         INTEGER NOT NULL,
    says_first    INTEGER NOT NULL,
    PRIMARY KEY (blind_test_id, trial)
) WITHOUT ROWID;
