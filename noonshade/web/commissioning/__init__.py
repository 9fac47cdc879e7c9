"""HTTP interface: commissioning."""
