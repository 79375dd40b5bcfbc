DROP TABLE palettes;
DROP TABLE desks;
