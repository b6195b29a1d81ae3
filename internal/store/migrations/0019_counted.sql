-- +goose Up

-- What waits for somebody is counted with every page, from indexes alone.
DROP INDEX requests_asker_open;
DROP INDEX requests_beneficiary_open;
CREATE INDEX requests_asker_open ON requests(asker, status) WHERE status <> 'closed';
CREATE INDEX requests_beneficiary_open ON requests(beneficiary, status, asker) WHERE status <> 'closed' AND beneficiary IS NOT NULL;
CREATE INDEX tasks_waiting ON tasks(team) WHERE open = 1 AND (state IN ('ready', 'stuck') OR holder = '');

-- Tasks by when they are due, the others after them.
CREATE INDEX tasks_due ON tasks(team, (CASE due_at WHEN 0 THEN 9e15 ELSE due_at END), request, key) WHERE open = 1;
