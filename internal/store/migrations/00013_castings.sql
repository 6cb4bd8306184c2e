-- +goose Up
-- What a casting weighed, in g, and where on the part its defect is: x, y, z in mm.
ALTER TABLE pull_result
    ADD COLUMN weight numeric CHECK (weight > 0),
    ADD COLUMN place  jsonb;

-- What was taken pictures of: small JPEGs that were made anew, with nothing else in them.
CREATE TABLE photo (
    id      uuid PRIMARY KEY,
    pull_id uuid NOT NULL REFERENCES pull ON DELETE CASCADE,
    cavity  integer NOT NULL DEFAULT 0,
    wide    integer NOT NULL,
    tall    integer NOT NULL,
    jpeg    bytea NOT NULL,
    small   bytea NOT NULL,
    taken   timestamptz NOT NULL DEFAULT now(),
    struck  timestamptz
);
CREATE INDEX photo_pull ON photo (pull_id);

-- +goose Down
DROP TABLE photo;
ALTER TABLE pull_result DROP COLUMN weight, DROP COLUMN place;
