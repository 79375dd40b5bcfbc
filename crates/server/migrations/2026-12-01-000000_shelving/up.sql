-- Words by which jobs are found again, as a JSON list; whether one is put away; and since when one lies in the bin.
ALTER TABLE jobs ADD COLUMN tags TEXT NOT NULL DEFAULT '[]';
ALTER TABLE jobs ADD COLUMN is_archived BOOLEAN NOT NULL DEFAULT 0;
ALTER TABLE jobs ADD COLUMN deleted_at TIMESTAMP;
