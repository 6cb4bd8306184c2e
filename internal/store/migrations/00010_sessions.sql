-- +goose Up
-- Work at the bench: what was planned, and what has happened since.
CREATE TABLE session (
    id      uuid PRIMARY KEY,
    shop_id uuid NOT NULL REFERENCES shop,
    job_id  uuid REFERENCES job,
    kind    text NOT NULL,
    lesson  text NOT NULL DEFAULT '',
    plan    jsonb NOT NULL,
    begun   timestamptz NOT NULL,
    ended   timestamptz
);
CREATE INDEX session_open ON session (shop_id) WHERE ended IS NULL;
CREATE INDEX session_begun ON session (shop_id, begun DESC);
CREATE TABLE session_event (
    session_id uuid NOT NULL REFERENCES session ON DELETE CASCADE,
    number     integer NOT NULL,
    at         timestamptz NOT NULL,
    key        uuid UNIQUE,
    what       jsonb NOT NULL,
    PRIMARY KEY (session_id, number)
);
-- A mould stands in one session at a time.
CREATE TABLE session_mould (
    session_id uuid NOT NULL REFERENCES session ON DELETE CASCADE,
    mould_id   uuid NOT NULL REFERENCES mould ON DELETE CASCADE,
    open       boolean NOT NULL DEFAULT true,
    PRIMARY KEY (session_id, mould_id)
);
CREATE UNIQUE INDEX session_mould_open ON session_mould (mould_id) WHERE open;
ALTER TABLE pull ADD COLUMN session_id uuid REFERENCES session;
ALTER TABLE mould ADD COLUMN session_id uuid REFERENCES session;

-- +goose Down
ALTER TABLE mould DROP COLUMN session_id;
ALTER TABLE pull DROP COLUMN session_id;
DROP TABLE session_mould, session_event, session;
