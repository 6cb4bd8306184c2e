-- +goose Up
-- Wax and metal have no second part.
ALTER TABLE material DROP CONSTRAINT material_parts_b_check;
ALTER TABLE material ADD CONSTRAINT material_parts_b_check CHECK (parts_b >= 0);

-- +goose Down
ALTER TABLE material DROP CONSTRAINT material_parts_b_check;
DELETE FROM material WHERE parts_b = 0;
ALTER TABLE material ADD CONSTRAINT material_parts_b_check CHECK (parts_b > 0);
