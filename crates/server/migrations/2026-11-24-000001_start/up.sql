-- Files as they came in, once each, by the SHA-256 of their bytes.
CREATE TABLE contents (
    hash TEXT PRIMARY KEY NOT NULL,
    bytes BLOB NOT NULL
);
-- A job is the fold of its first `head` edits. The first `floor` of them opened it and are never undone.
CREATE TABLE jobs (
    id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
    name TEXT NOT NULL,
    head INTEGER NOT NULL,
    floor INTEGER NOT NULL,
    -- What the shelf shows, as JSON, so that it opens without opening the meshes.
    summary TEXT NOT NULL,
    changed_at TIMESTAMP NOT NULL DEFAULT CURRENT_TIMESTAMP
);
CREATE TABLE edits (
    job_id INTEGER NOT NULL REFERENCES jobs (id) ON DELETE CASCADE,
    seq INTEGER NOT NULL,
    body TEXT NOT NULL,
    PRIMARY KEY (job_id, seq)
);
CREATE TABLE spools (
    id TEXT PRIMARY KEY NOT NULL,
    position INTEGER NOT NULL,
    body TEXT NOT NULL
);
