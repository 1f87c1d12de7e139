-- Pictures in the size that lists show, made once from the pictures themselves.
CREATE TABLE thumbnail (
    hash      TEXT    NOT NULL REFERENCES artwork (hash) ON DELETE CASCADE,
    -- The longer side, in pixels.
    size      INTEGER NOT NULL,
    mime_type TEXT    NOT NULL,
    -- Empty for a picture that nobody could make smaller.
    data      BLOB    NOT NULL,
    PRIMARY KEY (hash, size)
) WITHOUT ROWID;
