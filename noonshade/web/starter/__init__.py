"""HTTP interface: starter."""
