-- How the maker had a printer print a plastic last.
CREATE TABLE print_habits (
    printer TEXT NOT NULL,
    plastic TEXT NOT NULL,
    body TEXT NOT NULL,
    PRIMARY KEY (printer, plastic)
);
