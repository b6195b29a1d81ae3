-- +goose Up

-- What has changed of the company since the program read it: the ID of a person, or nothing
-- for all else. Old lines go: who missed them reads everything.
CREATE TABLE company_changes (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  person TEXT NOT NULL
) STRICT;
-- +goose StatementBegin
CREATE TRIGGER company_changes_kept AFTER INSERT ON company_changes WHEN NEW.id % 100 = 0 BEGIN
  DELETE FROM company_changes WHERE id <= NEW.id - 2000;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER people_made AFTER INSERT ON people BEGIN INSERT INTO company_changes (person) VALUES (NEW.id); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER people_changed AFTER UPDATE ON people BEGIN INSERT INTO company_changes (person) VALUES (NEW.id); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER people_gone AFTER DELETE ON people BEGIN INSERT INTO company_changes (person) VALUES (OLD.id); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER members_made AFTER INSERT ON team_members BEGIN INSERT INTO company_changes (person) VALUES (NEW.person); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER members_changed AFTER UPDATE ON team_members BEGIN INSERT INTO company_changes (person) VALUES (OLD.person), (NEW.person); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER members_gone AFTER DELETE ON team_members BEGIN INSERT INTO company_changes (person) VALUES (OLD.person); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER profiles_made AFTER INSERT ON profiles BEGIN INSERT INTO company_changes (person) VALUES (NEW.person); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER profiles_changed AFTER UPDATE ON profiles BEGIN INSERT INTO company_changes (person) VALUES (NEW.person); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER profiles_gone AFTER DELETE ON profiles BEGIN INSERT INTO company_changes (person) VALUES (OLD.person); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER teams_made AFTER INSERT ON teams BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER teams_changed AFTER UPDATE ON teams BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER teams_gone AFTER DELETE ON teams BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER services_made AFTER INSERT ON services BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER services_changed AFTER UPDATE ON services BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER services_gone AFTER DELETE ON services BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER areas_made AFTER INSERT ON areas BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER areas_changed AFTER UPDATE ON areas BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER areas_gone AFTER DELETE ON areas BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_centres_made AFTER INSERT ON cost_centres BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_centres_changed AFTER UPDATE ON cost_centres BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER cost_centres_gone AFTER DELETE ON cost_centres BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER locations_made AFTER INSERT ON locations BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER locations_changed AFTER UPDATE ON locations BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER locations_gone AFTER DELETE ON locations BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER pools_made AFTER INSERT ON pools BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER pools_changed AFTER UPDATE ON pools BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER pools_gone AFTER DELETE ON pools BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bundles_made AFTER INSERT ON bundles BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bundles_changed AFTER UPDATE ON bundles BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bundles_gone AFTER DELETE ON bundles BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER calendar_versions_made AFTER INSERT ON calendar_versions BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER calendar_versions_changed AFTER UPDATE ON calendar_versions BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER calendar_versions_gone AFTER DELETE ON calendar_versions BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER organisation_made AFTER INSERT ON organisation BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER organisation_changed AFTER UPDATE ON organisation BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER organisation_gone AFTER DELETE ON organisation BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER grants_made AFTER INSERT ON grants BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER grants_changed AFTER UPDATE ON grants BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER grants_gone AFTER DELETE ON grants BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER connectors_made AFTER INSERT ON connectors BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER connectors_changed AFTER UPDATE OF sensitive ON connectors BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER connectors_gone AFTER DELETE ON connectors BEGIN INSERT INTO company_changes (person) VALUES (''); END;
-- +goose StatementEnd

-- What is asked of all offerings at once: which teams the plan gives tasks to, what people
-- have that it fits, and which promises end.
ALTER TABLE catalog ADD COLUMN teams TEXT NOT NULL DEFAULT '[]';
ALTER TABLE catalog ADD COLUMN fits TEXT NOT NULL DEFAULT '[]';
ALTER TABLE catalog ADD COLUMN dated TEXT NOT NULL DEFAULT ''; -- the promises that end or are to be looked at again, JSON; empty for none
UPDATE catalog SET (teams, fits, dated) = (SELECT
  (SELECT json_group_array(team) FROM (
    SELECT t.value ->> '$.team' AS team FROM json_each(v.document, '$.plan') t
    UNION SELECT r.value ->> '$.team' FROM json_each(v.document, '$.plan') t, json_each(t.value, '$.routes') r
  ) WHERE team <> ''),
  coalesce(v.document -> '$.purpose.fits', '[]'),
  CASE WHEN v.document LIKE '%"validUntil"%' OR v.document LIKE '%"review"%' THEN v.document -> '$.promise' ELSE '' END
  FROM offering_versions v WHERE v.offering = catalog.offering AND v.number = catalog.number);

