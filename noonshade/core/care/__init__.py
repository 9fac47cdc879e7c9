"""Keeping a set-up right: the year, lamps in use, tasks, growth, and what the records say."""
