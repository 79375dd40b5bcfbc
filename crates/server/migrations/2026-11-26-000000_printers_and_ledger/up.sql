-- The maker's printers, as JSON.
CREATE TABLE printers (
    id TEXT PRIMARY KEY NOT NULL,
    position INTEGER NOT NULL,
    body TEXT NOT NULL
);
-- What printed jobs took from spools. Stays when the job or the spool is gone.
CREATE TABLE ledger (
    id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
    spool TEXT NOT NULL,
    job TEXT NOT NULL,
    grams DOUBLE NOT NULL,
    printed_at TIMESTAMP NOT NULL DEFAULT CURRENT_TIMESTAMP
);
