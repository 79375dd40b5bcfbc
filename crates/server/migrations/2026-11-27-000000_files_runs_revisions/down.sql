DROP INDEX ledger_runs;
ALTER TABLE ledger DROP COLUMN taken;
ALTER TABLE ledger DROP COLUMN run;
ALTER TABLE ledger DROP COLUMN job_id;
DROP TABLE revisions;
ALTER TABLE jobs DROP COLUMN runs;
ALTER TABLE jobs DROP COLUMN revision;
DROP TABLE job_contents;
