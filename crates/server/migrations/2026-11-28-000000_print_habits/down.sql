DROP TABLE print_habits;
