"""The two views of a plan."""

from __future__ import annotations

from itertools import combinations, product

import numpy as np
from numpy.typing import NDArray

from noonshade.core.assessment.wording import evidence_text
from noonshade.core.evaluate import Evaluation
from noonshade.core.fields import PlanView, Section
from noonshade.core.phrase import Units, figure_text
from noonshade.core.places import PlaceFigures
from noonshade.core.plan import Fixture, Plan
from noonshade.formats.drawing import animals, marks, paper, shapes
from noonshade.formats.drawing.labels import Box, leader, placed, shared_area
from noonshade.formats.drawing.paper import Drawing, Frame
from noonshade.formats.drawing.scales import TITLES, FieldName, FieldScale, scale_of

Floats = NDArray[np.float64]

_LEFT, _RIGHT, _TOP, _BOTTOM = 44.0, 18.0, 14.0, 34.0
_LEGEND = 64.0
# Narrower than this a drawing stands beside another, where a caption says that all is predicted.
_NARROW = 600.0
# What is written at a probe.
# Room of the upright ruler with its figures.
_RULER_PX = 38.0
_PROBE_PX = 36.0
# Space above the lid, and above a lamp over it, m.
_OVER_TOP_M = 0.02
_OVER_LAMP_M = 0.06
_NOTHING_HERE: dict[FieldName, str] = {
    "uvi": "No UV here",
    "irradiance": "No radiant heat here",
    "light": "No light here",
}
_ATTRIBUTES = {
    "uvi": "uvi",
    "air": "air_c",
    "irradiance": "irradiance_w_m2",
    "light": "illuminance_lx",
    "humidity": "relative_humidity",
}


def values_of(view: Section | PlanView, name: FieldName) -> Floats:
    """The values of a field of a view."""
    found: Floats = getattr(view, _ATTRIBUTES[name])
    return found


def front_svg(
    evaluation: Evaluation,
    section: Section,
    name: FieldName = "uvi",
    units: Units = "metric",
    width: float = 760.0,
    highest: float = 460.0,
) -> str:
    """The enclosure in section with the field of ``section``, as SVG; ``width`` and ``highest`` in px.

    Predicted figures of the places that are assessed stand on it, marked where they do not fit.
    """
    plan, enclosure = evaluation.plan, evaluation.plan.enclosure
    above = [
        f.position_m[2] - enclosure.height_m + _OVER_LAMP_M for f in plan.fixtures if f.against is None
    ]
    over = max([_OVER_TOP_M, *above])
    drawing, frame = _sheet(
        plan, width, highest, enclosure.height_m + over, f"{plan.name}, from the front. {TITLES[name]}"
    )
    scale = _scale(evaluation, section, name)
    values = values_of(section, name)
    _field(drawing, frame, (section.x_m, section.z_m), values, scale, name)
    taken = [_front_spot(plan, frame, p) for p in evaluation.places]
    taken += [s for f in plan.fixtures for s in _along(frame, f)]
    marks.contour_lines(drawing, frame, (section.x_m, section.z_m), values, scale, name, units, taken)
    shapes.enclosure_front(drawing, frame, plan)
    for item in plan.furnishings:
        shapes.furnishing_front(drawing, frame, plan, item)
    basking = next((p for p in evaluation.places if p.kind == "basking"), None)
    if basking is not None:
        animals.animal_front(drawing, frame, plan, basking.position_m[0], basking.position_m[2])
    for fixture in plan.fixtures:
        shapes.lamp_front(drawing, frame, plan, fixture)
    for thermostat in plan.thermostats:
        x, _, z = thermostat.probe_m
        drawing.rect(
            frame.x(x) - 4, frame.y(z) - 7, 8, 14, rx=4, fill=paper.PAPER, stroke=paper.INK, stroke_width=2
        )
    _plates(drawing, frame, evaluation, name, units)
    marks.rulers(drawing, frame, enclosure.length_m, enclosure.height_m, units)
    _finish(drawing, evaluation, scale, name, units)
    return drawing.text()


