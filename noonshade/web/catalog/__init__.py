"""HTTP interface: catalog."""
