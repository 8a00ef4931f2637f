"""The store: SQLite, plain SQL."""
