"""What ground looks like: one file, ``ground.json``, feeds the screen and paper."""

from __future__ import annotations

import json
from functools import cache
from importlib.resources import files

from noonshade.core.plan import Layer


@cache
def _colours() -> tuple[dict[str, str], str]:
    shared = json.loads((files("noonshade.shared") / "ground.json").read_text(encoding="utf-8"))
    return shared["colours"], shared["other"]


def ground_colour(layer: Layer) -> str:
    """The colour of a layer: of a mix, the mean of its parts."""
    colours, other = _colours()
    parts = layer.parts or ((layer.material, 1.0),)
    total = sum(count for _, count in parts)
    mean = [0.0, 0.0, 0.0]
    for material, count in parts:
        colour = colours.get(material.id, other)
        for i in range(3):
            mean[i] += int(colour[1 + 2 * i : 3 + 2 * i], 16) * count / total
    return "#" + "".join(f"{round(value):02x}" for value in mean)
