-- +goose Up
-- What kind a mould is of decides how fast it wears; that of the design it was poured from.
ALTER TABLE mould ADD COLUMN kind text NOT NULL DEFAULT '';
UPDATE mould SET kind = coalesce(design -> 'design' ->> 'kind', '');

-- +goose Down
ALTER TABLE mould DROP COLUMN kind;
