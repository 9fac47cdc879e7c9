"""HTTP interface: timeline."""
