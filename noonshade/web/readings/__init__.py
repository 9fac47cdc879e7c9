"""HTTP interface: readings."""
