"""HTTP interface: tasks."""
