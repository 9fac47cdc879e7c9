"""HTTP interface: pictures while a plan is being changed."""
