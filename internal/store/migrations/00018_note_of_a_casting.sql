-- +goose Up
-- What is to be said of one casting, beside what is said of its pull.
ALTER TABLE pull_result ADD COLUMN note text NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE pull_result DROP COLUMN note;
