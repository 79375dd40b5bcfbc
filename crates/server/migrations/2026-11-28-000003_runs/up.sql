-- What is known of a print afterwards: how long it took, a note, a photo.
CREATE TABLE runs (
    job_id INTEGER NOT NULL REFERENCES jobs (id) ON DELETE CASCADE,
    run INTEGER NOT NULL,
    revision INTEGER NOT NULL,
    planned_s DOUBLE,
    took_s DOUBLE,
    note TEXT NOT NULL,
    photo BLOB,
    printed_at TIMESTAMP NOT NULL DEFAULT CURRENT_TIMESTAMP,
    PRIMARY KEY (job_id, run)
);
