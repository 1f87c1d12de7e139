-- The line of a track has the tempo, key and rating that count, whoever says so, and what the tags say beside it.
ALTER TABLE track_line ADD COLUMN tagged_tempo REAL;
ALTER TABLE track_line ADD COLUMN tagged_key TEXT;
ALTER TABLE track_line ADD COLUMN tagged_rating TEXT;

CREATE TRIGGER stale_own_new AFTER INSERT ON track_own BEGIN
    INSERT INTO track_stale SELECT NEW.track_id WHERE NEW.track_id NOT IN (SELECT track_id FROM track_stale);
END;
CREATE TRIGGER stale_own_change AFTER UPDATE ON track_own BEGIN
    INSERT INTO track_stale SELECT id FROM track WHERE id IN (NEW.track_id, OLD.track_id) AND id NOT IN (SELECT track_id FROM track_stale);
END;
CREATE TRIGGER stale_own_gone AFTER DELETE ON track_own BEGIN
    INSERT INTO track_stale SELECT id FROM track WHERE id = OLD.track_id AND id NOT IN (SELECT track_id FROM track_stale);
END;
CREATE TRIGGER stale_music_new AFTER INSERT ON music BEGIN
    INSERT INTO track_stale SELECT track_id FROM copy WHERE id = NEW.copy_id AND track_id NOT IN (SELECT track_id FROM track_stale);
END;
CREATE TRIGGER stale_music_change AFTER UPDATE ON music BEGIN
    INSERT INTO track_stale SELECT track_id FROM copy WHERE id = NEW.copy_id AND track_id NOT IN (SELECT track_id FROM track_stale);
END;
CREATE TRIGGER stale_music_gone AFTER DELETE ON music BEGIN
    INSERT INTO track_stale SELECT track_id FROM copy WHERE id = OLD.copy_id AND track_id NOT IN (SELECT track_id FROM track_stale);
END;

INSERT INTO track_stale SELECT id FROM track
    WHERE (id IN (SELECT track_id FROM track_own) OR id IN (SELECT track_id FROM copy WHERE id IN (SELECT copy_id FROM music)) OR id IN (SELECT track_id FROM track_line WHERE tempo IS NOT NULL OR musical_key IS NOT NULL OR rating IS NOT NULL))
        AND id NOT IN (SELECT track_id FROM track_stale);
