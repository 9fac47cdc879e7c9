"""Moisture in the air of the box."""
