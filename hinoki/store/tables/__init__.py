"""Functions on the tables of the database, one module a subject."""
