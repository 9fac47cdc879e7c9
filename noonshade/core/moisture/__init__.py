"""Moisture in the air of the enclosure."""
