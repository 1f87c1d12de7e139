-- One envelope for every kind of long work: a run, its items, and which item waits for which. What an item needs and what
-- came of it are documents of its kind; a station keeps what it alone knows of a run in a table of its own.

CREATE TABLE run_new (
    id            INTEGER PRIMARY KEY,
    kind          TEXT    NOT NULL,
    title         TEXT    NOT NULL,
    -- What it is for, in words: "Pocket player".
    purpose       TEXT    NOT NULL,
    -- Where its results go; null where they have no folder.
    output_folder TEXT,
    state         TEXT    NOT NULL,
    -- Why it stopped by itself, for the person.
    stop_reason   TEXT,
    started_at    INTEGER NOT NULL,
    ended_at      INTEGER,
    -- Time spent working, stops and restarts left out.
    active_ms     INTEGER NOT NULL DEFAULT 0
);
INSERT INTO run_new (id, kind, title, purpose, output_folder, state, stop_reason, started_at, ended_at, active_ms)
SELECT id, kind, title, target_name, output_folder, state, stop_reason, started_at, ended_at, active_ms FROM run;

CREATE TABLE run_item_new (
    id         INTEGER PRIMARY KEY,
    run_id     INTEGER NOT NULL REFERENCES run (id) ON DELETE CASCADE,
    position   INTEGER NOT NULL,
    kind       TEXT    NOT NULL,
    -- What it needs for itself: a worker, a drive.
    lane       TEXT    NOT NULL,
    state      TEXT    NOT NULL,
    title      TEXT    NOT NULL,
    -- Whether it is one of the things that the run is for, and not a step on the way.
    is_result  INTEGER NOT NULL,
    -- Its share of the run's work, in milliseconds of playing time.
    weight     INTEGER NOT NULL,
    spec       TEXT    NOT NULL,
    -- How far it had come, for a restart.
    checkpoint TEXT,
    result     TEXT,
    failure    TEXT
);
INSERT INTO run_item_new (id, run_id, position, kind, lane, state, title, is_result, weight, spec, checkpoint, result, failure)
SELECT i.id, i.run_id, i.position, CASE r.kind WHEN 'rip' THEN 'rip-copy' ELSE 'convert' END, 'worker',
    CASE i.state WHEN 'reading' THEN 'waiting' WHEN 'proved' THEN 'working' ELSE i.state END,
    i.title, 1, CASE r.kind WHEN 'rip' THEN i.duration_ms / 20 ELSE i.duration_ms END,
    json_object('version', 1, 'trackId', i.track_id, 'sourceCopyId', i.source_copy_id, 'discId', r.disc_id, 'discTrack', i.disc_track,
        'target', CASE WHEN i.target IS NULL THEN json_object('key', '', 'name', r.target_name, 'kind', 'Other') ELSE json(i.target) END,
        'outputFolder', r.output_folder, 'relativePath', i.relative_path, 'ifExists', i.if_exists, 'steps', i.steps, 'fidelity', i.fidelity,
        'generation', i.generation, 'bytesBefore', i.bytes_before,
        'job', CASE WHEN i.job = '' THEN NULL ELSE json(i.job) END),
    CASE WHEN i.state = 'proved' THEN json_object('version', 1, 'temporaryPath', i.temporary_path, 'finalPath', i.final_path, 'proof', json(i.proof)) END,
    CASE WHEN i.state = 'done' AND i.proof IS NOT NULL THEN json_object('version', 1, 'path', i.final_path, 'copyId', i.new_copy_id, 'proof', json(i.proof)) END,
    i.failure
FROM run_item i JOIN run r ON r.id = i.run_id;

-- What an item waits for, and whether it needs that to have succeeded.
CREATE TABLE run_item_wait (
    item_id       INTEGER NOT NULL REFERENCES run_item (id) ON DELETE CASCADE,
    on_item_id    INTEGER NOT NULL REFERENCES run_item (id) ON DELETE CASCADE,
    needs_success INTEGER NOT NULL,
    PRIMARY KEY (item_id, on_item_id)
) WITHOUT ROWID;
CREATE INDEX run_item_wait_by_other ON run_item_wait (on_item_id);

-- Copies that an item reads or changes; nobody takes them away before it has ended.
CREATE TABLE run_item_copy (
    item_id INTEGER NOT NULL REFERENCES run_item (id) ON DELETE CASCADE,
    copy_id INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    PRIMARY KEY (item_id, copy_id)
) WITHOUT ROWID;
CREATE INDEX run_item_copy_by_copy ON run_item_copy (copy_id);
INSERT INTO run_item_copy SELECT id, source_copy_id FROM run_item WHERE source_copy_id IS NOT NULL;

