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
