"""Results as documents: what the interface and the terminal give out as JSON."""
