"""What a process of the pool loads before its first job, so that no job waits for it."""

from __future__ import annotations


def load_designer() -> None:
    """Load the designer and the model behind it."""
    import noonshade.core.design.designer  # noqa: F401
