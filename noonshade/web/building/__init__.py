"""HTTP interface: building."""
