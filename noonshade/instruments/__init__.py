"""Simulated instruments that read a hidden true box: stand-ins for the real ones, which ship with it."""
