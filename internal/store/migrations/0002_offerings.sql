-- +goose Up
-- Offerings as rich as real work: search that forgives, ended offerings,
-- publishing at a time, shared questions, files, belongings, beneficiaries.

ALTER TABLE people ADD COLUMN language TEXT NOT NULL DEFAULT '';
ALTER TABLE services ADD COLUMN text TEXT NOT NULL DEFAULT '';
ALTER TABLE services ADD COLUMN place TEXT NOT NULL DEFAULT 'offered' CHECK (place IN ('intended', 'offered', 'ended'));

ALTER TABLE offering_versions ADD COLUMN publish_at INTEGER; -- of a draft that publishes itself
ALTER TABLE offering_versions ADD COLUMN accepted TEXT NOT NULL DEFAULT '[]'; -- findings accepted, with who and when
ALTER TABLE offering_versions ADD COLUMN trouble TEXT NOT NULL DEFAULT ''; -- why it did not publish itself
CREATE INDEX offering_versions_due ON offering_versions(publish_at) WHERE publish_at IS NOT NULL;

-- What people can ask for now, with what the catalog needs of it.
CREATE TABLE catalog (
  offering TEXT PRIMARY KEY,
  number INTEGER NOT NULL,
  service TEXT NOT NULL REFERENCES services(key),
  name TEXT NOT NULL,
  text TEXT NOT NULL,
  door TEXT NOT NULL,
  pick INTEGER NOT NULL,
  picture TEXT NOT NULL,
  keywords TEXT NOT NULL,
  audience TEXT NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE ended_offerings (
  offering TEXT PRIMARY KEY,
  successor TEXT NOT NULL, -- empty for none
  ended_at INTEGER NOT NULL,
  ended_by TEXT NOT NULL REFERENCES people(id)
) STRICT, WITHOUT ROWID;

DROP TABLE offering_search;
CREATE VIRTUAL TABLE offering_search USING fts5(offering UNINDEXED, name, keywords, text, tokenize = 'unicode61 remove_diacritics 2', prefix = '2 3 4');
-- Every word of the search without one of its letters, and whole: two words
-- that share an entry are about one typing mistake apart.
CREATE TABLE search_words (
  part TEXT NOT NULL,
  word TEXT NOT NULL,
  PRIMARY KEY (part, word)
) STRICT, WITHOUT ROWID;

CREATE TABLE shared_questions (
  key TEXT PRIMARY KEY,
  question TEXT NOT NULL,
  changed_at INTEGER NOT NULL,
  changed_by TEXT NOT NULL REFERENCES people(id)
) STRICT, WITHOUT ROWID;

ALTER TABLE drafts ADD COLUMN beneficiary TEXT NOT NULL DEFAULT '{}';
ALTER TABLE requests ADD COLUMN beneficiary TEXT REFERENCES people(id); -- who sees it beside the asker
CREATE INDEX requests_beneficiary ON requests(beneficiary, changed_at, id) WHERE beneficiary IS NOT NULL;
CREATE INDEX requests_offering ON requests(offering, asker);

-- Files put on a request. The content is a file of its own in the folder
-- uploads, under its ID.
CREATE TABLE uploads (
  id TEXT PRIMARY KEY,
  request TEXT NOT NULL REFERENCES requests(id),
  question TEXT NOT NULL,
  name TEXT NOT NULL,
  type TEXT NOT NULL,
  size INTEGER NOT NULL,
  added_by TEXT NOT NULL REFERENCES people(id),
  added_at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX uploads_request ON uploads(request);

CREATE TABLE belongings (
  id TEXT PRIMARY KEY,
  person TEXT NOT NULL REFERENCES people(id),
  kind TEXT NOT NULL,
  name TEXT NOT NULL,
  detail TEXT NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX belongings_person ON belongings(person);
