"""HTTP interface: lamps."""
