-- +goose Up
-- Facts of requests for measuring, made from their events and kept with them. Instants are
-- whole seconds since 1970 in UTC, 0 for none; lengths are whole seconds. They hold no
-- answers, no titles and no names.

CREATE TABLE facts_requests (
  number INTEGER PRIMARY KEY, -- in the reference
  offering TEXT NOT NULL,
  version INTEGER NOT NULL,
  service TEXT NOT NULL,
  asker TEXT NOT NULL,
  department TEXT NOT NULL, -- of the asker, as when they sent it; so are the next three
  location TEXT NOT NULL,
  cost_centre TEXT NOT NULL,
  employment TEXT NOT NULL,
  channel TEXT NOT NULL,
  door TEXT NOT NULL,
  impact TEXT NOT NULL,
  urgency TEXT NOT NULL,
  sent INTEGER NOT NULL,
  likely INTEGER NOT NULL, -- foreseen on sending
  sure INTEGER NOT NULL,
  status TEXT NOT NULL,
  outcome TEXT NOT NULL,
  decided INTEGER NOT NULL,
  planned INTEGER NOT NULL,
  delivered INTEGER NOT NULL,
  confirmed INTEGER NOT NULL,
  closed INTEGER NOT NULL,
  due INTEGER NOT NULL,
  speed TEXT NOT NULL,
  kept TEXT NOT NULL CHECK (kept IN ('', 'kept', 'missed', 'over')),
  used INTEGER NOT NULL, -- open time, by the clock of the delivery; so are the next five
  target INTEGER NOT NULL,
  deciding INTEGER NOT NULL,
  working INTEGER NOT NULL,
  asking INTEGER NOT NULL,
  waiting INTEGER NOT NULL,
  response_used INTEGER NOT NULL,
  response_target INTEGER NOT NULL,
  currency TEXT NOT NULL, -- ISO 4217
  cost INTEGER NOT NULL, -- minor units
  real INTEGER NOT NULL, -- minor units
  real_known INTEGER NOT NULL,
  backs INTEGER NOT NULL,
  asked INTEGER NOT NULL,
  by_people INTEGER NOT NULL,
  by_systems INTEGER NOT NULL,
  stuck INTEGER NOT NULL,
  hand INTEGER NOT NULL -- open time that people gave
) STRICT;
CREATE INDEX facts_requests_offering ON facts_requests(offering, number);

CREATE TABLE facts_tasks (
  number INTEGER NOT NULL,
  key TEXT NOT NULL,
  of TEXT NOT NULL,
  kind TEXT NOT NULL,
  team TEXT NOT NULL,
  connector TEXT NOT NULL,
  person TEXT NOT NULL,
  ready INTEGER NOT NULL,
  taken INTEGER NOT NULL,
  ended INTEGER NOT NULL,
  how TEXT NOT NULL,
  waited INTEGER NOT NULL, -- open time of the team; so are the next two
  worked INTEGER NOT NULL,
  paused INTEGER NOT NULL,
  hand INTEGER NOT NULL,
  handed INTEGER NOT NULL,
  first TEXT NOT NULL,
  due INTEGER NOT NULL,
  late INTEGER NOT NULL,
  tries INTEGER NOT NULL,
  stuck INTEGER NOT NULL,
  PRIMARY KEY (number, key)
) STRICT, WITHOUT ROWID;

CREATE INDEX facts_tasks_handed ON facts_tasks(ended) WHERE first <> '';

CREATE TABLE facts_votes (
  number INTEGER NOT NULL,
  seq INTEGER NOT NULL,
  rung TEXT NOT NULL,
  person TEXT NOT NULL,
  asked INTEGER NOT NULL,
  answered INTEGER NOT NULL,
  open INTEGER NOT NULL,
  role TEXT NOT NULL,
  outcome TEXT NOT NULL,
  PRIMARY KEY (number, seq)
) STRICT, WITHOUT ROWID;

CREATE TABLE facts_rungs (
  number INTEGER NOT NULL,
  seq INTEGER NOT NULL,
  rung TEXT NOT NULL,
  opened INTEGER NOT NULL,
  ended INTEGER NOT NULL,
  open INTEGER NOT NULL,
  outcome TEXT NOT NULL,
  silent INTEGER NOT NULL,
  PRIMARY KEY (number, seq)
) STRICT, WITHOUT ROWID;

