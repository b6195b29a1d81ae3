-- +goose Up

-- The mails that would have gone out of an installation for trying.
CREATE TABLE trial_mails (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  at INTEGER NOT NULL, -- ms UTC
  name TEXT NOT NULL, -- of the reader
  address TEXT NOT NULL,
  subject TEXT NOT NULL,
  body TEXT NOT NULL
) STRICT;
