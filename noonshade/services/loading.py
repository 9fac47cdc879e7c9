"""What a process of the pool loads before its first job, so that no job waits for it."""

from __future__ import annotations


def load_model() -> None:
    """Load and compile the model by evaluating a small plan."""
    from importlib.resources import files

    from noonshade.catalog import load_catalog
    from noonshade.core.evaluate import evaluate
    from noonshade.formats.plan_document import parse_plan
    from noonshade.formats.plan_from_document import resolve

    raw = (files("noonshade.demo") / "collared-lizard.json").read_bytes()
    evaluate(resolve(parse_plan(raw), load_catalog()))


def load_designer() -> None:
    """Load the designer and the model behind it."""
    import noonshade.core.design.designer  # noqa: F401
