-- +goose Up
-- Promised times have marks: the timers of what is under way are set anew.
UPDATE requests SET clocks = 0 WHERE status IN ('deciding', 'returned', 'delivering', 'waiting');

-- Which requests belong together. The tie stands on the one that waits, is the same as the
-- other, or came from it.
CREATE TABLE ties (
  request TEXT NOT NULL REFERENCES requests(id),
  kind TEXT NOT NULL, -- as the core names it
  other TEXT NOT NULL REFERENCES requests(id),
  PRIMARY KEY (request, kind, other)
) STRICT;
CREATE INDEX ties_other ON ties(other, kind);

-- Faults that staff have opened to all: others see the sentence, and may join.
CREATE TABLE faults (
  request TEXT PRIMARY KEY REFERENCES requests(id),
  offering TEXT NOT NULL,
  sentence TEXT NOT NULL, -- empty: nobody can join any more
  open INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX faults_open ON faults(offering) WHERE open = 1;

-- Who has joined, with their own line.
CREATE TABLE joined (
  request TEXT NOT NULL REFERENCES requests(id),
  person TEXT NOT NULL REFERENCES people(id),
  line TEXT NOT NULL,
  at INTEGER NOT NULL, -- ms UTC
  PRIMARY KEY (request, person)
) STRICT, WITHOUT ROWID;
CREATE INDEX joined_person ON joined(person, at);

-- Several wishes on one slip: of a draft that it is on the slip of its asker, later the slip
-- that it was sent on. Of each offering there is one draft beside those on a slip.
ALTER TABLE requests ADD COLUMN slip TEXT NOT NULL DEFAULT '';
DROP INDEX requests_draft;
CREATE UNIQUE INDEX requests_draft ON requests(asker, offering) WHERE status = 'draft' AND slip = '';
CREATE INDEX requests_slip ON requests(asker, slip) WHERE slip <> '';

-- What people have put on a list of their own for a day.
CREATE TABLE own_list (
  person TEXT NOT NULL REFERENCES people(id),
  request TEXT NOT NULL REFERENCES requests(id),
  task TEXT NOT NULL, -- key; empty for the whole request
  day TEXT NOT NULL, -- RFC 3339
  PRIMARY KEY (person, request, task)
) STRICT, WITHOUT ROWID;
CREATE INDEX own_list_day ON own_list(person, day);
