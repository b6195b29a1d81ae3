-- +goose Up

-- What is under way is found by its words in memory: see afoot.go.
DROP TRIGGER open_now;
DROP TRIGGER open_at_once;
DROP TRIGGER open_no_more;
DROP TRIGGER open_named;
DROP TRIGGER open_renamed;
DROP TABLE found_open;

-- Words are taken apart in one way, in Go: the index by itself lets Greek and Cyrillic letters
-- keep their accents, which what is searched for has not, and ß is no ss.
DROP VIEW request_words;
CREATE VIEW request_words AS
  SELECT r.number, r.asker, r.whom, taken_apart(r.title || ' ' || p.name || ' ' || coalesce(b.name, '') || ' ' || r.newcomer) AS words
  FROM requests r CROSS JOIN people p ON p.id = r.asker LEFT JOIN people b ON b.id = r.whom WHERE r.number IS NOT NULL;
CREATE TABLE other_letters (number INTEGER PRIMARY KEY) STRICT;
INSERT INTO other_letters SELECT r.number FROM requests r CROSS JOIN people p ON p.id = r.asker LEFT JOIN people b ON b.id = r.whom
  WHERE r.number IS NOT NULL AND r.title || p.name || coalesce(b.name, '') || r.newcomer GLOB '*[^' || char(1) || '-' || char(180) || char(182) || '-' || char(222) || char(224) || '-' || char(382) || ']*';
DELETE FROM found WHERE rowid IN (SELECT number FROM other_letters);
INSERT INTO found (rowid, words) SELECT w.number, w.words FROM other_letters o CROSS JOIN request_words w ON w.number = o.number;
DROP TABLE other_letters;

-- The brief of what somebody confirms a part of says what they confirm; it is made anew after this.
UPDATE requests SET brief = x'' WHERE id IN (SELECT request FROM task_people WHERE open = 1);

-- What people thought of an offering is counted as they say it.
CREATE TABLE rated (
  offering TEXT PRIMARY KEY,
  count INTEGER NOT NULL,
  stars INTEGER NOT NULL -- of all together
) STRICT, WITHOUT ROWID;
INSERT INTO rated SELECT offering, count(*), sum(stars) FROM ratings GROUP BY offering;
DROP INDEX ratings_offering;
-- +goose StatementBegin
CREATE TRIGGER rated_now AFTER INSERT ON ratings BEGIN
  INSERT INTO rated VALUES (NEW.offering, 1, NEW.stars) ON CONFLICT DO UPDATE SET count = count + 1, stars = stars + excluded.stars;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER rated_anew AFTER UPDATE OF stars ON ratings BEGIN
  UPDATE rated SET stars = stars + NEW.stars - OLD.stars WHERE offering = NEW.offering;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER rated_no_more AFTER DELETE ON ratings BEGIN
  UPDATE rated SET count = count - 1, stars = stars - OLD.stars WHERE offering = OLD.offering;
END;
-- +goose StatementEnd
