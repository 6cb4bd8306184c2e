-- +goose Up
-- What was bought of a material: a can, or kits of both parts, with the same number.
CREATE TABLE lot (
    id          uuid PRIMARY KEY,
    shop_id     uuid NOT NULL REFERENCES shop,
    material_id uuid NOT NULL REFERENCES material,
    name        text NOT NULL CHECK (name <> ''),
    bought      date NOT NULL,
    opened      date,
    expires     date,
    keeps       integer CHECK (keeps > 0),           -- days, once it is open
    grams_a     numeric NOT NULL CHECK (grams_a > 0), -- as bought
    grams_b     numeric NOT NULL CHECK (grams_b >= 0),
    price       numeric CHECK (price >= 0),           -- a kilogram, in the shop's money
    version     integer NOT NULL DEFAULT 1,
    UNIQUE (material_id, name)
);
CREATE INDEX lot_shop ON lot (shop_id);

-- What went out of the stock besides the pulls that were written down by hand: weighed
-- at the bench, thrown away; and what was counted on the shelf.
CREATE TABLE stock_move (
    id          uuid PRIMARY KEY,
    shop_id     uuid NOT NULL REFERENCES shop,
    material_id uuid NOT NULL REFERENCES material,
    lot         text NOT NULL DEFAULT '',
    day         date NOT NULL,
    what        text NOT NULL CHECK (what IN ('drawn', 'thrown', 'counted')),
    grams_a     numeric NOT NULL,
    grams_b     numeric NOT NULL,
    says        text NOT NULL DEFAULT '',
    session_id  uuid REFERENCES session,
    kept        timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX stock_move_material ON stock_move (material_id, day);
CREATE INDEX stock_move_session ON stock_move (session_id);

-- +goose Down
DROP TABLE stock_move, lot;
