-- For a title of a surround disc: its files, the role of each channel and how it is folded down, as JSON.
ALTER TABLE rip_track ADD COLUMN surround TEXT;
