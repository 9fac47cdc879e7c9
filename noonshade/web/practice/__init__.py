"""HTTP interface: practice."""
