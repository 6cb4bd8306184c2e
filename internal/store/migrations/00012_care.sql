-- +goose Up
-- What is done to a mould besides casting in it: repaired, rested, released, a cavity plugged.
CREATE TABLE mould_care (
    id       uuid PRIMARY KEY,
    mould_id uuid NOT NULL REFERENCES mould ON DELETE CASCADE,
    day      date NOT NULL,
    what     text NOT NULL,
    cavity   integer NOT NULL DEFAULT 0,
    says     text NOT NULL DEFAULT '',
    kept     timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX mould_care_mould ON mould_care (mould_id, day);

-- +goose Down
DROP TABLE mould_care;
