"""What is written on a drawing: the field, contour lines, places, rulers, the scale of colours."""

from __future__ import annotations

import base64
import io
from dataclasses import dataclass

import contourpy
import numpy as np
from numpy.typing import NDArray
from PIL import Image

from noonshade.core.assessment.checks import Check, Status
from noonshade.core.constants import INCH_M
from noonshade.core.evaluate import Evaluation
from noonshade.core.phrase import Units, figure_text
from noonshade.core.places import PlaceFigures
from noonshade.formats.drawing import paper
from noonshade.formats.drawing.labels import Box
from noonshade.formats.drawing.paper import Drawing, Frame
from noonshade.formats.drawing.scales import TITLES, FieldName, FieldScale, ramp_table

Floats = NDArray[np.float64]

# Samples of a field are drawn finer by this factor, so that colours run smoothly.
_FINER = 4
# Runs of a contour line shorter than this carry no figure, in units of the sheet.
_SHORTEST_LABELLED = 60.0
_LABELS_APART = 20.0

TONES: dict[Status, str] = {
    "low": paper.LOW,
    "ok": paper.FIT,
    "high": paper.HIGH,
    "uncertain": paper.INK,
    "unknown": paper.SOFT,
}


def value_text(name: FieldName, value: float, units: Units) -> str:
    """A value of a field as it is written on it."""
    if name == "air":
        return figure_text(value, "°C", units, 0).replace(" °C", "°").replace(" °F", "°")
    if name == "humidity":
        return f"{100 * value:.0f}"
    return f"{value:.1f}".rstrip("0").rstrip(".") if value < 100 else f"{value:.0f}"


def field_image(
    drawing: Drawing, frame: Frame, across_m: Floats, up_m: Floats, values: Floats, scale: FieldScale
) -> None:
    """A field (n_up, n_across) as smooth colour; its samples sit on the edges of the enclosure."""
    pixels = Image.fromarray(np.ascontiguousarray(scale.colours(values)[::-1]), "RGB")
    fine = pixels.resize((pixels.width * _FINER, pixels.height * _FINER), Image.Resampling.BICUBIC)
    stream = io.BytesIO()
    fine.save(stream, "PNG")
    x0, x1, z0, z1 = (float(v) for v in (across_m[0], across_m[-1], up_m[0], up_m[-1]))
    drawing.add(
        "image",
        href="data:image/png;base64," + base64.b64encode(stream.getvalue()).decode(),
        x=frame.x(x0),
        y=frame.y(z1),
        width=frame.size(x1 - x0),
        height=frame.size(z1 - z0),
        preserveAspectRatio="none",
    )


def contour_lines(
    drawing: Drawing,
    frame: Frame,
    at_m: tuple[Floats, Floats],
    values: Floats,
    scale: FieldScale,
    name: FieldName,
    units: Units,
    taken: list[tuple[float, float]],
) -> None:
    """Lines of equal value with their figures, clear of the places that are ``taken`` already.

    They are pale on dark colours and dark on pale ones.
    """
    make = contourpy.contour_generator(*at_m, values)
    taken = list(taken)
    for level in scale.levels:
        runs = [np.asarray(run) for run in make.lines(level)]
        runs = [run for run in runs if len(run) > 3]
        if not runs:
            continue
        dark = float(scale.share(level)) > 0.6
        colour = "#191428" if dark else "#ffffff"
        path = "".join("M" + "L".join(f"{frame.x(x):.1f} {frame.y(z):.1f}" for x, z in run) for run in runs)
        drawing.add("path", d=path, fill="none", stroke=colour, stroke_opacity=0.6)
        spot = _label_spot(max(runs, key=len), frame, taken)
        if spot is not None:
            taken.append(spot)
            drawing.add(
                "text",
                value_text(name, level, units),
                x=round(spot[0], 1),
                y=round(spot[1], 1),
                dy="0.35em",
                text_anchor="middle",
                font_size=11,
                font_weight="bold",
                fill=colour,
            )


