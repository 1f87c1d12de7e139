-- Why an item waits: it needs the other's result ('success'), it sums up or uses what others did ('end'), or only its turn comes later ('turn').
ALTER TABLE run_item_wait ADD COLUMN reason TEXT NOT NULL DEFAULT 'success';
UPDATE run_item_wait SET reason = 'end' WHERE NOT needs_success;
-- Steps of mirrors and sticks, and the next copy of a disc, follow others only for their order.
UPDATE run_item_wait SET reason = 'turn' WHERE NOT needs_success
    AND item_id IN (SELECT id FROM run_item WHERE kind IN ('mirror-file', 'convert', 'stick-file', 'stick-tags', 'deliver-file', 'burn-disc'));
ALTER TABLE run_item_wait DROP COLUMN needs_success;

-- Images have kinds of run of their own.
UPDATE run SET kind = CASE kind WHEN 'burn' THEN 'audio-image' ELSE 'data-image' END WHERE kind IN ('burn', 'data-disc') AND output_folder IS NOT NULL;
