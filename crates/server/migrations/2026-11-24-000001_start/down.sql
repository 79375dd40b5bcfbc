DROP TABLE spools;
DROP TABLE edits;
DROP TABLE jobs;
DROP TABLE contents;
