-- +goose Up
-- Working calendars, who answers for a cost centre, who is absent.

CREATE TABLE calendars (
  key TEXT PRIMARY KEY,
  document TEXT NOT NULL, -- heptad/calendar/1
  changed_at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE locations (
  name TEXT PRIMARY KEY,
  calendar TEXT NOT NULL -- empty for none of its own
) STRICT, WITHOUT ROWID;

CREATE TABLE cost_centres (
  key TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  owner TEXT NOT NULL REFERENCES people(id)
) STRICT, WITHOUT ROWID;

ALTER TABLE people ADD COLUMN roles TEXT NOT NULL DEFAULT ''; -- separated by spaces, such as administrator
ALTER TABLE teams ADD COLUMN calendar TEXT NOT NULL DEFAULT '';

CREATE TABLE absences (
  id TEXT PRIMARY KEY,
  person TEXT NOT NULL REFERENCES people(id),
  begins_at INTEGER NOT NULL,
  ends_at INTEGER NOT NULL,
  stand_in TEXT REFERENCES people(id),
  set_by TEXT NOT NULL REFERENCES people(id),
  set_at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX absences_person ON absences(person, ends_at);
CREATE INDEX absences_end ON absences(ends_at);

-- What lists of decisions are sorted by.
ALTER TABLE seats ADD COLUMN due_at INTEGER NOT NULL DEFAULT 0; -- when the rung reaches its limit, or expires
ALTER TABLE requests ADD COLUMN cost INTEGER NOT NULL DEFAULT 0; -- of the first year, in minor units
CREATE INDEX seats_due ON seats(person, state, due_at, request);

-- Who hears of a request by choice, and finds it among their own.
CREATE TABLE followers (
  request TEXT NOT NULL REFERENCES requests(id),
  person TEXT NOT NULL REFERENCES people(id),
  PRIMARY KEY (request, person)
) STRICT, WITHOUT ROWID;
CREATE INDEX followers_person ON followers(person, request);

-- What people are told. A message is written with its event; its mail is sent
-- by the runner.
CREATE TABLE messages (
  id TEXT PRIMARY KEY,
  person TEXT NOT NULL REFERENCES people(id),
  request TEXT NOT NULL REFERENCES requests(id),
  seq INTEGER NOT NULL, -- of the event it tells
  kind TEXT NOT NULL,
  rung TEXT NOT NULL,
  task TEXT NOT NULL,
  subject TEXT NOT NULL,
  body TEXT NOT NULL,
  at INTEGER NOT NULL,
  listed INTEGER NOT NULL, -- stands in the person's list
  read_at INTEGER,
  mail TEXT NOT NULL CHECK (mail IN ('off', 'waiting', 'sending', 'sent', 'failed')),
  daily INTEGER NOT NULL, -- goes out with others of the day
  due_at INTEGER NOT NULL,
  attempts INTEGER NOT NULL DEFAULT 0,
  trouble TEXT NOT NULL DEFAULT '',
  sent_at INTEGER,
  decide_by INTEGER NOT NULL DEFAULT 0, -- until when its links decide; 0 for no links
  used_at INTEGER, -- when a link of it decided
  UNIQUE (request, seq, person, kind, rung, task)
) STRICT, WITHOUT ROWID;
CREATE INDEX messages_person ON messages(person, at, id) WHERE listed = 1;
CREATE INDEX messages_unread ON messages(person) WHERE listed = 1 AND read_at IS NULL;
CREATE INDEX messages_due ON messages(mail, due_at);
CREATE INDEX messages_request ON messages(request);

CREATE TABLE message_ways (
  person TEXT NOT NULL REFERENCES people(id),
  kind TEXT NOT NULL,
  listed INTEGER NOT NULL,
  mail TEXT NOT NULL CHECK (mail IN ('now', 'daily', 'off')),
  PRIMARY KEY (person, kind)
) STRICT, WITHOUT ROWID;

CREATE TABLE message_texts (
  kind TEXT PRIMARY KEY,
  subject TEXT NOT NULL,
  body TEXT NOT NULL,
  changed_at INTEGER NOT NULL,
  changed_by TEXT NOT NULL REFERENCES people(id)
) STRICT, WITHOUT ROWID;
