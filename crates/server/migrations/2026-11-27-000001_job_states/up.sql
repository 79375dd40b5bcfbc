-- A job as it stood after so many edits, so that opening it and going back need not replay them all. The edits alone count:
-- a state whose mark is not that of the edits before it is as good as none.
CREATE TABLE job_states (
    job_id INTEGER NOT NULL REFERENCES jobs (id) ON DELETE CASCADE,
    after_edits INTEGER NOT NULL,
    mark TEXT NOT NULL,
    body BLOB NOT NULL,
    PRIMARY KEY (job_id, after_edits)
);