def above_svg(
    evaluation: Evaluation,
    view: PlanView,
    name: FieldName = "uvi",
    units: Units = "metric",
    width: float = 760.0,
    highest: float = 400.0,
) -> str:
    """The enclosure from above, its front at the bottom, with the field at the height of ``view``."""
    plan, enclosure = evaluation.plan, evaluation.plan.enclosure
    drawing, frame = _sheet(
        plan, width, highest, enclosure.depth_m, f"{plan.name}, from above. {TITLES[name]}"
    )
    scale = _scale(evaluation, view, name)
    values = values_of(view, name)
    _field(drawing, frame, (view.x_m, view.y_m), values, scale, name)
    taken = [(frame.x(p.position_m[0]) + 30, frame.y(p.position_m[1])) for p in evaluation.places]
    marks.contour_lines(drawing, frame, (view.x_m, view.y_m), values, scale, name, units, taken)
    drawing.rect(
        frame.x(0),
        frame.y(enclosure.depth_m),
        frame.size(enclosure.length_m),
        frame.size(enclosure.depth_m),
        fill="none",
        stroke=paper.EDGE,
        stroke_width=3,
    )
    for item in plan.furnishings:
        shapes.furnishing_above(drawing, frame, plan, item)
    for inset in enclosure.insets_of("top"):
        drawing.rect(
            frame.x(inset.x0_m),
            frame.y(inset.y1_m),
            frame.size(inset.x1_m - inset.x0_m),
            frame.size(inset.y1_m - inset.y0_m),
            fill="none",
            stroke=paper.EDGE,
            stroke_dasharray="8 4",
        )
    for fixture in plan.fixtures:
        shapes.lamp_above(drawing, frame, fixture)
    basking = next((p for p in evaluation.places if p.kind == "basking"), None)
    if basking is not None:
        animals.animal_above(drawing, frame, plan, *basking.position_m[:2])
    _names_above(drawing, frame, evaluation)
    marks.rulers(drawing, frame, enclosure.length_m, enclosure.depth_m, units)
    height = figure_text(view.z_m, "m", units)
    # Beside another drawing the legend leaves room for a short note only.
    above = " above the enclosure floor" if drawing.width > _NARROW else ""
    _finish(drawing, evaluation, scale, name, units, f"{height}{above}; front below")
    return drawing.text()


def _field(
    drawing: Drawing,
    frame: Frame,
    axes: tuple[Floats, Floats],
    values: Floats,
    scale: FieldScale,
    name: FieldName,
) -> None:
    """The field in colour; where it has nothing to show, words on a light ground instead of the dark."""
    x, up = axes
    if scale.nothing is None or values.max() > scale.nothing:
        marks.field_image(drawing, frame, x, up, values, scale)
        return
    left, top = frame.x(x[0]), frame.y(up[-1])
    drawing.rect(left, top, frame.x(x[-1]) - left, frame.y(up[0]) - top, fill=paper.AIR)
    drawing.label(left + 10, top + 18, _NOTHING_HERE[name])


def _plates(drawing: Drawing, frame: Frame, evaluation: Evaluation, name: FieldName, units: Units) -> None:
    """Names and figures of the places and the probes, none on another; what fails has its place first."""
    plan = evaluation.plan
    plates: dict[str, marks.Plate] = {}
    for place in evaluation.places:
        check = marks.check_in(evaluation, place, name)
        if name != "uvi" or check is not None:
            text = marks.place_text(place, name, units)
            plates[place.id] = marks.Plate(_front_spot(plan, frame, place), place.label, text, check)
    urgent = sorted(plates, key=lambda key: not plates[key].fails)
    wanted = {key: plates[key].box for key in urgent}
    probes = {t.id: (frame.x(t.probe_m[0]), frame.y(t.probe_m[2])) for t in plan.thermostats}
    wanted |= {f"probe of {key}": Box(x + 10, y - 8, _PROBE_PX, 16) for key, (x, y) in probes.items()}
    taken = [Box(x - 8, y - 10, 16, 20) for x, y in probes.values()]
    taken += [Box(x - 8, y - 8, 16, 16) for f in plan.fixtures for x, y in _along(frame, f)]
    boxes = _beside_ruler(drawing, frame, wanted, taken)
    for key in probes:
        box = boxes[f"probe of {key}"]
        drawing.label(box.x, box.y + 8, "probe")
    for key, plate in plates.items():
        end = leader(boxes[key], plate.at)
        if end is not None:
            drawing.line(plate.at, end, stroke=paper.EDGE)
        marks.place_mark(drawing, boxes[key], plate)


def _beside_ruler(
    drawing: Drawing, frame: Frame, wanted: dict[str, Box], taken: list[Box]
) -> dict[str, Box]:
    """Places for labels, clear of the upright ruler's figures where there is room for that too."""
    bounds = Box(0, 0, drawing.width, drawing.height - _LEGEND - _BOTTOM)
    ruler = Box(frame.x(0) - _RULER_PX, 0, _RULER_PX - 4, frame.y(0) + 10)
    boxes = placed(wanted, bounds, [*taken, ruler])
    pairs = [*combinations(boxes.values(), 2), *product(boxes.values(), taken)]
    crowded = any(shared_area(a, b) > 0 for a, b in pairs)
    return placed(wanted, bounds, taken) if crowded else boxes


