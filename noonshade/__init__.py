"""Noon Shade plans the lighting and heating of animal enclosures."""

__version__ = "0.1.0"
