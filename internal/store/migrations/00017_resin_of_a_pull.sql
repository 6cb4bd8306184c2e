-- +goose Up
-- Which resin a pull was made of, as its job had chosen then: another choice later does
-- not move what was weighed.
ALTER TABLE pull ADD COLUMN resin text NOT NULL DEFAULT ''; -- the material's ID; empty where none was chosen
UPDATE pull SET resin = coalesce(job.design->'design'->>'resin', '')
FROM mould JOIN job ON job.id = mould.job_id WHERE mould.id = pull.mould_id;

-- +goose Down
ALTER TABLE pull DROP COLUMN resin;