-- Files that are being made or moved, written down before each step, so that a restart finishes or undoes it.
CREATE TABLE file_change (
    id             INTEGER PRIMARY KEY,
    -- 'new': made under a temporary name. 'move': from one place to another.
    kind           TEXT    NOT NULL,
    source_path    TEXT,
    temporary_path TEXT,
    final_path     TEXT,
    item_id        INTEGER
);
INSERT INTO file_change (kind, temporary_path, final_path, item_id)
SELECT 'new', temporary_path, final_path, id FROM run_item WHERE temporary_path IS NOT NULL;

-- What Intake knows of a rip.
CREATE TABLE rip (
    run_id   INTEGER PRIMARY KEY REFERENCES run (id) ON DELETE CASCADE,
    disc_id  INTEGER NOT NULL REFERENCES disc (id),
    -- The letter of the drive.
    drive    TEXT    NOT NULL,
    settings TEXT    NOT NULL
);
CREATE INDEX rip_by_disc ON rip (disc_id, run_id);
INSERT INTO rip SELECT id, disc_id, COALESCE(drive, 'A'), COALESCE(rip_settings, '{}') FROM run WHERE kind = 'rip' AND disc_id IS NOT NULL;

INSERT INTO run_item_new (run_id, position, kind, lane, state, title, is_result, weight, spec, result)
SELECT t.run_id, t.number, 'rip-track', 'drive ' || p.drive, CASE t.state WHEN 'read' THEN 'done' ELSE 'waiting' END, 'Track ' || t.number, 0,
    (t.end_sector - t.first_sector) * 1000 / 75 * 19 / 20,
    json_object('version', 1, 'number', t.number, 'firstSector', t.first_sector, 'endSector', t.end_sector,
        'surround', CASE WHEN t.surround IS NULL THEN NULL ELSE json(t.surround) END),
    CASE t.state WHEN 'read' THEN json_object('version', 1, 'reading', CASE WHEN t.reading IS NULL THEN NULL ELSE json(t.reading) END) END
FROM rip_track t JOIN rip p ON p.run_id = t.run_id;

INSERT INTO run_item_wait
SELECT c.id, t.id, 1 FROM run_item_new c JOIN run_item_new t ON t.run_id = c.run_id AND t.kind = 'rip-track'
WHERE c.kind = 'rip-copy' AND (json_extract(c.spec, '$.discTrack') = -1 OR json_extract(c.spec, '$.discTrack') = json_extract(t.spec, '$.number'));

INSERT INTO run_item_new (run_id, position, kind, lane, state, title, is_result, weight, spec)
SELECT p.run_id, 1000, 'rip-report', 'files', CASE r.state WHEN 'done' THEN 'done' ELSE 'waiting' END, 'Report', 0, 0, json_object('version', 1)
FROM rip p JOIN run r ON r.id = p.run_id;
INSERT INTO run_item_wait
SELECT f.id, i.id, 0 FROM run_item_new f JOIN run_item_new i ON i.run_id = f.run_id AND i.id <> f.id WHERE f.kind = 'rip-report';

-- A plan keeps the target it was made with, and at most one run comes of it.
CREATE TABLE plan_new (
    id            INTEGER PRIMARY KEY,
    title         TEXT    NOT NULL,
    target        TEXT    NOT NULL,
    output_folder TEXT,
    created_at    INTEGER NOT NULL,
    run_id        INTEGER REFERENCES run (id) ON DELETE SET NULL
);
INSERT INTO plan_new (id, title, target, output_folder, created_at, run_id)
SELECT p.id, p.title,
    COALESCE((SELECT settings FROM target WHERE key = p.target_key), CASE p.target_key
        WHEN 'archive' THEN '{"key":"archive","name":"Archive","kind":"Flac"}'
        WHEN 'dj-stick' THEN '{"key":"dj-stick","name":"DJ stick","kind":"Aiff","maxBits":24}'
        WHEN 'plain' THEN '{"key":"plain","name":"Plain","kind":"Wav"}'
        ELSE '{"key":"pocket-player","name":"Pocket player","kind":"Mp3","highestRate":{"hertz":44100}}' END),
    p.output_folder, p.created_at, (SELECT MAX(id) FROM run WHERE plan_id = p.id)
FROM plan p;
DROP TABLE plan;
ALTER TABLE plan_new RENAME TO plan;
CREATE INDEX plan_by_run ON plan (run_id);

ALTER TABLE lineage ADD COLUMN run_item_id INTEGER REFERENCES run_item (id) ON DELETE SET NULL;
UPDATE lineage SET run_item_id = (SELECT id FROM run_item WHERE new_copy_id = lineage.copy_id ORDER BY id DESC LIMIT 1);

DROP TABLE rip_track;
DROP TABLE run_item;
ALTER TABLE run_item_new RENAME TO run_item;
DROP TABLE run;
ALTER TABLE run_new RENAME TO run;
CREATE INDEX run_by_state ON run (state);
CREATE INDEX run_item_by_run ON run_item (run_id, position);
CREATE INDEX run_item_by_state ON run_item (state, lane, run_id, position);
