"""HTTP interface: species."""
