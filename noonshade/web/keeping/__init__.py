"""The interface to what keeps a set-up right: the logbook, tasks, lamps in use, the year, backups."""
