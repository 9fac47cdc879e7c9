"""HTTP interface: quarantine."""
