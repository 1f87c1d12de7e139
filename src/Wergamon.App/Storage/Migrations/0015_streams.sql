-- Files with several streams of sound: their facts, and which one a plan takes.
ALTER TABLE copy ADD COLUMN streams TEXT;
ALTER TABLE plan_item ADD COLUMN stream INTEGER;
