-- How the audio of two copies differs, as data; the words are made when they are shown. All of it can be found out again.
DROP TABLE comparison;
CREATE TABLE comparison (
    first_copy_id  INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    second_copy_id INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    -- Null where they could not be compared.
    difference     TEXT,
    failure        TEXT,
    PRIMARY KEY (first_copy_id, second_copy_id)
) WITHOUT ROWID;
CREATE INDEX comparison_by_second ON comparison (second_copy_id);

-- How long a file has lain in the trash while the server was there to see it: a clock that jumps empties nothing.
ALTER TABLE trash_item ADD COLUMN age_ms INTEGER NOT NULL DEFAULT 0;
UPDATE trash_item SET age_ms = MAX(0, CAST(strftime('%s', 'now') AS INTEGER) * 1000 - taken_at);
