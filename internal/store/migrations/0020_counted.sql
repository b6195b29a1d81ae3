-- +goose Up

-- Tasks are counted from an index alone only when all that is asked of them stands in it.
DROP INDEX tasks_waiting;
DROP INDEX tasks_holder;
CREATE INDEX tasks_waiting ON tasks(team, state, holder, open) WHERE open = 1 AND (state IN ('ready', 'stuck') OR holder = '');
CREATE INDEX tasks_holder ON tasks(holder, team, state, open) WHERE open = 1;
