-- +goose Up
-- How a mould ended besides wear, how it was born, where it stands, and from which
-- version of the design it was poured.
ALTER TABLE mould
    ADD COLUMN ended          text NOT NULL DEFAULT '' CHECK (ended IN ('', 'worn', 'torn', 'spoilt', 'lost', 'done')),
    ADD COLUMN birth          jsonb,                    -- flaws at the first look; null where nobody has looked
    ADD COLUMN place          text NOT NULL DEFAULT '',
    ADD COLUMN pieces         integer NOT NULL DEFAULT 0 CHECK (pieces >= 0), -- 0 where nobody has said
    ADD COLUMN lot            text NOT NULL DEFAULT '', -- of the rubber
    ADD COLUMN design_version integer NOT NULL DEFAULT 0;
UPDATE mould SET ended = 'worn' WHERE worn_out;

-- What was measured at the work: minutes, grams.
CREATE TABLE measured (
    id         uuid PRIMARY KEY,
    shop_id    uuid NOT NULL REFERENCES shop,
    day        date NOT NULL,
    what       text NOT NULL CHECK (what IN ('residue', 'bucket', 'pour', 'demould', 'gel')),
    material   text NOT NULL,
    value      numeric NOT NULL CHECK (value >= 0), -- g of what stays, minutes of what lasts
    celsius    numeric,
    grams      numeric,          -- of the batch
    says       text NOT NULL DEFAULT '',
    session_id uuid REFERENCES session,
    struck     timestamptz,
    kept       timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX measured_shop ON measured (shop_id, what);

-- +goose Down
DROP TABLE measured;
ALTER TABLE mould DROP COLUMN ended, DROP COLUMN birth, DROP COLUMN place, DROP COLUMN pieces, DROP COLUMN lot, DROP COLUMN design_version;
