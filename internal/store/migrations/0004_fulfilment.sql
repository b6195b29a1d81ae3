-- +goose Up
-- Plans, pools, belongings made by tasks, connectors, forecasts.

ALTER TABLE teams ADD COLUMN upward TEXT NOT NULL DEFAULT ''; -- key of the next team upward

-- What there is only so much of, and who has a place or waits for one. The ID
-- of a place is that of the belonging its task makes.
CREATE TABLE pools (
  key TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  size INTEGER NOT NULL CHECK (size >= 0)
) STRICT, WITHOUT ROWID;
CREATE TABLE pool_places (
  id TEXT PRIMARY KEY,
  pool TEXT NOT NULL REFERENCES pools(key),
  request TEXT REFERENCES requests(id), -- null for what was there before
  task TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('queued', 'reserved')),
  sent_at INTEGER NOT NULL, -- of the request: who sent first goes first
  reference TEXT NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX pool_places_pool ON pool_places(pool, state, sent_at, reference);

ALTER TABLE belongings RENAME TO belongings_before;
DROP INDEX belongings_person;
CREATE TABLE belongings (
  id TEXT PRIMARY KEY,
  person TEXT REFERENCES people(id), -- null while a newcomer is not in the directory
  newcomer TEXT NOT NULL DEFAULT '', -- name
  login TEXT NOT NULL DEFAULT '', -- by which the newcomer will be found
  kind TEXT NOT NULL,
  name TEXT NOT NULL,
  detail TEXT NOT NULL,
  until TEXT NOT NULL DEFAULT '', -- last day, RFC 3339; empty for no end
  request TEXT REFERENCES requests(id), -- that made it; null for what was there before
  since INTEGER NOT NULL DEFAULT 0,
  ended_at INTEGER,
  reminded TEXT NOT NULL DEFAULT '' -- the last day they were reminded of
) STRICT, WITHOUT ROWID;
INSERT INTO belongings (id, person, kind, name, detail) SELECT id, person, kind, name, detail FROM belongings_before;
DROP TABLE belongings_before;
CREATE INDEX belongings_person ON belongings(person) WHERE ended_at IS NULL;
CREATE INDEX belongings_until ON belongings(until) WHERE ended_at IS NULL AND until <> '';
CREATE INDEX belongings_login ON belongings(login) WHERE person IS NULL AND login <> '';

-- A message may be about a belonging, and no request.
ALTER TABLE messages RENAME TO messages_before;
CREATE TABLE messages (
  id TEXT PRIMARY KEY,
  person TEXT NOT NULL REFERENCES people(id),
  request TEXT REFERENCES requests(id),
  seq INTEGER NOT NULL,
  kind TEXT NOT NULL,
  rung TEXT NOT NULL,
  task TEXT NOT NULL,
  subject TEXT NOT NULL,
  body TEXT NOT NULL,
  at INTEGER NOT NULL,
  listed INTEGER NOT NULL,
  read_at INTEGER,
  mail TEXT NOT NULL CHECK (mail IN ('off', 'waiting', 'sending', 'sent', 'failed')),
  daily INTEGER NOT NULL,
  due_at INTEGER NOT NULL,
  attempts INTEGER NOT NULL DEFAULT 0,
  trouble TEXT NOT NULL DEFAULT '',
  sent_at INTEGER,
  decide_by INTEGER NOT NULL DEFAULT 0,
  used_at INTEGER,
  UNIQUE (request, seq, person, kind, rung, task)
) STRICT, WITHOUT ROWID;
INSERT INTO messages SELECT * FROM messages_before;
DROP TABLE messages_before;
CREATE INDEX messages_person ON messages(person, at, id) WHERE listed = 1;
CREATE INDEX messages_unread ON messages(person) WHERE listed = 1 AND read_at IS NULL;
CREATE INDEX messages_due ON messages(mail, due_at);
CREATE INDEX messages_request ON messages(request);

