"""The version, in one place."""

__version__ = "0.2.0"
