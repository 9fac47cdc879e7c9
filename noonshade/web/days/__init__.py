"""HTTP interface: days."""
