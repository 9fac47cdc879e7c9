"""HTTP interface: behaviour."""
