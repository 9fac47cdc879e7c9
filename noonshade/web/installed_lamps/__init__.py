"""HTTP interface: installed lamps."""
