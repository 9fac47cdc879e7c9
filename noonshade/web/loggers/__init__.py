"""HTTP interface: loggers."""
