-- AAC, ALAC, Vorbis and Opus are formats of their own; their containers stay for what else is in them.
UPDATE copy SET file_format = CASE codec_name WHEN 'AAC' THEN 'aac' WHEN 'ALAC' THEN 'alac' END
WHERE file_format = 'mp4' AND codec_name IN ('AAC', 'ALAC') AND (path LIKE '%.m4a' OR path LIKE '%.m4b');
UPDATE copy SET file_format = CASE codec_name WHEN 'Vorbis' THEN 'vorbis' WHEN 'Opus' THEN 'opus' END
WHERE file_format = 'ogg' AND codec_name IN ('Vorbis', 'Opus');

-- MP3 has a third way to choose the bitrate.
UPDATE target SET settings = replace(replace(settings, '"isVariable":true', '"mode":"Variable"'), '"isVariable":false', '"mode":"Constant"') WHERE settings LIKE '%"isVariable"%';
UPDATE plan SET target = replace(replace(target, '"isVariable":true', '"mode":"Variable"'), '"isVariable":false', '"mode":"Constant"') WHERE target LIKE '%"isVariable"%';
UPDATE run_item SET spec = replace(replace(spec, '"isVariable":true', '"mode":"Variable"'), '"isVariable":false', '"mode":"Constant"') WHERE spec LIKE '%"isVariable"%';

UPDATE copy SET file_format = 'wma' WHERE file_format = 'asf' AND codec_name = 'WMA';
