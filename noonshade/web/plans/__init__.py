"""HTTP interface: plans."""