-- How often a person, or people of a department, have asked for an offering in a week.
CREATE TABLE asked_weeks (
  whose TEXT NOT NULL, -- 'p' and the ID of a person, or 'd' and a department
  week INTEGER NOT NULL, -- since 1970, of when it was sent
  offering TEXT NOT NULL,
  count INTEGER NOT NULL,
  PRIMARY KEY (whose, week, offering)
) STRICT, WITHOUT ROWID;
INSERT INTO asked_weeks SELECT 'p' || asker, sent_at / 604800000, offering, count(*) FROM requests WHERE number IS NOT NULL GROUP BY 1, 2, 3;
INSERT INTO asked_weeks SELECT 'd' || p.department, r.sent_at / 604800000, r.offering, count(*)
  FROM requests r JOIN people p ON p.id = r.asker WHERE r.number IS NOT NULL AND p.department <> '' GROUP BY 1, 2, 3;
-- +goose StatementBegin
CREATE TRIGGER asked_at_once AFTER INSERT ON requests WHEN NEW.number IS NOT NULL BEGIN
  INSERT INTO asked_weeks SELECT 'p' || NEW.asker, NEW.sent_at / 604800000, NEW.offering, 1 UNION ALL
    SELECT 'd' || department, NEW.sent_at / 604800000, NEW.offering, 1 FROM people WHERE id = NEW.asker AND department <> ''
    ON CONFLICT DO UPDATE SET count = count + 1;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER asked AFTER UPDATE OF number ON requests WHEN OLD.number IS NULL AND NEW.number IS NOT NULL BEGIN
  INSERT INTO asked_weeks SELECT 'p' || NEW.asker, NEW.sent_at / 604800000, NEW.offering, 1 UNION ALL
    SELECT 'd' || department, NEW.sent_at / 604800000, NEW.offering, 1 FROM people WHERE id = NEW.asker AND department <> ''
    ON CONFLICT DO UPDATE SET count = count + 1;
END;
-- +goose StatementEnd

-- What lists read: of a state what a line says of it, and of a forecast. The runner works all
-- forecasts out again; a state of before gets its line with its next change.
ALTER TABLE requests ADD COLUMN brief TEXT NOT NULL DEFAULT '';
ALTER TABLE forecasts ADD COLUMN outlook TEXT NOT NULL DEFAULT '';
UPDATE forecasts SET seq = 0;

CREATE INDEX tasks_stuck_calls ON tasks(since) WHERE kind = 'automatic' AND (state = 'stuck' OR (state = 'undoing' AND open = 1));
CREATE INDEX offering_versions_listed ON offering_versions(service, state, offering, number, name, publish_at, changed_at) WHERE state IN ('draft', 'current');

-- A person's own requests: what is under way is few, what is closed is read from the last on
-- and never counted one by one.
CREATE INDEX requests_asker_open ON requests(asker) WHERE status <> 'closed';
CREATE INDEX requests_beneficiary_open ON requests(beneficiary) WHERE status <> 'closed' AND beneficiary IS NOT NULL;
CREATE INDEX requests_asker_closed ON requests(asker, changed_at, id) WHERE status = 'closed' AND reference IS NOT NULL;
CREATE INDEX requests_beneficiary_closed ON requests(beneficiary, changed_at, id) WHERE status = 'closed' AND reference IS NOT NULL AND beneficiary IS NOT NULL;
CREATE INDEX seats_decided ON seats(person, since, request, rung) WHERE state IN ('approve', 'decline');
CREATE TABLE closed_counts (
  person TEXT PRIMARY KEY,
  count INTEGER NOT NULL -- of the closed requests they have asked for, get, or follow
) STRICT, WITHOUT ROWID;
CREATE VIEW closed_of AS
  SELECT id AS request, asker AS person FROM requests WHERE status = 'closed' AND reference IS NOT NULL
  UNION SELECT id, beneficiary FROM requests WHERE status = 'closed' AND reference IS NOT NULL AND beneficiary IS NOT NULL
  UNION SELECT w.request, w.person FROM followers w JOIN requests r ON r.id = w.request WHERE r.status = 'closed' AND r.reference IS NOT NULL;
