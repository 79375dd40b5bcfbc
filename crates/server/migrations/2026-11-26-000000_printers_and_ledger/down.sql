DROP TABLE ledger;
DROP TABLE printers;
