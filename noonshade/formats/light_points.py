"""Lists of points as JSON files, and the light there."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

from pydantic import Field, TypeAdapter, ValidationError

from noonshade.core.light.field import LightAtPoints
from noonshade.core.plan import Enclosure, Point
from noonshade.formats.document import DocumentError, Problem, problems_of, read_json

LARGEST_BYTES = 10_000_000
MOST_POINTS = 100_000
_CONTACT_M = 1e-6
_Metres = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
_Points = TypeAdapter(
    Annotated[
        list[Annotated[tuple[_Metres, _Metres, _Metres], Field(strict=False)]],
        Field(min_length=1, max_length=MOST_POINTS),
    ]
)


def read_points(path: Path, enclosure: Enclosure) -> list[Point]:
    """Points of a file ``[[x, y, z], …]`` in metres.

    Raises
    ------
    DocumentError
        If it holds anything else, or a point outside the enclosure; OSError where it cannot be read.
    """
    raw = read_json(path.read_bytes(), LARGEST_BYTES, "a list of points")
    try:
        points = _Points.validate_python(raw)
    except ValidationError as error:
        raise DocumentError(problems_of(error, raw)) from error
    size = (enclosure.length_m, enclosure.depth_m, enclosure.height_m)
    problems = [
        Problem(
            f"/{i}", f"{list(point)} is outside the enclosure of {size[0]:g} × {size[1]:g} × {size[2]:g} m"
        )
        for i, point in enumerate(points)
        if not all(-1e-9 <= c <= high + 1e-9 for c, high in zip(point, size, strict=True))
    ]
    if problems:
        raise DocumentError(problems)
    return points


def light_rows(points: list[Point], light: LightAtPoints, ground_m: float) -> list[dict[str, Any]]:
    """One object for each point; UV index, W/m², lx and µmol/(m² s). In the ground there is no light."""
    columns = {
        "uvi_level": light.uvi_level,
        "uvi_facing": light.uvi_facing,
        "irradiance_level": light.irradiance_level_w_m2,
        "irradiance_facing": light.irradiance_facing_w_m2,
        "illuminance_level": light.illuminance_level_lx,
        "ppfd_level": light.ppfd_umol_m2_s,
    }
    dark = [point[2] < ground_m - _CONTACT_M for point in points]
    return [
        {
            "position_m": list(point),
            **{name: 0.0 if dark[i] else float(f"{v[i]:.6g}") for name, v in columns.items()},
        }
        for i, point in enumerate(points)
    ]
