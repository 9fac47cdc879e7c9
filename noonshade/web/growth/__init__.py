"""HTTP interface: growth."""
