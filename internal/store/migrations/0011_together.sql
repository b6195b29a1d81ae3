-- +goose Up
-- Promised times have marks: the timers of what is under way are set anew.
UPDATE requests SET clocks = 0 WHERE status IN ('deciding', 'returned', 'delivering', 'waiting');