def _label_spot(run: Floats, frame: Frame, taken: list[tuple[float, float]]) -> tuple[float, float] | None:
    """A point of a line, near its middle first, clear of what is there; None where there is none."""
    points = np.column_stack([frame.left + frame.scale * run[:, 0], frame.floor - frame.scale * run[:, 1]])
    if np.ptp(points[:, 0]) < _SHORTEST_LABELLED:
        return None
    for share in (0.5, 0.4, 0.6, 0.3, 0.7, 0.2, 0.8, 0.1, 0.9):
        x, y = points[int(share * (len(points) - 1))]
        if all(np.hypot((x - a) / 1.4, y - b) > _LABELS_APART for a, b in taken):
            return float(x), float(y)
    return None


def rulers(drawing: Drawing, frame: Frame, along_m: float, up_m: float, units: Units) -> None:
    """Scales along the bottom and up the left side, from the corner."""
    unit = 0.01 if units == "metric" else INCH_M
    wanted = 40.0 / (frame.scale * unit)
    step = next((s for s in (1, 2, 5, 10, 20, 50, 100) if s >= wanted), 200)
    bottom, left = frame.y(0) + 10, frame.x(0) - 10
    for n in range(0, int(along_m / unit + 1e-6) + 1, step):
        x = frame.x(n * unit)
        drawing.line((x, bottom), (x, bottom + 4), stroke=paper.EDGE)
        drawing.add("text", str(n), x=x, y=bottom + 15, text_anchor="middle", font_size=11, fill=paper.SOFT)
    for n in range(0, int(up_m / unit + 1e-6) + 1, step):
        y = frame.y(n * unit)
        drawing.line((left - 4, y), (left, y), stroke=paper.EDGE)
        drawing.add(
            "text", str(n), x=left - 7, y=y, dy="0.35em", text_anchor="end", font_size=11, fill=paper.SOFT
        )
    word = "cm" if units == "metric" else "in"
    drawing.add(
        "text",
        word,
        x=frame.x(along_m),
        y=bottom + 28,
        text_anchor="end",
        font_size=11,
        fill=paper.SOFT,
    )


def legend(
    drawing: Drawing,
    at: tuple[float, float],
    width: float,
    scale: FieldScale,
    name: FieldName,
    units: Units,
    wanted: tuple[float | None, float | None, str] | None,
) -> None:
    """The scale of colours with its figures, and the range that is wanted marked on it."""
    x, y = at
    unit = {"metric": ", °C", "imperial": ", °F"}[units] if name == "air" else ""
    drawing.add("text", TITLES[name] + unit, x=x, y=y, font_size=12, font_weight="bold", fill=paper.INK)
    table = ramp_table(scale.ramp)
    steps = 64
    for i in range(steps):
        r, g, b = table[round(i / (steps - 1) * (len(table) - 1))]
        drawing.rect(x + i * width / steps, y + 6, width / steps + 0.5, 10, fill=f"#{r:02x}{g:02x}{b:02x}")
    last = -1.0
    for value in (scale.low, *scale.levels, scale.high):
        share = float(scale.share(value))
        if last >= 0 and share - last < 0.075:
            continue
        last = share
        drawing.add(
            "text",
            value_text(name, value, units),
            x=round(x + share * width, 1),
            y=y + 28,
            text_anchor="middle",
            font_size=10,
            fill=paper.SOFT,
        )
    if wanted is not None:
        low, high, words = wanted
        a = float(scale.share(scale.low if low is None else low))
        b = float(scale.share(scale.high if high is None else high))
        drawing.rect(x + a * width, y + 33, (b - a) * width, 4, rx=2, fill=paper.FIT)
        drawing.add("text", words, x=x, y=y + 50, font_size=11, fill=paper.FIT)


def wanted_range(
    evaluation: Evaluation, name: FieldName, units: Units
) -> tuple[float | None, float | None, str] | None:
    """What the species wants of a field, and where, for the scale of colours."""
    if name not in ("uvi", "air"):
        return None
    need = (
        evaluation.plan.animal.need("basking", "uvi")
        if name == "uvi"
        else evaluation.plan.animal.need(evaluation.plan.animal.warm_place, "air_temperature")
    )
    if need is None:
        return None
    text = "–".join(value_text(name, v, units) for v in (need.low, need.high) if v is not None)
    warm = "on the upper perches" if evaluation.plan.animal.lives_by_height else "at the warm end"
    where = "at the basking spot" if name == "uvi" else warm
    return need.low, need.high, f"{text} wanted {where}"


