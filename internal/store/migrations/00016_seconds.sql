-- +goose Up
-- A second is no good casting and no scrap: it can be used, and says what is wrong with it.
ALTER TABLE pull_result ADD COLUMN second boolean NOT NULL DEFAULT false CHECK (NOT (good AND second));
ALTER TABLE mould ADD COLUMN seconds integer NOT NULL DEFAULT 0;

-- +goose Down
ALTER TABLE mould DROP COLUMN seconds;
ALTER TABLE pull_result DROP COLUMN second;
