-- Colours kept for other jobs, as JSON.
CREATE TABLE palettes (
    name TEXT PRIMARY KEY NOT NULL,
    position INTEGER NOT NULL,
    body TEXT NOT NULL
);
-- What lies beside a job's bench and is no part of the job: the kept view, the pinned picture; as JSON.
CREATE TABLE desks (
    job_id INTEGER PRIMARY KEY NOT NULL REFERENCES jobs (id) ON DELETE CASCADE,
    body TEXT NOT NULL
);
