-- +goose Up
-- What a company that runs for years needs: backups at set times.

CREATE TABLE backups (
  id INTEGER PRIMARY KEY,
  begun_at INTEGER NOT NULL, -- ms UTC
  ended_at INTEGER NOT NULL,
  file TEXT NOT NULL,
  size INTEGER NOT NULL, -- bytes; 0 when none was made
  trouble TEXT NOT NULL -- why none was made; empty when one was
) STRICT;
