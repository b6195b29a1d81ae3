-- +goose Up
-- Areas are things of their own, audiences have names, and what came with the program is
-- told from what is one's own.

CREATE TABLE areas (
  name TEXT PRIMARY KEY,
  text TEXT NOT NULL DEFAULT '',
  owner TEXT NOT NULL DEFAULT '', -- ID of a person; empty for nobody
  editors TEXT NOT NULL DEFAULT '', -- IDs, with spaces between them
  home TEXT NOT NULL DEFAULT '', -- key of the team its new services begin with; empty for none
  place TEXT NOT NULL DEFAULT 'offered',
  second INTEGER NOT NULL DEFAULT 0, -- 1: publishing in any of its services needs another's yes
  picture TEXT NOT NULL DEFAULT '',
  words TEXT NOT NULL DEFAULT '',
  starts TEXT NOT NULL DEFAULT '', -- dates, RFC 3339; empty for none
  review TEXT NOT NULL DEFAULT ''
) STRICT, WITHOUT ROWID;
INSERT INTO areas (name) SELECT DISTINCT area FROM services;

-- An audience that is kept once and used by many offerings.
CREATE TABLE bundles (
  key TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  text TEXT NOT NULL,
  rule TEXT NOT NULL -- CEL over asker
) STRICT, WITHOUT ROWID;

-- Offerings that began as one of the starter set: as it was when they were taken, and as
-- the program has it now, both fitted to the company.
CREATE TABLE supplied (
  offering TEXT PRIMARY KEY,
  starter TEXT NOT NULL, -- key of the starter
  document TEXT NOT NULL,
  newest TEXT NOT NULL
) STRICT, WITHOUT ROWID;

-- The usual text at the time somebody wrote their own in its place: {subject, body}.
ALTER TABLE message_texts ADD COLUMN usual TEXT NOT NULL DEFAULT '';
