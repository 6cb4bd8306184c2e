-- +goose Up
-- What a mould has done is counted when it is logged, not whenever the rack is looked at.
ALTER TABLE mould
    ADD COLUMN pulls integer NOT NULL DEFAULT 0,
    ADD COLUMN good  integer NOT NULL DEFAULT 0,
    ADD COLUMN scrap integer NOT NULL DEFAULT 0;
UPDATE mould SET pulls = done.pulls, good = done.good, scrap = done.scrap
FROM (
    SELECT pull.mould_id, count(DISTINCT pull.id) AS pulls,
           count(*) FILTER (WHERE r.good) AS good, count(*) FILTER (WHERE NOT r.good) AS scrap
    FROM pull LEFT JOIN pull_result r ON r.pull_id = pull.id
    GROUP BY pull.mould_id
) done
WHERE done.mould_id = mould.id;
CREATE INDEX mould_rubber ON mould (shop_id, rubber);
DROP INDEX pull_mould;
CREATE INDEX pull_mould ON pull (mould_id, pulled DESC, logged DESC);

-- +goose Down
DROP INDEX pull_mould;
CREATE INDEX pull_mould ON pull (mould_id);
DROP INDEX mould_rubber;
ALTER TABLE mould DROP COLUMN pulls, DROP COLUMN good, DROP COLUMN scrap;
