-- +goose Up
-- Calendars keep their versions, clocks what they showed when they ended,
-- forecasts go stale.

-- A change of a calendar counts from when it was made. What is there holds from
-- the beginning.
CREATE TABLE calendar_versions (
  key TEXT NOT NULL,
  made_at INTEGER NOT NULL,
  document TEXT NOT NULL, -- heptad/calendar/1
  made_by TEXT NOT NULL, -- ID; empty for the program
  PRIMARY KEY (key, made_at)
) STRICT, WITHOUT ROWID;
INSERT INTO calendar_versions SELECT key, 0, document, changed_by FROM calendars;

-- 1 once what its clocks showed when they ended is in its history, as far as they
-- have ended.
ALTER TABLE requests ADD COLUMN clocks INTEGER NOT NULL DEFAULT 1;
UPDATE requests SET clocks = 0 WHERE reference IS NOT NULL;
CREATE INDEX requests_clocks ON requests(id) WHERE clocks = 0;

-- Lists of tasks are ordered by a place: latest_start, what is stuck before all.
ALTER TABLE tasks ADD COLUMN place INTEGER NOT NULL DEFAULT 0;
UPDATE tasks SET place = latest_start;
DROP INDEX tasks_team;
CREATE INDEX tasks_team ON tasks(team, open, place, request, key);

ALTER TABLE effects ADD COLUMN within INTEGER NOT NULL DEFAULT 10000; -- milliseconds that one call may take

-- How long it took until what was stuck was done is measured, too.
ALTER TABLE measures RENAME TO measures_before;
DROP INDEX measures_key;
CREATE TABLE measures (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  offering TEXT NOT NULL,
  part TEXT NOT NULL CHECK (part IN ('task', 'rescue', 'rung')),
  key TEXT NOT NULL,
  took INTEGER NOT NULL
) STRICT;
INSERT INTO measures SELECT id, offering, part, key, took FROM measures_before;
DROP TABLE measures_before;
CREATE INDEX measures_key ON measures(offering, part, key, id);

-- Sessions stand in a file of their own.
DROP TABLE sessions;

-- Who wants to hear no news of a request.
CREATE TABLE silenced (
  request TEXT NOT NULL REFERENCES requests(id),
  person TEXT NOT NULL REFERENCES people(id),
  PRIMARY KEY (request, person)
) STRICT, WITHOUT ROWID;

-- When it is late, as of now, and when it is foreseen anew.
DROP TABLE forecasts;
CREATE TABLE forecasts (
  request TEXT PRIMARY KEY REFERENCES requests(id),
  seq INTEGER NOT NULL,
  likely_at INTEGER NOT NULL, -- 0 for unknown
  due_at INTEGER NOT NULL, -- of the promise; 0 for none
  late_at INTEGER NOT NULL, -- the first open instant after it is due; 0 for none
  next_at INTEGER NOT NULL -- when it is worked out anew; 0 for when something happens
) STRICT, WITHOUT ROWID;
CREATE INDEX forecasts_due ON forecasts(due_at);
CREATE INDEX forecasts_next ON forecasts(next_at) WHERE next_at > 0;

-- The search reads the catalog; what people looked for is remembered.
DROP TABLE offering_search;
DROP TABLE search_words;
ALTER TABLE catalog ADD COLUMN catch_all INTEGER NOT NULL DEFAULT 0;
ALTER TABLE catalog ADD COLUMN details TEXT NOT NULL DEFAULT ''; -- what can be picked and is asked
ALTER TABLE catalog ADD COLUMN articles TEXT NOT NULL DEFAULT '[]';
UPDATE catalog SET (details, articles) = (SELECT
  coalesce((SELECT group_concat(value ->> '$.name', ' · ') FROM json_each(v.document, '$.items.list')), '') || ' · ' ||
  coalesce((SELECT group_concat(value ->> '$.label', ' · ') FROM json_each(v.document, '$.questions')), ''),
  coalesce(v.document -> '$.purpose.articles', '[]')
  FROM offering_versions v WHERE v.offering = catalog.offering AND v.number = catalog.number);

