-- +goose Up
-- Times are whole milliseconds since 1970 in UTC. JSON is text.

CREATE TABLE people (
  id TEXT PRIMARY KEY,
  login TEXT NOT NULL UNIQUE,
  name TEXT NOT NULL,
  title TEXT NOT NULL,
  email TEXT NOT NULL,
  department TEXT NOT NULL,
  cost_centre TEXT NOT NULL,
  location TEXT NOT NULL,
  employment TEXT NOT NULL,
  grade TEXT NOT NULL,
  manager TEXT REFERENCES people(id) DEFERRABLE INITIALLY DEFERRED,
  away INTEGER NOT NULL DEFAULT 0
) STRICT;

CREATE TABLE teams (
  key TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  lead TEXT NOT NULL REFERENCES people(id)
) STRICT;

CREATE TABLE team_members (
  team TEXT NOT NULL REFERENCES teams(key),
  person TEXT NOT NULL REFERENCES people(id),
  PRIMARY KEY (team, person)
) STRICT, WITHOUT ROWID;
CREATE INDEX team_members_person ON team_members(person);

CREATE TABLE services (
  key TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  area TEXT NOT NULL,
  owner TEXT NOT NULL REFERENCES people(id),
  home TEXT NOT NULL REFERENCES teams(key)
) STRICT;

CREATE TABLE offering_versions (
  offering TEXT NOT NULL,
  number INTEGER NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('draft', 'current', 'past')),
  service TEXT NOT NULL REFERENCES services(key),
  name TEXT NOT NULL,
  document TEXT NOT NULL,
  revision INTEGER NOT NULL, -- rises with every save of a draft
  changed_at INTEGER NOT NULL,
  changed_by TEXT NOT NULL REFERENCES people(id),
  PRIMARY KEY (offering, number)
) STRICT;
CREATE UNIQUE INDEX offering_versions_draft ON offering_versions(offering) WHERE state = 'draft';
CREATE UNIQUE INDEX offering_versions_current ON offering_versions(offering) WHERE state = 'current';

CREATE VIRTUAL TABLE offering_search USING fts5(offering UNINDEXED, name, keywords, text, tokenize = 'trigram');

CREATE TABLE counters (
  name TEXT PRIMARY KEY,
  value INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE requests (
  id TEXT PRIMARY KEY,
  reference TEXT UNIQUE,
  offering TEXT NOT NULL,
  title TEXT NOT NULL,
  service TEXT NOT NULL,
  asker TEXT NOT NULL REFERENCES people(id),
  status TEXT NOT NULL,
  outcome TEXT NOT NULL,
  seq INTEGER NOT NULL,
  changed_at INTEGER NOT NULL,
  state TEXT NOT NULL
) STRICT;
CREATE INDEX requests_asker ON requests(asker, changed_at, id);
CREATE UNIQUE INDEX requests_draft ON requests(asker, offering) WHERE status = 'draft';

-- What was typed into a draft so far. It may be incomplete and wrong.
CREATE TABLE drafts (
  request TEXT PRIMARY KEY REFERENCES requests(id),
  answers TEXT NOT NULL,
  saved_at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE events (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  request TEXT NOT NULL REFERENCES requests(id),
  seq INTEGER NOT NULL,
  at INTEGER NOT NULL,
  actor TEXT NOT NULL,
  kind TEXT NOT NULL,
  body TEXT NOT NULL,
  UNIQUE (request, seq)
) STRICT;

-- +goose StatementBegin
CREATE TRIGGER events_stay BEFORE UPDATE ON events BEGIN
  SELECT RAISE(ABORT, 'history is only ever added to');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER events_remain BEFORE DELETE ON events BEGIN
  SELECT RAISE(ABORT, 'history is only ever added to');
END;
-- +goose StatementEnd

-- Read columns of rungs and tasks; the truth is the events.
CREATE TABLE seats (
  request TEXT NOT NULL REFERENCES requests(id),
  rung TEXT NOT NULL,
  person TEXT NOT NULL REFERENCES people(id),
  state TEXT NOT NULL CHECK (state IN ('open', 'approve', 'decline', 'over')),
  since INTEGER NOT NULL, -- opened, or voted, or over
  PRIMARY KEY (request, rung, person)
) STRICT, WITHOUT ROWID;
CREATE INDEX seats_person ON seats(person, state, since, request);

CREATE TABLE tasks (
  request TEXT NOT NULL REFERENCES requests(id),
  key TEXT NOT NULL,
  team TEXT NOT NULL REFERENCES teams(key),
  kind TEXT NOT NULL,
  state TEXT NOT NULL,
  holder TEXT NOT NULL,
  since INTEGER NOT NULL, -- ready, or ended
  PRIMARY KEY (request, key)
) STRICT, WITHOUT ROWID;
CREATE INDEX tasks_team ON tasks(team, state, since, request);

CREATE TABLE effects (
  key TEXT PRIMARY KEY,
  request TEXT NOT NULL REFERENCES requests(id),
  kind TEXT NOT NULL,
  task TEXT NOT NULL,
  connector TEXT NOT NULL,
  action TEXT NOT NULL,
  inputs TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('waiting', 'running', 'done')),
  due_at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX effects_due ON effects(state, due_at);

CREATE TABLE sessions (
  token TEXT PRIMARY KEY,
  data BLOB NOT NULL,
  expiry REAL NOT NULL
) STRICT;
CREATE INDEX sessions_expiry ON sessions(expiry);
