-- Formats as data: a file's format by its key, encoder settings by format, and what a format can hold of the tags worked
-- out when it is asked for.

-- What only one dialect of tags understands: its place and size; the bytes stay in the file.
CREATE TABLE opaque_tag (
    copy_id  INTEGER NOT NULL REFERENCES copy (id) ON DELETE CASCADE,
    position INTEGER NOT NULL,
    dialect  TEXT    NOT NULL,
    name     TEXT    NOT NULL,
    bytes    INTEGER NOT NULL,
    PRIMARY KEY (copy_id, position)
) WITHOUT ROWID;

-- So far only their number was known, and which dialect holds them: a private frame or an application block stands for each. Their size is what the tag has left beside the pictures.
INSERT INTO opaque_tag (copy_id, position, dialect, name, bytes)
WITH known AS (
    SELECT c.id, c.tags_held_by_id3 = c.tags_total AS is_id3,
        c.tags_total - (SELECT COUNT(DISTINCT lower(name)) FROM tag WHERE copy_id = c.id) - (SELECT COUNT(*) FROM copy_artwork WHERE copy_id = c.id) AS number,
        CASE WHEN c.tags_held_by_id3 = c.tags_total THEN c.id3_bytes ELSE c.flac_tag_bytes END
            - COALESCE((SELECT SUM(length(a.data)) FROM copy_artwork w JOIN artwork a ON a.hash = w.hash WHERE w.copy_id = c.id), 0) AS rest
    FROM copy c
), each_one (id, is_id3, number, rest, position) AS (
    SELECT id, is_id3, number, rest, 0 FROM known WHERE number > 0
    UNION ALL SELECT id, is_id3, number, rest, position + 1 FROM each_one WHERE position + 1 < number
)
SELECT id, position, CASE WHEN is_id3 THEN 'ID3v2' ELSE 'FLAC' END, CASE WHEN is_id3 THEN 'PRIV' ELSE '2' END, MAX(0, rest / number) FROM each_one;

ALTER TABLE copy DROP COLUMN tags_held_by_id3;
ALTER TABLE copy DROP COLUMN tags_held_by_flac;
ALTER TABLE copy DROP COLUMN id3_bytes;
ALTER TABLE copy DROP COLUMN flac_tag_bytes;
ALTER TABLE copy RENAME COLUMN kind TO file_format;
UPDATE copy SET file_format = CASE file_format
    WHEN 'Wav' THEN 'wav' WHEN 'Aiff' THEN 'aiff' WHEN 'Flac' THEN 'flac' WHEN 'Mp3' THEN 'mp3'
    ELSE CASE
        WHEN path LIKE '%.m4a' OR path LIKE '%.m4b' OR path LIKE '%.mp4' OR path LIKE '%.mov' OR path LIKE '%.m4v' THEN 'mp4'
        WHEN path LIKE '%.ogg' OR path LIKE '%.oga' OR path LIKE '%.opus' THEN 'ogg'
        WHEN path LIKE '%.wma' OR path LIKE '%.asf' THEN 'asf'
        WHEN path LIKE '%.ape' THEN 'ape'
        WHEN path LIKE '%.wv' THEN 'wavpack'
        WHEN path LIKE '%.mp2' THEN 'mp3'
        ELSE '' END
    END;

-- Targets carry the settings of their encoder.
CREATE TEMP TABLE settings_of (kind TEXT PRIMARY KEY, format TEXT NOT NULL);
INSERT INTO settings_of VALUES ('Wav', 'wav'), ('Aiff', 'aiff'), ('Flac', 'flac'), ('Mp3', 'mp3'), ('Other', 'wav');

UPDATE target SET settings = json_remove(json_set(settings, '$.encoder', json((
    SELECT json_patch(json_object('format', format), CASE kind
        WHEN 'Mp3' THEN COALESCE(json_extract(target.settings, '$.mp3'), '{"isVariable":false,"value":256}')
        WHEN 'Flac' THEN json_object('level', COALESCE(json_extract(target.settings, '$.flacLevel'), 5)) ELSE '{}' END)
    FROM settings_of WHERE kind = json_extract(target.settings, '$.kind')))), '$.kind', '$.mp3', '$.flacLevel')
WHERE json_extract(settings, '$.kind') IS NOT NULL;

UPDATE plan SET target = json_remove(json_set(target, '$.encoder', json((
    SELECT json_patch(json_object('format', format), CASE kind
        WHEN 'Mp3' THEN COALESCE(json_extract(plan.target, '$.mp3'), '{"isVariable":false,"value":256}')
        WHEN 'Flac' THEN json_object('level', COALESCE(json_extract(plan.target, '$.flacLevel'), 5)) ELSE '{}' END)
    FROM settings_of WHERE kind = json_extract(plan.target, '$.kind')))), '$.kind', '$.mp3', '$.flacLevel')
WHERE json_extract(target, '$.kind') IS NOT NULL;

UPDATE run_item SET spec = json_remove(json_set(spec, '$.target.encoder', json((
    SELECT json_patch(json_object('format', format), CASE kind
        WHEN 'Mp3' THEN COALESCE(json_extract(run_item.spec, '$.target.mp3'), '{"isVariable":false,"value":256}')
        WHEN 'Flac' THEN json_object('level', COALESCE(json_extract(run_item.spec, '$.target.flacLevel'), 5)) ELSE '{}' END)
    FROM settings_of s WHERE s.kind = json_extract(run_item.spec, '$.target.kind')))), '$.target.kind', '$.target.mp3', '$.target.flacLevel')
WHERE kind IN ('convert', 'rip-copy') AND json_extract(spec, '$.target.kind') IS NOT NULL;

UPDATE run_item SET spec = json_remove(json_set(spec, '$.job.encoder', json((
    SELECT json_patch(json_object('format', format), CASE kind
        WHEN 'Mp3' THEN COALESCE(json_extract(run_item.spec, '$.job.mp3'), '{"isVariable":false,"value":256}')
        WHEN 'Flac' THEN json_object('level', COALESCE(json_extract(run_item.spec, '$.job.flacLevel'), 5)) ELSE '{}' END)
    FROM settings_of s WHERE s.kind = json_extract(run_item.spec, '$.job.outputKind')))), '$.job.outputKind', '$.job.mp3', '$.job.flacLevel')
WHERE kind = 'convert' AND json_extract(spec, '$.job.outputKind') IS NOT NULL;

DROP TABLE settings_of;
