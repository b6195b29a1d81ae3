-- +goose Up

-- What a person has under way is ordered and counted from indexes alone.
DROP INDEX requests_asker_open;
DROP INDEX requests_beneficiary_open;
CREATE INDEX requests_asker_open ON requests(asker, status, changed_at, sent_at, beneficiary, slip, id) WHERE status <> 'closed';
CREATE INDEX requests_beneficiary_open ON requests(beneficiary, status, asker, changed_at, sent_at, slip, id) WHERE status <> 'closed' AND beneficiary IS NOT NULL;