-- Lists of tasks are ordered by when one must begin at the latest. Work is open
-- for people when it is 1.
ALTER TABLE tasks ADD COLUMN open INTEGER NOT NULL DEFAULT 0;
ALTER TABLE tasks ADD COLUMN latest_start INTEGER NOT NULL DEFAULT 0;
ALTER TABLE tasks ADD COLUMN due_at INTEGER NOT NULL DEFAULT 0; -- of its own or of the promise; 0 for none
UPDATE tasks SET open = 1, latest_start = since WHERE state IN ('taken', 'stuck') OR (state = 'ready' AND kind = 'manual');
DROP INDEX tasks_team;
CREATE INDEX tasks_team ON tasks(team, open, latest_start, request, key);
CREATE INDEX tasks_since ON tasks(team, open, since, request, key);
CREATE INDEX tasks_holder ON tasks(holder, open) WHERE holder <> '';
CREATE INDEX tasks_stuck ON tasks(state) WHERE state = 'stuck';

-- Those who are asked to confirm a part of a task.
CREATE TABLE task_people (
  request TEXT NOT NULL REFERENCES requests(id),
  task TEXT NOT NULL,
  person TEXT NOT NULL REFERENCES people(id),
  open INTEGER NOT NULL,
  PRIMARY KEY (request, task, person)
) STRICT, WITHOUT ROWID;
CREATE INDEX task_people_person ON task_people(person, open);

-- When a request is likely to be done, as of its event seq. Worked out after
-- each change, outside its transaction.
CREATE TABLE forecasts (
  request TEXT PRIMARY KEY REFERENCES requests(id),
  seq INTEGER NOT NULL,
  likely_at INTEGER NOT NULL, -- 0 for unknown
  due_at INTEGER NOT NULL -- of the promise; 0 for none
) STRICT, WITHOUT ROWID;
CREATE INDEX forecasts_due ON forecasts(due_at);
ALTER TABLE requests ADD COLUMN sent_at INTEGER NOT NULL DEFAULT 0;
CREATE INDEX requests_status ON requests(status, changed_at);
CREATE INDEX requests_service ON requests(service, id);

-- How long tasks and decisions of an offering took, in open milliseconds.
CREATE TABLE measures (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  offering TEXT NOT NULL,
  part TEXT NOT NULL CHECK (part IN ('task', 'rung')),
  key TEXT NOT NULL,
  took INTEGER NOT NULL
) STRICT;
CREATE INDEX measures_key ON measures(offering, part, key, id);

ALTER TABLE effects ADD COLUMN outputs TEXT NOT NULL DEFAULT 'null';
ALTER TABLE effects ADD COLUMN undoes TEXT NOT NULL DEFAULT ''; -- key of the call it undoes
ALTER TABLE effects ADD COLUMN trouble TEXT NOT NULL DEFAULT ''; -- of the last try
DROP INDEX effects_due;
CREATE INDEX effects_due ON effects(state, connector, due_at);

CREATE TABLE connectors (
  key TEXT PRIMARY KEY,
  url TEXT NOT NULL,
  secret BLOB, -- encrypted; null for none
  at_once INTEGER NOT NULL, -- calls at the same time
  hosts TEXT NOT NULL DEFAULT '', -- that it may call, one a line; of the web call
  changed_at INTEGER NOT NULL,
  success_at INTEGER, -- of the last call that succeeded
  trouble TEXT NOT NULL DEFAULT '', -- of the last call, empty when it succeeded
  trouble_at INTEGER
) STRICT, WITHOUT ROWID;

-- Reports from outside, taken or not.
CREATE TABLE reports (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  at INTEGER NOT NULL,
  connector TEXT NOT NULL,
  key TEXT NOT NULL,
  step TEXT NOT NULL,
  verdict TEXT NOT NULL,
  body TEXT NOT NULL
) STRICT;

-- Ways to look at the tasks of teams; of a person, or of a whole team.
CREATE TABLE views (
  id TEXT PRIMARY KEY,
  person TEXT NOT NULL REFERENCES people(id), -- who made it
  team TEXT NOT NULL, -- key of the team that has it; empty for their own
  name TEXT NOT NULL,
  query TEXT NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX views_person ON views(person);
CREATE INDEX views_team ON views(team) WHERE team <> '';

CREATE TABLE replies (
  id TEXT PRIMARY KEY,
  person TEXT NOT NULL REFERENCES people(id),
  team TEXT NOT NULL,
  offering TEXT NOT NULL, -- key; empty for all
  name TEXT NOT NULL,
  text TEXT NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX replies_person ON replies(person);
CREATE INDEX replies_team ON replies(team) WHERE team <> '';