-- Each sentence of a person once. Who it was is a keyed hash of person and words,
-- only to count different people.
CREATE TABLE searches (
  hash BLOB PRIMARY KEY,
  words TEXT NOT NULL,
  found INTEGER NOT NULL, -- how many
  opened TEXT NOT NULL, -- offering; empty for none
  sent INTEGER NOT NULL, -- 1 once a request came of it
  department TEXT NOT NULL,
  at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX searches_at ON searches(at);

-- The stems with which people went on to send an offering, each person once.
CREATE TABLE learned_words (
  offering TEXT NOT NULL,
  stem TEXT NOT NULL,
  hash BLOB NOT NULL,
  PRIMARY KEY (offering, stem, hash)
) STRICT, WITHOUT ROWID;

-- The version of the offering that a draft was saved with; 0 for unknown.
ALTER TABLE drafts ADD COLUMN version INTEGER NOT NULL DEFAULT 0;

-- A message keeps the version of the text it was written from; empty before.
CREATE TABLE message_versions (
  version TEXT PRIMARY KEY,
  kind TEXT NOT NULL,
  subject TEXT NOT NULL,
  body TEXT NOT NULL
) STRICT, WITHOUT ROWID;
ALTER TABLE messages ADD COLUMN text TEXT NOT NULL DEFAULT '';

-- Offerings of one name in a service are found.
CREATE INDEX offering_versions_service ON offering_versions(service, name);

-- Requests are found by columns and by the words of their title and of the people
-- they are about. The number is that of the reference.
ALTER TABLE requests ADD COLUMN number INTEGER;
ALTER TABLE requests ADD COLUMN whom TEXT REFERENCES people(id); -- whom it is for, told or not
ALTER TABLE requests ADD COLUMN newcomer TEXT NOT NULL DEFAULT ''; -- name of somebody new whom it is for
UPDATE requests SET
  number = CAST(substr(reference, instr(reference, '-') + 1) AS INTEGER),
  whom = (SELECT id FROM people WHERE id = json_extract(state, '$.for.person')),
  newcomer = coalesce(json_extract(state, '$.for.newcomer.name'), '')
WHERE reference IS NOT NULL AND json_valid(state);
CREATE INDEX requests_number ON requests(number, status, service, asker, beneficiary, id) WHERE number IS NOT NULL;
CREATE INDEX requests_open ON requests(status, service, asker, beneficiary, number, changed_at, id);
CREATE INDEX requests_whom ON requests(whom) WHERE whom IS NOT NULL;
CREATE VIRTUAL TABLE found USING fts5(words, content='', contentless_delete=1, detail=none, prefix='2 3 4', tokenize='unicode61 remove_diacritics 2');
CREATE VIRTUAL TABLE found_terms USING fts5vocab(found, 'row');
CREATE VIEW request_words AS
  SELECT r.number, r.asker, r.whom, r.title || ' ' || p.name || ' ' || coalesce(b.name, '') || ' ' || r.newcomer AS words
  FROM requests r CROSS JOIN people p ON p.id = r.asker LEFT JOIN people b ON b.id = r.whom WHERE r.number IS NOT NULL;
INSERT INTO found (rowid, words) SELECT number, words FROM request_words;
-- +goose StatementBegin
CREATE TRIGGER request_sent AFTER INSERT ON requests WHEN NEW.number IS NOT NULL BEGIN
  INSERT INTO found (rowid, words) SELECT number, words FROM request_words WHERE number = NEW.number;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER request_named AFTER UPDATE OF title, number, whom, newcomer ON requests
  WHEN NEW.number IS NOT NULL AND (OLD.number IS NOT NEW.number OR OLD.title <> NEW.title OR OLD.whom IS NOT NEW.whom OR OLD.newcomer <> NEW.newcomer) BEGIN
  DELETE FROM found WHERE rowid = NEW.number;
  INSERT INTO found (rowid, words) SELECT number, words FROM request_words WHERE number = NEW.number;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER person_renamed AFTER UPDATE OF name ON people WHEN OLD.name <> NEW.name BEGIN
  DELETE FROM found WHERE rowid IN (SELECT number FROM requests WHERE number IS NOT NULL AND (asker = NEW.id OR whom = NEW.id));
  INSERT INTO found (rowid, words) SELECT number, words FROM request_words WHERE asker = NEW.id OR whom = NEW.id;
END;
-- +goose StatementEnd