CREATE TABLE facts_spells (
  number INTEGER NOT NULL,
  from_at INTEGER NOT NULL,
  until_at INTEGER NOT NULL, -- 0 while it lasts
  status TEXT NOT NULL,
  paused INTEGER NOT NULL,
  due INTEGER NOT NULL,
  late INTEGER NOT NULL,
  teams TEXT NOT NULL,
  PRIMARY KEY (number, from_at)
) STRICT, WITHOUT ROWID;

CREATE TABLE facts_ratings (
  number INTEGER NOT NULL,
  person TEXT NOT NULL,
  at INTEGER NOT NULL,
  stars INTEGER NOT NULL,
  PRIMARY KEY (number, person)
) STRICT, WITHOUT ROWID;

-- Of forms that were begun, without telling who: only while it is a draft the row knows it.
CREATE TABLE facts_forms (
  id INTEGER PRIMARY KEY,
  draft TEXT UNIQUE, -- ID; NULL once it is sent or thrown away
  offering TEXT NOT NULL,
  department TEXT NOT NULL,
  begun INTEGER NOT NULL,
  touched INTEGER NOT NULL,
  question TEXT NOT NULL, -- key of the one that was touched last
  ended INTEGER NOT NULL,
  sent INTEGER NOT NULL
) STRICT;
CREATE INDEX facts_forms_begun ON facts_forms(begun);

-- What was made of the facts so far: the form they have, and how far they are made anew.
CREATE TABLE facts_made (
  one INTEGER PRIMARY KEY CHECK (one = 1),
  form INTEGER NOT NULL, -- of the facts, as the program makes them; 0 for none
  upto INTEGER NOT NULL -- while they are made anew: the number of the last request that is done; -1 once all are
) STRICT;
INSERT INTO facts_made VALUES (1, 0, 0);

-- Offerings of which no record is shown.
CREATE INDEX offering_versions_quiet ON offering_versions(offering) WHERE json_extract(document, '$.audience.quiet');

-- What each person has in hand, and the open time that they gave to what they had.
CREATE TABLE hands (
  person TEXT PRIMARY KEY REFERENCES people(id),
  tasks INTEGER NOT NULL,
  worked INTEGER NOT NULL, -- ms
  at INTEGER NOT NULL -- ms UTC
) STRICT, WITHOUT ROWID;
INSERT INTO hands SELECT holder, count(*), 0, 0 FROM tasks WHERE state = 'taken' AND holder <> '' GROUP BY holder;

-- What people keep to look at and show to others.
CREATE TABLE boards (
  id TEXT PRIMARY KEY,
  owner TEXT NOT NULL REFERENCES people(id),
  document TEXT NOT NULL,
  sight TEXT NOT NULL, -- what its owner could measure when they saved it
  revision INTEGER NOT NULL,
  changed_at INTEGER NOT NULL, -- ms UTC
  wall BLOB, -- hash of the link that shows it without signing in; NULL for none
  mail_at INTEGER NOT NULL -- ms UTC, when it is sent next; 0 for never
) STRICT, WITHOUT ROWID;
CREATE INDEX boards_owner ON boards(owner);
CREATE UNIQUE INDEX boards_wall ON boards(wall) WHERE wall IS NOT NULL;
CREATE INDEX boards_mail ON boards(mail_at) WHERE mail_at > 0;

-- Boards as they were on a day.
CREATE TABLE board_copies (
  id TEXT PRIMARY KEY,
  board TEXT NOT NULL REFERENCES boards(id) ON DELETE CASCADE,
  day TEXT NOT NULL, -- RFC 3339, as of whose end it was counted
  made_at INTEGER NOT NULL, -- ms UTC
  made_by TEXT NOT NULL REFERENCES people(id),
  shown TEXT NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX board_copies_board ON board_copies(board, day);

-- What figures should be, and what was told of it.
CREATE TABLE targets (
  id TEXT PRIMARY KEY,
  person TEXT NOT NULL REFERENCES people(id),
  document TEXT NOT NULL,
  told TEXT NOT NULL, -- how it stood when it was told last; empty for well
  changed_at INTEGER NOT NULL -- ms UTC
) STRICT, WITHOUT ROWID;
CREATE INDEX targets_person ON targets(person);
