"""HTTP interface: outputs."""
