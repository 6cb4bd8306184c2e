-- +goose Up
-- Parts that are sold together: jobs of one set, each with its own master.
ALTER TABLE job ADD COLUMN set_name text NOT NULL DEFAULT '';
ALTER TABLE job ADD COLUMN per_set integer NOT NULL DEFAULT 1 CHECK (per_set > 0);

-- +goose Down
ALTER TABLE job DROP COLUMN per_set;
ALTER TABLE job DROP COLUMN set_name;
