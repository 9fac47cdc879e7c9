"""HTTP interface: evaluation."""
