"""What the application does: one module for each use, between interfaces and stored data."""
