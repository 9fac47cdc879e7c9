"""HTTP interface: backups."""
