-- +goose Up
-- A real company: who it is, who may sign in, and who did what.

-- What the installation is told of the company it serves, and how far moving in is.
CREATE TABLE organisation (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  document TEXT NOT NULL,
  moved_in_at INTEGER -- null until then
) STRICT;

-- Acts that are no part of a request's history. Each row is chained to the one before
-- by a hash over its head and the hash of its body; the body may be forgotten.
CREATE TABLE audit (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  at INTEGER NOT NULL,
  actor TEXT NOT NULL, -- ID of a person; empty for the program
  session TEXT NOT NULL,
  act TEXT NOT NULL,
  thing TEXT NOT NULL,
  body_hash BLOB NOT NULL,
  chain BLOB NOT NULL
) STRICT;
CREATE INDEX audit_actor ON audit(actor, id);
CREATE INDEX audit_thing ON audit(thing, id);
CREATE INDEX audit_act ON audit(act, id);
CREATE TABLE audit_bodies (
  id INTEGER PRIMARY KEY REFERENCES audit(id),
  body TEXT NOT NULL
) STRICT;
-- +goose StatementBegin
CREATE TRIGGER audit_stays BEFORE UPDATE ON audit BEGIN
  SELECT RAISE(ABORT, 'the audit is only ever added to');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER audit_remains BEFORE DELETE ON audit BEGIN
  SELECT RAISE(ABORT, 'the audit is only ever added to');
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER audit_bodies_stay BEFORE UPDATE ON audit_bodies BEGIN
  SELECT RAISE(ABORT, 'the audit is only ever added to');
END;
-- +goose StatementEnd

-- How people sign in. Secrets are hashes, or encrypted.
CREATE TABLE credentials (
  person TEXT PRIMARY KEY REFERENCES people(id),
  password TEXT NOT NULL DEFAULT '', -- argon2id; empty for none
  factor BLOB, -- encrypted TOTP secret; null for none
  factor_step INTEGER NOT NULL DEFAULT 0, -- the last one used (RFC 6238)
  recovery TEXT NOT NULL DEFAULT '[]', -- hashes of the codes that are left
  changed_at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE TABLE subjects ( -- accounts of a sign-in service
  issuer TEXT NOT NULL,
  subject TEXT NOT NULL,
  person TEXT NOT NULL REFERENCES people(id),
  tied_at INTEGER NOT NULL,
  PRIMARY KEY (issuer, subject)
) STRICT, WITHOUT ROWID;
CREATE INDEX subjects_person ON subjects(person);
CREATE TABLE entry_links (
  hash BLOB PRIMARY KEY, -- of the token
  person TEXT REFERENCES people(id), -- null: whoever moves in
  until INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

ALTER TABLE people ADD COLUMN left_at INTEGER NOT NULL DEFAULT 0; -- 0 while they are there, or nobody knows
CREATE INDEX people_email ON people(email COLLATE NOCASE) WHERE email <> '';
CREATE INDEX people_left ON people(left_at) WHERE left_at > 0;

-- Services are designed by several, and carry more of what people look for.
ALTER TABLE services ADD COLUMN editors TEXT NOT NULL DEFAULT ''; -- IDs, with spaces between them
ALTER TABLE services ADD COLUMN second INTEGER NOT NULL DEFAULT 0; -- 1: publishing needs another's yes
ALTER TABLE services ADD COLUMN picture TEXT NOT NULL DEFAULT '';
ALTER TABLE services ADD COLUMN words TEXT NOT NULL DEFAULT '';
ALTER TABLE services ADD COLUMN starts TEXT NOT NULL DEFAULT ''; -- dates, RFC 3339; empty for none
ALTER TABLE services ADD COLUMN review TEXT NOT NULL DEFAULT '';

-- A draft that waits for another's yes to be published, in one revision.
CREATE TABLE publishing_asked (
  offering TEXT PRIMARY KEY,
  revision INTEGER NOT NULL,
  accepted TEXT NOT NULL, -- names of warnings
  publish_at INTEGER NOT NULL, -- 0 for at once
  asked_by TEXT NOT NULL REFERENCES people(id),
  asked_at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

-- What people want those to know who have a task for them; nobody else reads it.
CREATE TABLE profiles (
  person TEXT PRIMARY KEY REFERENCES people(id),
  address TEXT NOT NULL, -- how to address them
  reach TEXT NOT NULL, -- when they can be reached
  help TEXT NOT NULL, -- what help they need
  changed_at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

-- Who is to become inactive and waits for an administrator's yes, as there are many at once.
CREATE TABLE leaving (
  person TEXT PRIMARY KEY REFERENCES people(id),
  asked_by TEXT NOT NULL,
  asked_at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

-- Roles that wait for another administrator's yes.
CREATE TABLE roles_asked (
  person TEXT NOT NULL REFERENCES people(id),
  role TEXT NOT NULL,
  asked_by TEXT NOT NULL REFERENCES people(id),
  asked_at INTEGER NOT NULL,
  PRIMARY KEY (person, role)
) STRICT, WITHOUT ROWID;

-- Sheets that are being looked through. The content is a file of its own in the folder
-- sheets, under the ID.
CREATE TABLE sheets (
  id TEXT PRIMARY KEY,
  kind TEXT NOT NULL,
  name TEXT NOT NULL,
  mended TEXT NOT NULL DEFAULT '{}', -- what somebody has said of its columns and cells
  added_by TEXT NOT NULL REFERENCES people(id),
  added_at INTEGER NOT NULL,
  done_at INTEGER -- null until it was done
) STRICT, WITHOUT ROWID;
CREATE INDEX sheets_added ON sheets(added_at);

-- That the data comes from a backup: until somebody says yes, nothing of it goes out.
CREATE TABLE restored (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  made_at INTEGER NOT NULL, -- the backup
  restored_at INTEGER NOT NULL,
  let_go_at INTEGER -- null until then
) STRICT;

-- By what a key is told from another one; it opens nothing.
CREATE TABLE key_marks (
  name TEXT PRIMARY KEY,
  mark BLOB NOT NULL
) STRICT, WITHOUT ROWID;

-- History is chained, too. What is there gets its links in the migration that follows.
DROP TRIGGER events_stay;
ALTER TABLE events ADD COLUMN chain BLOB;
