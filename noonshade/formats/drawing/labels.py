"""Where labels go so that none lies on another: each as near to what it names as there is room."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import hypot
from typing import NamedTuple


class Box(NamedTuple):
    """A rectangle, px; its upper left corner first."""

    x: float
    y: float
    width: float
    height: float


# Ways aside in steps, nearer ones first; as on the screen.
_AROUND = [(0, 1), (0, -1), (1, 0), (-1, 0), (1, 1), (-1, 1), (1, -1), (-1, -1)]
_RINGS = 13
_STEP_PX = 9.0
_APART_PX = 2.0
# From this far on a line leads to what is named.
_LED_PX = 14.0


def shared_area(a: Box, b: Box, apart: float = _APART_PX) -> float:
    """Area two boxes share with the gap they keep, px²."""
    wide = min(a.x + a.width, b.x + b.width) - max(a.x, b.x) + apart
    high = min(a.y + a.height, b.y + b.height) - max(a.y, b.y) + apart
    return wide * high if wide > 0 and high > 0 else 0.0


def placed(wanted: Mapping[str, Box], bounds: Box, taken: Sequence[Box] = ()) -> dict[str, Box]:
    """Places for labels, the most important first; what is taken already stays free.

    A label finds room up, down or aside in widening rings around where it would go alone; where there is
    none it goes where it hides least.
    """
    found: dict[str, Box] = {}
    used = list(taken)
    for name, box in wanted.items():
        best, hidden = box, float("inf")
        for ring in range(_RINGS):
            for right, down in [(0, 0)] if ring == 0 else _AROUND:
                moved = _inside(
                    box._replace(x=box.x + 2 * ring * right * _STEP_PX, y=box.y + ring * down * _STEP_PX),
                    bounds,
                )
                over = sum(shared_area(moved, other) for other in used)
                if over < hidden:
                    best, hidden = moved, over
                if hidden == 0:
                    break
            if hidden == 0:
                break
        used.append(best)
        found[name] = best
    return found


def leader(box: Box, spot: tuple[float, float]) -> tuple[float, float] | None:
    """Where a line from what is named ends at its label, px; None where they are near enough."""
    end = (
        min(max(spot[0], box.x), box.x + box.width),
        min(max(spot[1], box.y), box.y + box.height),
    )
    return end if hypot(end[0] - spot[0], end[1] - spot[1]) > _LED_PX else None


def _inside(box: Box, bounds: Box) -> Box:
    return box._replace(
        x=min(max(box.x, bounds.x), max(bounds.x, bounds.x + bounds.width - box.width)),
        y=min(max(box.y, bounds.y), max(bounds.y, bounds.y + bounds.height - box.height)),
    )
