"""HTTP interface: assessment."""
