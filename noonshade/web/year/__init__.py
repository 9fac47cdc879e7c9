"""HTTP interface: year."""
