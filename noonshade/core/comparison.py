"""Two evaluations side by side: every figure at every place, and what fails in one and not in the other."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from noonshade.core.assessment.checks import Status
from noonshade.core.assessment.finding import Finding
from noonshade.core.evaluate import Evaluation
from noonshade.core.needs.species import Quantity
from noonshade.core.places import PlaceFigures

Figure = Literal["surface", "air", "probe", "uvi", "uvi_facing", "humidity", "operative"]

_ATTRIBUTES: dict[Figure, str] = {
    "surface": "surface_c",
    "air": "air_c",
    "probe": "probe_c",
    "uvi": "uvi_level",
    "uvi_facing": "uvi_facing",
    "humidity": "relative_humidity",
    "operative": "operative_c",
}
# The check that speaks of a figure; refuges are assessed by the UV facing the light.
_QUANTITIES: dict[Figure, Quantity] = {
    "surface": "surface_temperature",
    "probe": "air_temperature",
    "uvi": "uvi",
    "uvi_facing": "uvi",
    "humidity": "humidity",
}


@dataclass(frozen=True, slots=True)
class ComparedFigure:
    """One figure in both; None where one of them has no such place or figure, or no check on it."""

    figure: Figure
    before: float | None
    after: float | None
    status_before: Status | None
    status_after: Status | None

    @property
    def difference(self) -> float | None:
        """After less before."""
        if self.before is None or self.after is None:
            return None
        return self.after - self.before


@dataclass(frozen=True, slots=True)
class ComparedPlace:
    """One place in both, or in one of them only."""

    id: str
    label: str
    figures: tuple[ComparedFigure, ...]
    only: Literal["before", "after"] | None = None


@dataclass(frozen=True, slots=True)
class Comparison:
    """Places in the order of the first, then those only the second has; findings that came and went."""

    places: tuple[ComparedPlace, ...]
    findings_gone: tuple[Finding, ...]
    findings_new: tuple[Finding, ...]


def compare_evaluations(before: Evaluation, after: Evaluation) -> Comparison:
    """Compare two evaluations.

    Places are the same if they have the same id, or else the same name: a copy of a plan keeps ids, one
    made anew keeps names. The night is a separate place.

    Parameters
    ----------
    before : Evaluation
        The evaluation before.
    after : Evaluation
        The evaluation afterwards.

    Returns
    -------
    Comparison
        Differences by place, and the failing findings that go and that come.
    """
    theirs = list(after.places)
    places = []
    for place in before.places:
        match = next((p for p in theirs if p.id == place.id), None) or next(
            (p for p in theirs if p.label == place.label), None
        )
        if match is not None:
            theirs.remove(match)
        places.append(_place(before, after, place, match))
    places += [_place(before, after, None, place) for place in theirs]
    places.append(_night(before, after))
    known, found = {f.id for f in before.findings}, {f.id for f in after.findings}
    return Comparison(
        tuple(places),
        tuple(f for f in before.findings if f.fails and f.id not in found),
        tuple(f for f in after.findings if f.fails and f.id not in known),
    )


def _place(
    before: Evaluation, after: Evaluation, a: PlaceFigures | None, b: PlaceFigures | None
) -> ComparedPlace:
    named = a or b
    assert named is not None
    figures = []
    for figure, attribute in _ATTRIBUTES.items():
        x = None if a is None else getattr(a, attribute)
        y = None if b is None else getattr(b, attribute)
        if x is None and y is None:
            continue
        figures.append(
            ComparedFigure(figure, x, y, _status(before, a, figure, x), _status(after, b, figure, y))
        )
    only: Literal["before", "after"] | None = "after" if a is None else "before" if b is None else None
    return ComparedPlace(named.id, named.label, tuple(figures), only)


def _status(
    evaluation: Evaluation, place: PlaceFigures | None, figure: Figure, value: float | None
) -> Status | None:
    quantity = _QUANTITIES.get(figure)
    if place is None or quantity is None or value is None:
        return None
    check = next(
        (v for v in evaluation.checks if v.place_id == place.id and v.need.quantity == quantity), None
    )
    if check is None or (quantity == "uvi" and check.value != value):
        return None
    return check.status


def _night(before: Evaluation, after: Evaluation) -> ComparedPlace:
    def status(evaluation: Evaluation, quantity: Quantity) -> Status | None:
        found = [v for v in evaluation.checks if v.need.place == "night" and v.need.quantity == quantity]
        return found[0].status if found else None

    air = ComparedFigure(
        "air",
        before.night_air_c,
        after.night_air_c,
        status(before, "air_temperature"),
        status(after, "air_temperature"),
    )
    humidity = ComparedFigure(
        "humidity",
        before.night_humidity,
        after.night_humidity,
        status(before, "humidity"),
        status(after, "humidity"),
    )
    return ComparedPlace("night", "Night", (air, humidity))
