"""HTTP interface: compare."""
