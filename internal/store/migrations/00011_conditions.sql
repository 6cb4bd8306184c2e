-- +goose Up
-- What a pull was made under: °C, per cent of humidity, kPa, who, and the lot of its resin.
ALTER TABLE pull ADD COLUMN conditions jsonb NOT NULL DEFAULT '{}';

-- +goose Down
ALTER TABLE pull DROP COLUMN conditions;
