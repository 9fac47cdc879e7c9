"""The data file: SQLite by plain SQL."""
