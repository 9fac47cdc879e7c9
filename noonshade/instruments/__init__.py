"""Simulated instruments that read a hidden true enclosure: stand-ins for real ones."""
