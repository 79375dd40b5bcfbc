-- Who works here, and what was said of a job before it was printed: asked to look, released, sent back, ticked.
CREATE TABLE people (
    name TEXT NOT NULL PRIMARY KEY
);
CREATE TABLE looks (
    id INTEGER NOT NULL PRIMARY KEY AUTOINCREMENT,
    job_id INTEGER NOT NULL REFERENCES jobs (id) ON DELETE CASCADE,
    revision INTEGER NOT NULL,
    body TEXT NOT NULL,
    said_at TIMESTAMP NOT NULL DEFAULT CURRENT_TIMESTAMP
);
CREATE INDEX looks_of_job ON looks (job_id, id);
