-- Loudness of each copy. Analyses of earlier versions lack it and are made anew in the background.
ALTER TABLE analysis ADD COLUMN loudness REAL;
ALTER TABLE analysis ADD COLUMN loudness_range REAL;
ALTER TABLE analysis ADD COLUMN true_peak REAL;
ALTER TABLE analysis ADD COLUMN loudness_blocks BLOB;
ALTER TABLE analysis ADD COLUMN downmix_peak REAL;

-- Targets choose among more than two ways with channels.
UPDATE target SET settings = json_set(json_remove(settings, '$.downmixesToStereo'), '$.channels', iif(json_extract(settings, '$.downmixesToStereo'), 'AtMostStereo', 'AsSource'))
    WHERE json_type(settings, '$.downmixesToStereo') IS NOT NULL;
UPDATE plan SET target = json_set(json_remove(target, '$.downmixesToStereo'), '$.channels', iif(json_extract(target, '$.downmixesToStereo'), 'AtMostStereo', 'AsSource'))
    WHERE json_type(target, '$.downmixesToStereo') IS NOT NULL;
UPDATE run_item SET spec = json_set(json_remove(spec, '$.target.downmixesToStereo'), '$.target.channels', iif(json_extract(spec, '$.target.downmixesToStereo'), 'AtMostStereo', 'AsSource'))
    WHERE kind IN ('convert', 'rip-copy') AND json_type(spec, '$.target.downmixesToStereo') IS NOT NULL;
