-- +goose Up
CREATE INDEX job_shop ON job (shop_id);
CREATE INDEX job_mesh ON job (mesh_sha256);
CREATE INDEX mould_shop ON mould (shop_id);

-- +goose Down
DROP INDEX mould_shop;
DROP INDEX job_mesh;
DROP INDEX job_shop;
