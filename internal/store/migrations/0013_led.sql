-- +goose Up
-- Which others a request came from, as numbers with spaces between them.
ALTER TABLE facts_requests ADD COLUMN came TEXT NOT NULL DEFAULT '';
