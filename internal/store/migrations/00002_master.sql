-- +goose Up
-- What a data sheet says beyond ratio and density.
ALTER TABLE material ADD COLUMN traits jsonb NOT NULL DEFAULT '{}';

-- What the caster says of the master and of what the casting must be.
ALTER TABLE job ADD COLUMN brief jsonb;

-- Dabs of rubber on a surface: did it cure?
CREATE TABLE inhibition_test (
    id      uuid PRIMARY KEY,
    shop_id uuid NOT NULL REFERENCES shop,
    rubber  text NOT NULL CHECK (rubber <> ''),
    surface text NOT NULL CHECK (surface <> ''),
    tested  date NOT NULL,
    cured   boolean NOT NULL,
    notes   text NOT NULL DEFAULT ''
);

-- +goose Down
DROP TABLE inhibition_test;
ALTER TABLE job DROP COLUMN brief;
ALTER TABLE material DROP COLUMN traits;
