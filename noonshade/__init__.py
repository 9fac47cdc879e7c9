"""Noon Shade plans the lighting and heating of animal enclosures."""

from noonshade.version import __version__

__all__ = ["__version__"]
