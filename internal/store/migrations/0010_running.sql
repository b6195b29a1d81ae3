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

-- What people choose for themselves: the language they want to be spoken to in, and the
-- zone their times are shown in.
ALTER TABLE profiles ADD COLUMN language TEXT NOT NULL DEFAULT ''; -- BCP 47; empty for that of the directory
ALTER TABLE profiles ADD COLUMN zone TEXT NOT NULL DEFAULT ''; -- IANA; empty for where they are

-- Of which day of review of an area or a service its owner was told.
CREATE TABLE reviews_told (
  thing TEXT PRIMARY KEY, -- kind and key
  day TEXT NOT NULL -- RFC 3339
) STRICT, WITHOUT ROWID;

-- What people thought of how their requests went, one of each: to be pooled by offering.
CREATE TABLE ratings (
  request TEXT NOT NULL REFERENCES requests(id),
  person TEXT NOT NULL REFERENCES people(id),
  offering TEXT NOT NULL,
  stars INTEGER NOT NULL, -- from 1 to 5
  PRIMARY KEY (request, person)
) STRICT, WITHOUT ROWID;
CREATE INDEX ratings_offering ON ratings(offering, stars);
