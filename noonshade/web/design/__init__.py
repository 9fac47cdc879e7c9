"""HTTP interface: designs."""
