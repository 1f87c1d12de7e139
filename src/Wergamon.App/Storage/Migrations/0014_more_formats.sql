-- AAC, ALAC, Vorbis and Opus are formats of their own; their containers stay for what else is in them.
UPDATE copy SET file_format = CASE codec_name WHEN 'AAC' THEN 'aac' WHEN 'ALAC' THEN 'alac' END
WHERE file_format = 'mp4' AND codec_name IN ('AAC', 'ALAC') AND (path LIKE '%.m4a' OR path LIKE '%.m4b');
UPDATE copy SET file_format = CASE codec_name WHEN 'Vorbis' THEN 'vorbis' WHEN 'Opus' THEN 'opus' END
WHERE file_format = 'ogg' AND codec_name IN ('Vorbis', 'Opus');