def _names_above(drawing: Drawing, frame: Frame, evaluation: Evaluation) -> None:
    """Places by name on small plates, none on another or on the spot of one."""
    spots = {p.id: (frame.x(p.position_m[0]), frame.y(p.position_m[1])) for p in evaluation.places}
    wanted = {
        p.id: Box(spots[p.id][0] + 7, spots[p.id][1] - 8, 6.2 * len(p.label) + 8, 16.0)
        for p in evaluation.places
    }
    taken = [Box(x - 4, y - 4, 8, 8) for x, y in spots.values()]
    boxes = _beside_ruler(drawing, frame, wanted, taken)
    for place in evaluation.places:
        x, y = spots[place.id]
        drawing.add("circle", cx=x, cy=y, r=3, fill=paper.PAPER, stroke=paper.INK, stroke_width=1.5)
        box = boxes[place.id]
        end = leader(box, (x, y))
        if end is not None:
            drawing.line((x, y), end, stroke=paper.INK, stroke_opacity=0.6)
        drawing.rect(
            *box,
            rx=4,
            fill=paper.PAPER,
            fill_opacity=0.9,
            stroke=paper.LINE,
            class_="plate",
        )
        drawing.add(
            "text",
            place.label,
            x=box.x + box.width / 2,
            y=box.y + 12,
            text_anchor="middle",
            font_size=11,
            fill=paper.INK,
        )


def _scale(evaluation: Evaluation, view: Section | PlanView, name: FieldName) -> FieldScale:
    return scale_of(name, view.air_c, evaluation.day.room_c)


def _sheet(plan: Plan, width: float, highest: float, up_m: float, title: str) -> tuple[Drawing, Frame]:
    across = plan.enclosure.length_m + 0.04
    scale = min((width - _LEFT - _RIGHT) / across, (highest - _TOP - _BOTTOM) / (up_m + 0.02))
    left = _LEFT + (width - _LEFT - _RIGHT - scale * plan.enclosure.length_m) / 2
    floor = _TOP + scale * up_m
    drawing = Drawing(width, round(floor + scale * 0.02 + _BOTTOM + _LEGEND, 1), title)
    drawing.rect(0, 0, drawing.width, drawing.height, fill=paper.PAPER)
    return drawing, Frame(scale, left, floor)


def _finish(
    drawing: Drawing,
    evaluation: Evaluation,
    scale: FieldScale,
    name: FieldName,
    units: Units,
    note: str = "",
) -> None:
    top = drawing.height - _LEGEND + 12
    wide = min(380.0, drawing.width - _LEFT - _RIGHT)
    marks.legend(
        drawing, (_LEFT, top), wide, scale, name, units, marks.wanted_range(evaluation, name, units)
    )
    words = [f"{evidence_text(evaluation.plan)}."] if drawing.width > _NARROW else []
    words += [f"At {note}."] if note else []
    drawing.add(
        "text",
        " ".join(words),
        x=drawing.width - _RIGHT,
        y=top,
        text_anchor="end",
        font_size=11,
        fill=paper.SOFT,
    )


def _along(frame: Frame, fixture: Fixture) -> list[tuple[float, float]]:
    """Points along a lamp, which figures keep clear of."""
    x, _, z = fixture.position_m
    half = shapes.lamp_length(fixture) / 2
    return [(frame.x(x + share * half), frame.y(z)) for share in np.linspace(-1.0, 1.0, 15)]


def _front_spot(plan: Plan, frame: Frame, place: PlaceFigures) -> tuple[float, float]:
    """Where a place's plate stands: over the basking spot, under a hide, some way up an end."""
    x, _, z = place.position_m
    ground, length = plan.substrate.depth_m, plan.enclosure.length_m
    if place.kind == "basking":
        return frame.x(x), frame.y(z) - 34
    if place.kind in ("upper", "middle", "lower", "burrow"):
        return frame.x(x), frame.y(z) + (22 if place.kind != "burrow" else 0)
    if place.kind == "uv_refuge":
        # Under a hide there is ground to write on; any other dark place is written on as it stands.
        hide = any(h.id == place.id for h in plan.hides)
        return frame.x(x), frame.y(ground) + 18 if hide else frame.y(z)
    left = x < length / 2
    return frame.x(0) + 46 if left else frame.x(length) - 46, frame.y(ground + 0.16)
