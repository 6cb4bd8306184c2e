-- +goose Up
-- Changes that were made under a key: sent again after an answer was lost, such a one is made once.
CREATE TABLE change (
    key     uuid PRIMARY KEY,
    shop_id uuid NOT NULL REFERENCES shop,
    made    timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX change_made ON change (made);

-- Masters with their designs that were set aside when another took their place.
CREATE TABLE earlier (
    id          uuid PRIMARY KEY,
    job_id      uuid NOT NULL REFERENCES job,
    why         text NOT NULL,
    set_aside   timestamptz NOT NULL DEFAULT now(),
    master      jsonb NOT NULL,
    mesh_sha256 text REFERENCES mesh,
    design      jsonb,
    brief       jsonb
);
CREATE INDEX earlier_job ON earlier (job_id, set_aside DESC);
CREATE INDEX earlier_mesh ON earlier (mesh_sha256);

-- A pull is struck through, not rubbed out, and what was corrected can still be read.
ALTER TABLE pull ADD COLUMN struck timestamptz, ADD COLUMN version integer NOT NULL DEFAULT 1;
ALTER TABLE mould ADD COLUMN version integer NOT NULL DEFAULT 1;
CREATE TABLE pull_was (
    pull_id uuid NOT NULL REFERENCES pull ON DELETE CASCADE,
    version integer NOT NULL,
    until   timestamptz NOT NULL DEFAULT now(),
    was     jsonb NOT NULL,
    PRIMARY KEY (pull_id, version)
);
CREATE TABLE mould_was (
    mould_id uuid NOT NULL REFERENCES mould ON DELETE CASCADE,
    version  integer NOT NULL,
    until    timestamptz NOT NULL DEFAULT now(),
    was      jsonb NOT NULL,
    PRIMARY KEY (mould_id, version)
);

-- +goose Down
DROP TABLE mould_was, pull_was;
ALTER TABLE mould DROP COLUMN version;
DELETE FROM pull WHERE struck IS NOT NULL;
ALTER TABLE pull DROP COLUMN version, DROP COLUMN struck;
DROP TABLE earlier, change;
