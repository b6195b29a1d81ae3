-- +goose Up
-- Closed doors: who made what, what is set aside, secrets and private answers,
-- grants of actions to services.

-- Who keeps a calendar or a shared question beside the administrators; empty
-- for the company's own. Who changed it last, and when.
ALTER TABLE calendars ADD COLUMN keeper TEXT NOT NULL DEFAULT '';
ALTER TABLE calendars ADD COLUMN changed_by TEXT NOT NULL DEFAULT '';
ALTER TABLE shared_questions ADD COLUMN keeper TEXT NOT NULL DEFAULT '';
UPDATE shared_questions SET keeper = changed_by;

-- Work that goes on by itself and could not be done for a reason of its own:
-- it waits here until somebody tries it again.
CREATE TABLE set_aside (
  lane TEXT NOT NULL, -- what was to be done, such as effect, forecast or publishing
  id TEXT NOT NULL, -- of the record
  reason TEXT NOT NULL,
  at INTEGER NOT NULL,
  PRIMARY KEY (lane, id)
) STRICT, WITHOUT ROWID;

-- When the work that goes on by itself stood still, and why.
CREATE TABLE standstills (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  from_at INTEGER NOT NULL,
  until_at INTEGER NOT NULL,
  reason TEXT NOT NULL,
  due INTEGER NOT NULL DEFAULT 0 -- how much fell due meanwhile
) STRICT;

-- Reports from outside whose signature was wrong: counted, not kept.
CREATE TABLE forgeries (
  connector TEXT PRIMARY KEY,
  count INTEGER NOT NULL,
  last_at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

-- Values that stand nowhere else: private answers, and secrets that came out of
-- tasks. They are encrypted; each reading is kept.
CREATE TABLE sealed (
  request TEXT NOT NULL REFERENCES requests(id),
  part TEXT NOT NULL CHECK (part IN ('answer', 'output')),
  task TEXT NOT NULL, -- key, of an output; empty for an answer
  key TEXT NOT NULL, -- of the question or the output
  value BLOB NOT NULL,
  person TEXT NOT NULL, -- whom a secret is for; empty for an answer
  kept_at INTEGER NOT NULL,
  until_at INTEGER NOT NULL, -- when a secret is forgotten; 0 for an answer
  PRIMARY KEY (request, part, task, key)
) STRICT, WITHOUT ROWID;
CREATE INDEX sealed_person ON sealed(person) WHERE person <> '';
CREATE INDEX sealed_until ON sealed(until_at) WHERE until_at > 0;
CREATE TABLE readings (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  request TEXT NOT NULL REFERENCES requests(id),
  part TEXT NOT NULL,
  task TEXT NOT NULL,
  key TEXT NOT NULL,
  person TEXT NOT NULL REFERENCES people(id),
  as_what TEXT NOT NULL, -- asker, the key of a task, or rung/ and the key of a rung
  at INTEGER NOT NULL
) STRICT;
CREATE INDEX readings_request ON readings(request, id);
-- +goose StatementBegin
CREATE TRIGGER readings_stay BEFORE UPDATE ON readings BEGIN
  SELECT RAISE(ABORT, 'readings are only ever added to');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER readings_remain BEFORE DELETE ON readings BEGIN
  SELECT RAISE(ABORT, 'readings are only ever added to');
END;
-- +goose StatementEnd

-- What actions of connectors the offerings of a service may use.
CREATE TABLE grants (
  service TEXT NOT NULL REFERENCES services(key),
  connector TEXT NOT NULL,
  action TEXT NOT NULL,
  terms TEXT NOT NULL, -- JSON: what each input may be
  granted_by TEXT NOT NULL, -- ID of a person; empty for the program
  granted_at INTEGER NOT NULL,
  PRIMARY KEY (service, connector, action)
) STRICT, WITHOUT ROWID;
ALTER TABLE connectors ADD COLUMN sensitive TEXT NOT NULL DEFAULT ''; -- values that need more care, one a line

-- Who has written each version of an offering: they never decide on what is
-- sensitive in it, nor in what has come of it.
CREATE TABLE offering_editors (
  offering TEXT NOT NULL,
  number INTEGER NOT NULL,
  person TEXT NOT NULL REFERENCES people(id),
  PRIMARY KEY (offering, number, person)
) STRICT, WITHOUT ROWID;
INSERT INTO offering_editors SELECT offering, number, changed_by FROM offering_versions;
-- +goose StatementBegin
CREATE TRIGGER offering_begun AFTER INSERT ON offering_versions BEGIN
  INSERT OR IGNORE INTO offering_editors VALUES (NEW.offering, NEW.number, NEW.changed_by);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER offering_changed AFTER UPDATE OF changed_by ON offering_versions BEGIN
  INSERT OR IGNORE INTO offering_editors VALUES (NEW.offering, NEW.number, NEW.changed_by);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER offering_dropped AFTER DELETE ON offering_versions BEGIN
  DELETE FROM offering_editors WHERE offering = OLD.offering AND number = OLD.number;
END;
-- +goose StatementEnd
