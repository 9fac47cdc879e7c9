"""HTTP interface: logbook."""
