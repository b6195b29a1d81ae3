-- +goose Up

-- States, briefs, histories and messages are packed: see packed.go. SQL reads them with
-- unpacked(column).
ALTER TABLE requests ADD COLUMN packed_state BLOB NOT NULL DEFAULT x'';
ALTER TABLE requests ADD COLUMN packed_brief BLOB NOT NULL DEFAULT x'';
UPDATE requests SET packed_state = packed('states', state), packed_brief = CASE brief WHEN '' THEN x'' ELSE packed('states', brief) END;
ALTER TABLE requests DROP COLUMN state;
ALTER TABLE requests DROP COLUMN brief;
ALTER TABLE requests RENAME COLUMN packed_state TO state;
ALTER TABLE requests RENAME COLUMN packed_brief TO brief;

CREATE TABLE packed_events (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  request TEXT NOT NULL REFERENCES requests(id),
  seq INTEGER NOT NULL,
  at INTEGER NOT NULL,
  event BLOB NOT NULL, -- packed: its kind, its actor and its body, each after a line feed
  chain BLOB NOT NULL,
  UNIQUE (request, seq)
) STRICT;
INSERT INTO packed_events SELECT id, request, seq, at, packed('events', kind || char(10) || actor || char(10) || body), chain FROM events ORDER BY id;
DROP TABLE events;
ALTER TABLE packed_events RENAME TO events;
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

CREATE TABLE numbered_versions (
  id INTEGER PRIMARY KEY,
  version TEXT NOT NULL UNIQUE,
  kind TEXT NOT NULL,
  subject TEXT NOT NULL,
  body TEXT NOT NULL
) STRICT;
INSERT INTO numbered_versions (version, kind, subject, body) SELECT version, kind, subject, body FROM message_versions;
DROP TABLE message_versions;
ALTER TABLE numbered_versions RENAME TO message_versions;

-- What people are told of one event in the same words stands once. Words of later events
-- have greater numbers.
CREATE TABLE message_words (
  id INTEGER PRIMARY KEY,
  request TEXT REFERENCES requests(id),
  seq INTEGER NOT NULL,
  kind TEXT NOT NULL,
  rung TEXT NOT NULL,
  task TEXT NOT NULL,
  words BLOB NOT NULL, -- packed: subject, a line feed, and body
  at INTEGER NOT NULL,
  text INTEGER REFERENCES message_versions(id) -- that was filled in; nothing before there were versions
) STRICT;
CREATE TABLE told (
  person TEXT NOT NULL REFERENCES people(id),
  words INTEGER NOT NULL REFERENCES message_words(id),
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
  PRIMARY KEY (person, words)
) STRICT, WITHOUT ROWID;
-- Mails of before lead to messages by the names these had.
CREATE TABLE message_names (
  name TEXT PRIMARY KEY,
  person TEXT NOT NULL,
  words INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE numbered AS SELECT id, row_number() OVER (ORDER BY at, id) AS number FROM messages;
CREATE UNIQUE INDEX numbered_id ON numbered(id);
CREATE TABLE first_of AS SELECT min(n.number) AS number, m.request, m.seq, m.kind, m.rung, m.task, m.subject, m.body, m.at, m.text
  FROM messages m JOIN numbered n ON n.id = m.id
  GROUP BY m.request, m.seq, m.kind, m.rung, m.task, m.subject, m.body, m.at, m.text, CASE WHEN m.request IS NULL THEN m.id END;
INSERT INTO message_words (id, request, seq, kind, rung, task, words, at, text)
  SELECT number, request, seq, kind, rung, task, packed('words', CAST(subject || char(10) || body AS BLOB)), at, (SELECT v.id FROM message_versions v WHERE v.version = first_of.text) FROM first_of ORDER BY number;
CREATE INDEX message_words_request ON message_words(request, seq) WHERE request IS NOT NULL;
CREATE INDEX first_of_request ON first_of(request, seq);
CREATE TABLE named AS SELECT m.id, m.person, coalesce((SELECT f.number FROM first_of f WHERE f.request = m.request AND f.seq = m.seq
    AND f.kind = m.kind AND f.rung = m.rung AND f.task = m.task AND f.subject = m.subject AND f.body = m.body AND f.at = m.at AND f.text = m.text), n.number) AS words
  FROM messages m JOIN numbered n ON n.id = m.id;
CREATE UNIQUE INDEX named_id ON named(id);
INSERT INTO told SELECT n.person, n.words, m.listed, m.read_at, m.mail, m.daily, CASE m.mail WHEN 'off' THEN 0 ELSE m.due_at END, m.attempts, m.trouble, m.sent_at, m.decide_by, m.used_at
  FROM named n JOIN messages m ON m.id = n.id;
INSERT INTO message_names SELECT n.id, n.person, n.words FROM named n JOIN messages m ON m.id = n.id WHERE m.mail <> 'off';
UPDATE set_aside SET id = (SELECT n.words || '.' || n.person FROM named n WHERE n.id = set_aside.id)
  WHERE lane = 'mail' AND id IN (SELECT id FROM named);
DROP TABLE named;
DROP TABLE first_of;
DROP TABLE numbered;
DROP TABLE messages;
ALTER TABLE told RENAME TO messages;
CREATE INDEX messages_unread ON messages(person) WHERE listed = 1 AND read_at IS NULL;
CREATE INDEX messages_due ON messages(due_at) WHERE mail = 'waiting';
CREATE INDEX messages_sending ON messages(mail) WHERE mail = 'sending';
CREATE INDEX messages_mailed ON messages(words) WHERE mail <> 'off';

-- Effects that are done stay, and are never looked for but by their key.
DROP INDEX effects_due;
CREATE INDEX effects_due ON effects(connector, due_at) WHERE state = 'waiting';
CREATE INDEX effects_running ON effects(key) WHERE state = 'running';
CREATE INDEX effects_calls ON effects(state, due_at) WHERE kind = 'call' AND state <> 'done';

-- What is of a service is found from the last sent on.
DROP INDEX requests_service;
CREATE INDEX requests_service ON requests(service, number);

-- What is under way is read as a whole, once.
DROP INDEX requests_open;
CREATE INDEX requests_open ON requests(id) WHERE status NOT IN ('draft', 'closed');

-- What has ended is not foreseen.
DROP INDEX forecasts_due;
DELETE FROM forecasts WHERE request IN (SELECT id FROM requests WHERE status = 'closed');

-- Only open tasks are listed.
DROP INDEX tasks_team;
DROP INDEX tasks_since;
CREATE INDEX tasks_team ON tasks(team, place, request, key) WHERE open = 1;
CREATE INDEX tasks_since ON tasks(team, since, request, key) WHERE open = 1;
DROP INDEX tasks_holder;
CREATE INDEX tasks_holder ON tasks(holder) WHERE open = 1;
