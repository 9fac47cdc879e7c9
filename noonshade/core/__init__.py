"""The model: pure functions and frozen dataclasses, in SI units, with no interface code."""
