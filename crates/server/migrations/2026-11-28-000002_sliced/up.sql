-- Print files that another program made, kept with the job that they are set against; and what was written of them here.
CREATE TABLE sliced (
    id INTEGER NOT NULL PRIMARY KEY AUTOINCREMENT,
    job_id INTEGER NOT NULL REFERENCES jobs (id) ON DELETE CASCADE,
    name TEXT NOT NULL,
    body TEXT NOT NULL,
    text TEXT NOT NULL,
    differences TEXT,
    kept_at TIMESTAMP NOT NULL DEFAULT CURRENT_TIMESTAMP
);
CREATE INDEX sliced_of_job ON sliced (job_id, id);
