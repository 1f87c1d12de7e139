-- Runs have an order that can be changed, and their sizes stand beside their items.
ALTER TABLE run ADD COLUMN turn INTEGER;
UPDATE run SET turn = id;
CREATE INDEX run_by_turn ON run (state, turn);

ALTER TABLE run_item ADD COLUMN bytes_before INTEGER;
ALTER TABLE run_item ADD COLUMN bytes_after INTEGER;
UPDATE run_item SET bytes_before = spec ->> '$.bytesBefore', bytes_after = result ->> '$.proof.bytes' WHERE kind IN ('convert', 'rip-copy') AND state = 'done';

-- A run that waits for room on a full disk: the folder there, and how much has to be free.
ALTER TABLE run ADD COLUMN waits_in TEXT;
ALTER TABLE run ADD COLUMN room_wanted INTEGER;