INSERT INTO closed_counts SELECT person, count(*) FROM closed_of GROUP BY person;
-- +goose StatementBegin
CREATE TRIGGER closed_at_once AFTER INSERT ON requests WHEN NEW.status = 'closed' AND NEW.reference IS NOT NULL BEGIN
  INSERT INTO closed_counts SELECT NEW.asker, 1 UNION SELECT NEW.beneficiary, 1 WHERE NEW.beneficiary IS NOT NULL
    ON CONFLICT DO UPDATE SET count = count + 1;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER closed_no_more AFTER UPDATE OF status, reference, asker, beneficiary ON requests
  WHEN OLD.status = 'closed' AND OLD.reference IS NOT NULL AND (NEW.status <> 'closed' OR NEW.asker <> OLD.asker OR NEW.beneficiary IS NOT OLD.beneficiary) BEGIN
  UPDATE closed_counts SET count = count - 1 WHERE person IN (OLD.asker, OLD.beneficiary) OR person IN (SELECT person FROM followers WHERE request = OLD.id);
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER closed_now AFTER UPDATE OF status, reference, asker, beneficiary ON requests
  WHEN NEW.status = 'closed' AND NEW.reference IS NOT NULL AND (OLD.status <> 'closed' OR NEW.asker <> OLD.asker OR NEW.beneficiary IS NOT OLD.beneficiary) BEGIN
  INSERT INTO closed_counts SELECT NEW.asker, 1 UNION SELECT NEW.beneficiary, 1 WHERE NEW.beneficiary IS NOT NULL
    UNION SELECT person, 1 FROM followers WHERE request = NEW.id
    ON CONFLICT DO UPDATE SET count = count + 1;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER follows_closed AFTER INSERT ON followers BEGIN
  INSERT INTO closed_counts SELECT NEW.person, 1 FROM requests WHERE id = NEW.request AND status = 'closed' AND reference IS NOT NULL AND asker <> NEW.person AND beneficiary IS NOT NEW.person
    ON CONFLICT DO UPDATE SET count = count + 1;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER follows_closed_no_more AFTER DELETE ON followers BEGIN
  UPDATE closed_counts SET count = count - 1 WHERE person = OLD.person
    AND EXISTS (SELECT 1 FROM requests WHERE id = OLD.request AND status = 'closed' AND reference IS NOT NULL AND asker <> OLD.person AND beneficiary IS NOT OLD.person);
END;
-- +goose StatementEnd

-- The words of what is under way stand apart from those of all that ever was.
CREATE VIRTUAL TABLE found_open USING fts5(words, content='', contentless_delete=1, detail=none, prefix='2 3 4', tokenize='unicode61 remove_diacritics 2');
INSERT INTO found_open (rowid, words) SELECT w.number, w.words FROM request_words w WHERE w.number IN (SELECT number FROM requests WHERE number IS NOT NULL AND status <> 'closed');
-- +goose StatementBegin
CREATE TRIGGER open_now AFTER UPDATE OF status, number ON requests
  WHEN NEW.number IS NOT NULL AND NEW.status <> 'closed' AND (OLD.number IS NULL OR OLD.status = 'closed') BEGIN
  INSERT INTO found_open (rowid, words) SELECT number, words FROM request_words WHERE number = NEW.number;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER open_at_once AFTER INSERT ON requests WHEN NEW.number IS NOT NULL AND NEW.status <> 'closed' BEGIN
  INSERT INTO found_open (rowid, words) SELECT number, words FROM request_words WHERE number = NEW.number;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER open_no_more AFTER UPDATE OF status ON requests WHEN NEW.number IS NOT NULL AND NEW.status = 'closed' AND OLD.status <> 'closed' BEGIN
  DELETE FROM found_open WHERE rowid = NEW.number;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER open_named AFTER UPDATE OF title, whom, newcomer ON requests
  WHEN NEW.number IS NOT NULL AND OLD.number IS NOT NULL AND NEW.status <> 'closed' AND OLD.status <> 'closed' AND (OLD.title <> NEW.title OR OLD.whom IS NOT NEW.whom OR OLD.newcomer <> NEW.newcomer) BEGIN
  DELETE FROM found_open WHERE rowid = NEW.number;
  INSERT INTO found_open (rowid, words) SELECT number, words FROM request_words WHERE number = NEW.number;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER open_renamed AFTER UPDATE OF name ON people WHEN OLD.name <> NEW.name BEGIN
  DELETE FROM found_open WHERE rowid IN (SELECT number FROM requests WHERE number IS NOT NULL AND status <> 'closed' AND (asker = NEW.id OR whom = NEW.id));
  INSERT INTO found_open (rowid, words) SELECT number, words FROM request_words WHERE number IN (SELECT number FROM requests WHERE number IS NOT NULL AND status <> 'closed' AND (asker = NEW.id OR whom = NEW.id));
END;
-- +goose StatementEnd
