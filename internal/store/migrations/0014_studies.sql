-- +goose Up

-- What is worked out of a draft in the background, and kept with it: past requests put through
-- it, and a season simulated. Nothing of it is live.
CREATE TABLE studies (
  id TEXT PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('replay', 'foresee')),
  offering TEXT NOT NULL,
  number INTEGER NOT NULL, -- of the version
  revision INTEGER NOT NULL, -- of the draft
  person TEXT NOT NULL REFERENCES people(id), -- who asked for it
  asked TEXT NOT NULL, -- JSON
  state TEXT NOT NULL CHECK (state IN ('running', 'done', 'stopped', 'failed')),
  trouble TEXT NOT NULL,
  began_at INTEGER NOT NULL,
  ended_at INTEGER NOT NULL,
  result TEXT NOT NULL -- JSON; empty while it runs
) STRICT;
CREATE INDEX studies_offering ON studies(offering, kind, began_at);
