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