def check_in(evaluation: Evaluation, place: PlaceFigures, name: FieldName) -> Check | None:
    """The check a place's figure is coloured by in the picture of a field."""
    wanted = {
        "uvi": ("uvi",),
        "air": ("surface_temperature", "air_temperature"),
        "humidity": ("humidity",),
    }.get(name, ())
    mine = [v for v in evaluation.checks if v.place_id == place.id]
    return next((v for quantity in wanted for v in mine if v.need.quantity == quantity), None)


def place_text(place: PlaceFigures, name: FieldName, units: Units) -> str:
    """A place's figure in the picture of a field."""
    if name == "uvi":
        uvi = place.uvi_facing if place.kind == "uv_refuge" else place.uvi_level
        return f"UVI {uvi or 0.0:.1f}"
    if name == "air":
        if place.kind == "basking" and place.surface_c is not None:
            return f"surface {figure_text(place.surface_c, '°C', units, 0)}"
        return f"probe {figure_text(place.probe_c, '°C', units, 0)}"
    if name == "humidity":
        return f"{100 * place.relative_humidity:.0f} %"
    if name == "light":
        return f"{place.illuminance_lx or 0.0:.0f} lx"
    return f"{place.irradiance_w_m2 or 0.0:.0f} W/m²"


@dataclass(frozen=True)
class Plate:
    """A place's name and figure, where they would stand alone: the middle, px."""

    at: tuple[float, float]
    label: str
    text: str
    check: Check | None

    @property
    def fails(self) -> bool:
        """Whether its check fails."""
        return self.check is not None and self.check.fails

    @property
    def box(self) -> Box:
        """The room it takes there, px."""
        mark = 0 if self.check is None else 13
        wide = 14 + max(6.0 * len(self.label), 6.8 * len(self.text) + mark)
        return Box(self.at[0] - wide / 2, self.at[1] - 16, wide, 32)


def place_mark(drawing: Drawing, box: Box, plate: Plate) -> None:
    """A small plate with a place's name, its figure and whether that fits."""
    status = None if plate.check is None else plate.check.status
    x, y = box.x + box.width / 2, box.y + box.height / 2
    drawing.rect(
        box.x,
        box.y,
        box.width,
        box.height,
        rx=5,
        fill=paper.PAPER,
        fill_opacity=0.93,
        stroke=TONES[status] if status is not None and plate.fails else paper.LINE,
        stroke_width=2 if plate.fails else 1,
        class_="plate",
    )
    drawing.add("text", plate.label, x=x, y=y - 4, text_anchor="middle", font_size=11, fill=paper.SOFT)
    shift = 0.0 if status is None else 6.0
    if status is not None:
        status_mark(drawing, (x - 3.4 * len(plate.text) - 2.0, y + 7.0), status)
    drawing.add(
        "text",
        plate.text,
        x=x + shift,
        y=y + 11,
        text_anchor="middle",
        font_size=13,
        font_weight="bold",
        fill=paper.INK if status is None else TONES[status],
    )


def status_mark(drawing: Drawing, at: tuple[float, float], status: Status) -> None:
    """Too low points down, too high up; what fits is round, what is not known or not sure hollow."""
    x, y = at
    if status in ("low", "high"):
        up = -1 if status == "high" else 1
        points = f"{x - 4.5:g},{y - 3.5 * up:g} {x + 4.5:g},{y - 3.5 * up:g} {x:g},{y + 4.5 * up:g}"
        drawing.add("polygon", points=points, fill=TONES[status])
    else:
        hollow = status in ("unknown", "uncertain")
        drawing.add(
            "circle",
            cx=x,
            cy=y,
            r=3.5,
            fill="none" if hollow else TONES[status],
            stroke=TONES[status],
            stroke_width=1.5,
        )
