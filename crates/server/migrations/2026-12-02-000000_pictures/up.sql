-- A small picture of each job in its colours, with the revision that it shows.
CREATE TABLE pictures (
    job_id INTEGER NOT NULL PRIMARY KEY REFERENCES jobs (id) ON DELETE CASCADE,
    revision INTEGER NOT NULL,
    png BLOB NOT NULL
);
