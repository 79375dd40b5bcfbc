-- What a printer wants to hear before it answers, by its address. Never in a job, a recipe or a project: those travel.
CREATE TABLE printer_keys (
    address TEXT PRIMARY KEY NOT NULL,
    key TEXT NOT NULL
);
