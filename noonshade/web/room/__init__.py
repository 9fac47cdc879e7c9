"""HTTP interface: room."""
