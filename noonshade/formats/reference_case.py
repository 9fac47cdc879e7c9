"""Cases of prescribed heat as JSON files, and what the model makes of them."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

from pydantic import Field, ValidationError

from noonshade.core.heat.streamed_model import AbsorbedHeat, PrescribedHeat, ReleasedHeat
from noonshade.core.heat_reference import ReferenceFigures
from noonshade.formats.document import DocumentError, Part, Problem, problems_of, read_json

LARGEST_BYTES = 100_000
_Metres = Annotated[float, Field(ge=0, le=10)]
_Watts = Annotated[float, Field(ge=0, le=5000)]


class AbsorbedPart(Part):
    """Heat absorbed by a rectangle of the ground."""

    rect_m: Annotated[tuple[_Metres, _Metres, _Metres, _Metres], Field(strict=False)]
    watts: _Watts


class ReleasedPart(Part):
    """Heat given to the air at a point."""

    at_m: Annotated[tuple[_Metres, _Metres, _Metres], Field(strict=False)]
    watts: _Watts


class ReferenceCase(Part):
    """A plan, by a path from the case's folder, and the heat in place of its lamps."""

    plan: Annotated[str, Field(min_length=1, max_length=400)]
    absorbed: Annotated[list[AbsorbedPart], Field(max_length=50)] = []
    to_air: Annotated[list[ReleasedPart], Field(max_length=50)] = []
    leaks: bool = True
    # The tables of other simulations have one radiant node; false lets surfaces see each other.
    one_radiant_node: bool = True
    layers_m: Annotated[list[_Metres], Field(max_length=100)] = []

    def heat(self) -> PrescribedHeat:
        """The prescribed heat as the core takes it."""
        return PrescribedHeat(
            tuple(AbsorbedHeat(a.rect_m, a.watts) for a in self.absorbed),
            tuple(ReleasedHeat(r.at_m, r.watts) for r in self.to_air),
            self.leaks,
            self.one_radiant_node,
        )

    def check_against(self, length_m: float, depth_m: float, height_m: float) -> None:
        """Raise a DocumentError naming what lies outside an enclosure of that size."""
        problems = []
        for i, a in enumerate(self.absorbed):
            x0, x1, y0, y1 = a.rect_m
            if not (x0 < x1 <= length_m + 1e-9 and y0 < y1 <= depth_m + 1e-9):
                allowed = f"left < right ≤ {length_m:g} and front < back ≤ {depth_m:g} m"
                problems.append(
                    Problem(f"/absorbed/{i}/rect_m", f"{list(a.rect_m)} given; must be {allowed}")
                )
        for i, r in enumerate(self.to_air):
            x, y, z = r.at_m
            if not (x <= length_m and y <= depth_m and z <= height_m):
                problems.append(Problem(f"/to_air/{i}/at_m", f"{list(r.at_m)} is outside the enclosure"))
        for i, z in enumerate(self.layers_m):
            if z > height_m:
                problems.append(Problem(f"/layers_m/{i}", f"{z:g} is above the lid at {height_m:g} m"))
        if problems:
            raise DocumentError(problems)


def read_reference_case(path: Path) -> ReferenceCase:
    """Read a case; its plan's path is resolved against its folder by the caller.

    Raises
    ------
    DocumentError
        If it is no such case; OSError where the file cannot be read.
    """
    raw = read_json(path.read_bytes(), LARGEST_BYTES, "a reference case")
    try:
        return ReferenceCase.model_validate(raw)
    except ValidationError as error:
        raise DocumentError(problems_of(error, raw)) from error


def reference_result(case: ReferenceCase, found: ReferenceFigures) -> dict[str, Any]:
    """What the model makes of a case, as JSON; temperatures in °C."""
    return {
        "mean_air_c": round(found.mean_air_c, 3),
        "layers": [
            {"z_m": z, "air_c": round(t, 3)} for z, t in zip(case.layers_m, found.layers_c, strict=True)
        ],
        "ends": {"warm_air_c": round(found.warm_air_c, 3), "cool_air_c": round(found.cool_air_c, 3)},
        "patches": [{"mean_c": round(p.mean_c, 3), "peak_c": round(p.peak_c, 3)} for p in found.patches],
        "floor_c": round(found.floor_c, 3),
        "lid_c": None if found.lid_c is None else round(found.lid_c, 3),
        "walls_c": {face: round(t, 3) for face, t in found.walls_c.items()},
    }
