-- Which edit of which job names which file, so that a file goes when the last of them does, without looking through edits.
CREATE TABLE job_contents (
    job_id INTEGER NOT NULL REFERENCES jobs (id) ON DELETE CASCADE,
    seq INTEGER NOT NULL,
    hash TEXT NOT NULL REFERENCES contents (hash),
    PRIMARY KEY (job_id, seq, hash)
);
CREATE INDEX job_contents_by_hash ON job_contents (hash);
INSERT INTO job_contents (job_id, seq, hash)
    SELECT edits.job_id, edits.seq, contents.hash
    FROM edits JOIN contents ON edits.body LIKE '%' || contents.hash || '%'
    WHERE edits.body LIKE '%"content"%';
-- Counts every change of a job, and never falls: tabs ask whether theirs is the newest.
ALTER TABLE jobs ADD COLUMN revision INTEGER NOT NULL DEFAULT 1;
-- How often a job was noted as printed.
ALTER TABLE jobs ADD COLUMN runs INTEGER NOT NULL DEFAULT 0;
-- Changes of what the maker owns: whoever changes it says which state was seen.
CREATE TABLE revisions (
    name TEXT PRIMARY KEY NOT NULL,
    revision INTEGER NOT NULL
);
INSERT INTO revisions (name, revision) VALUES ('rack', 1), ('printers', 1);
-- Which job and which of its runs took what, so that it is taken once and can be given back.
ALTER TABLE ledger ADD COLUMN job_id INTEGER;
ALTER TABLE ledger ADD COLUMN run INTEGER;
-- What really came off: a spool does not fall below nothing.
ALTER TABLE ledger ADD COLUMN taken DOUBLE NOT NULL DEFAULT 0;
CREATE UNIQUE INDEX ledger_runs ON ledger (job_id, run, spool) WHERE run IS NOT NULL;
