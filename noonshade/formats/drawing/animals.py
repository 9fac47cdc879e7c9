"""The animal to scale inside the walls, by its group: turned round for its tail, or the tail bent."""

from __future__ import annotations

import json
from collections.abc import Callable
from functools import lru_cache
from importlib.resources import files
from typing import Any, NamedTuple

from noonshade.core.assessment.shelter import resting_length_m
from noonshade.core.plan import Plan
from noonshade.formats.drawing import paper
from noonshade.formats.drawing.paper import Drawing, Frame

# Commands of a path with absolute points: along in body lengths, 0 at the vent and 1 at the snout; up in
# heights of the back, or across in body lengths.
Outline = list[list[Any]]


class Pose(NamedTuple):
    """Where an animal is drawn: its vent, m, which way it looks, how much of its tail is seen."""

    vent_m: float
    way: int
    tail: float


@lru_cache
def _shipped() -> dict[str, Any]:
    text = (files("noonshade.shared") / "silhouettes.json").read_text(encoding="utf-8")
    found: dict[str, Any] = json.loads(text)
    return found


def outline(group: str, seen_from: str) -> Outline:
    """The outline of a group from the ``side`` or from ``above``; of what is not known, a lizard's."""
    shipped = _shipped()
    found: Outline = shipped["outlines"][shipped["groups"].get(group, "lizard")][seen_from]
    return found


def pose_between(points: Outline, at_m: float, body_m: float, low_m: float, high_m: float) -> Pose:
    """How an animal lies between two walls, the middle of its body at a place or as near as it fits.

    It turns round where its tail has more room on the other side; a tail longer than that is seen shorter.
    """
    along = [x for _, *numbers in points for x in numbers[::2]]
    before, behind = (max(along) - 0.5) * body_m, 0.5 * body_m
    tail = -min(0.0, *along) * body_m
    poses = []
    for way in (1, -1):
        rear, front = (at_m - low_m, high_m - at_m) if way == 1 else (high_m - at_m, at_m - low_m)
        # The body first: it moves away from a wall its head or its rear would reach into.
        shift = max(0.0, behind - rear) - max(0.0, before - front)
        room = max(0.0, rear + shift - behind)
        seen = min(1.0, room / tail) if tail > 0 else 1.0
        poses.append(Pose(at_m + way * (shift - behind), way, seen))
    right, left = poses
    return left if left.tail > right.tail + 1e-9 else right


def animal_front(drawing: Drawing, frame: Frame, plan: Plan, x_m: float, back_m: float) -> None:
    """The animal to scale, its back at a height; a snake in coils, one on the other."""
    animal = plan.animal
    long, high = animal.body_length_m, animal.back_height_m
    floor_m = back_m - high
    if animal.species.group == "snake":
        tall, wide = frame.size(high), frame.size(resting_length_m(animal))
        middle = frame.x(_inside(x_m, resting_length_m(animal), plan.enclosure.length_m))
        for level, share in enumerate((1.0, 0.6), start=1):
            y = frame.y(floor_m) - level * tall
            drawing.rect(middle - share * wide / 2, y, share * wide, tall, rx=tall / 2, fill=paper.INK)
        return
    points = outline(animal.species.group, "side")
    pose = pose_between(points, x_m, long, 0.0, plan.enclosure.length_m)
    _draw(drawing, frame, points, pose, long, lambda up: frame.y(floor_m + up * high))


def animal_above(drawing: Drawing, frame: Frame, plan: Plan, x_m: float, y_m: float) -> None:
    """The animal to scale from above, the middle of its body at a place; a snake in coils."""
    animal = plan.animal
    long = animal.body_length_m
    if animal.species.group == "snake":
        across = resting_length_m(animal)
        x = frame.x(_inside(x_m, across, plan.enclosure.length_m))
        y = frame.y(_inside(y_m, across, plan.enclosure.depth_m))
        thick = max(frame.size(animal.back_height_m), 1.5)
        for share in (1.0, 0.55):
            radius = share * frame.size(across) / 2
            drawing.add("circle", cx=x, cy=y, r=radius, fill="none", stroke=paper.INK, stroke_width=thick)
        return
    points = outline(animal.species.group, "above")
    pose = pose_between(points, x_m, long, 0.0, plan.enclosure.length_m)
    _draw(drawing, frame, points, pose, long, lambda across: frame.y(y_m + across * long))


def _inside(at_m: float, across_m: float, high_m: float) -> float:
    """The middle of something so much across, between 0 and a wall."""
    return min(max(at_m, across_m / 2), max(high_m - across_m / 2, across_m / 2))


def _draw(
    drawing: Drawing,
    frame: Frame,
    points: Outline,
    pose: Pose,
    body_m: float,
    to_y: Callable[[float], float],
) -> None:
    def to_x(share: float) -> float:
        return frame.x(pose.vent_m + pose.way * body_m * (share * pose.tail if share < 0 else share))

    path = ""
    for command, *numbers in points:
        at = [to_x(n) if i % 2 == 0 else to_y(n) for i, n in enumerate(numbers)]
        path += command + " ".join(f"{n:.1f}" for n in at)
    drawing.add("path", d=path, fill=paper.INK, stroke="white", stroke_width=1.2, class_="animal")
