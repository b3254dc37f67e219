"""Plain SQL. One module for each group of tables, of functions that take a cursor."""
