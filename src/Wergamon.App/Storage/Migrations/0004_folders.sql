-- A paused folder is neither scanned nor watched; what is known of it stays.
ALTER TABLE folder ADD COLUMN is_paused INTEGER NOT NULL DEFAULT 0;
-- Whether the bitrate of a lossy file changes on the way; null where its header does not tell.
ALTER TABLE copy ADD COLUMN is_variable INTEGER;
-- A file that turns up elsewhere with the size and time of one that is gone has moved.
CREATE INDEX copy_by_stamp ON copy (file_bytes, modified_at);
