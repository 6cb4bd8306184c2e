-- +goose Up
CREATE TABLE shop (
    id       uuid PRIMARY KEY,
    name     text NOT NULL,
    practice jsonb NOT NULL,
    version  integer NOT NULL DEFAULT 1
);

CREATE TABLE material (
    id        uuid PRIMARY KEY,
    shop_id   uuid NOT NULL REFERENCES shop,
    kind      text NOT NULL CHECK (kind IN ('rubber', 'resin')),
    name      text NOT NULL CHECK (name <> ''),
    parts_a   numeric NOT NULL CHECK (parts_a > 0),
    parts_b   numeric NOT NULL CHECK (parts_b > 0),
    by_volume boolean NOT NULL,
    density   numeric NOT NULL CHECK (density > 0),   -- g/mL, mixed
    density_a numeric CHECK (density_a > 0),
    density_b numeric CHECK (density_b > 0),
    source    text NOT NULL DEFAULT '',
    version   integer NOT NULL DEFAULT 1,
    UNIQUE (shop_id, kind, name)
);

-- Meshes as they were dropped in, kept once however many jobs use them.
CREATE TABLE mesh (
    sha256 text PRIMARY KEY,
    stl    bytea NOT NULL,       -- gzip
    size   bigint NOT NULL       -- bytes before compression
);

CREATE TABLE job (
    id             uuid PRIMARY KEY,
    shop_id        uuid NOT NULL REFERENCES shop,
    name           text NOT NULL CHECK (name <> ''),
    quantity       integer NOT NULL CHECK (quantity > 0),
    due            date,
    notes          text NOT NULL DEFAULT '',
    master         jsonb,
    mesh_sha256    text REFERENCES mesh,
    design         jsonb,
    design_version integer NOT NULL DEFAULT 0,
    version        integer NOT NULL DEFAULT 1,
    created        timestamptz NOT NULL DEFAULT now(),
    deleted        timestamptz
);

CREATE TABLE mould (
    id       uuid PRIMARY KEY,
    shop_id  uuid NOT NULL REFERENCES shop,
    job_id   uuid NOT NULL REFERENCES job,
    number   text NOT NULL CHECK (number <> ''),
    rubber   text NOT NULL,
    poured   date NOT NULL,
    cavities integer NOT NULL CHECK (cavities BETWEEN 1 AND 60),
    retired  date,
    worn_out boolean NOT NULL DEFAULT false,
    design   jsonb,              -- as it was when the mould was poured
    UNIQUE (shop_id, number)
);
CREATE INDEX mould_job ON mould (job_id);

CREATE TABLE pull (
    id       uuid PRIMARY KEY,
    mould_id uuid NOT NULL REFERENCES mould,
    pulled   date NOT NULL,
    mass_a   numeric CHECK (mass_a > 0),  -- g
    mass_b   numeric CHECK (mass_b > 0),
    notes    text NOT NULL DEFAULT '',
    logged   timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX pull_mould ON pull (mould_id);

CREATE TABLE pull_result (
    pull_id uuid NOT NULL REFERENCES pull ON DELETE CASCADE,
    cavity  integer NOT NULL CHECK (cavity > 0),
    good    boolean NOT NULL,
    defect  text NOT NULL DEFAULT '',
    PRIMARY KEY (pull_id, cavity)
);

-- +goose Down
DROP TABLE pull_result, pull, mould, job, mesh, material, shop;
