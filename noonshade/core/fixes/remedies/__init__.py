"""What could be changed to put a finding right, by its kind."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from noonshade.core.assessment.finding import Finding
from noonshade.core.evaluate import Evaluation
from noonshade.core.fixes.candidate import Candidate
from noonshade.core.fixes.remedies import controls, fixtures, season, space
from noonshade.core.fixes.remedies.fixtures import uv_over_basking
from noonshade.core.fixes.remedies.night import night_heater
from noonshade.core.fixes.remedies.space import somewhere_dark, vents_added
from noonshade.core.plan import Lamp


def remedies_for(evaluation: Evaluation, finding: Finding, lamps: tuple[Lamp, ...]) -> Iterator[Candidate]:
    """Remedies for a finding, the smallest change first."""
    plan = evaluation.plan
    maker = _OF_KIND.get(finding.kind)
    if maker is not None:
        yield from maker(evaluation, finding)
    elif finding.kind == "spot":
        yield from fixtures.floods(plan, finding, lamps)
    elif finding.kind == "patch":
        yield from fixtures.wider(evaluation, lamps)
    elif finding.kind == "below-290":
        yield from fixtures.other_uv(plan, finding, lamps)


_Maker = Callable[[Evaluation, Finding], Iterator[Candidate]]
_OF_KIND: dict[str, _Maker] = {
    "pairing": controls.pairing,
    "uncontrolled": controls.controlled,
    "clearance": fixtures.clear,
    "climbed": fixtures.clear,
    "mesh-clamped": fixtures.clear,
    "fire": fixtures.clear,
    "fitting": fixtures.guard,
    "mat-digger": fixtures.mat_elsewhere,
    "mat-touch": controls.controlled,
    "old": fixtures.new_lamp,
    "night-light": fixtures.by_day,
    "light-avoided": fixtures.removed,
    "uv-avoided": fixtures.removed,
    "heat-avoided": fixtures.removed,
    "over-water": fixtures.beside_water,
    "probe-beam": controls.probe_moved,
    "probe-far": controls.probe_moved,
    "unit": controls.celsius,
    "idle": controls.idle,
    "no-hide": space.new_hide,
    "no-cover": space.leaves,
    "opening": space.opening,
    "bare": space.path,
    "apart": fixtures.over_basking,
    "gradient": space.vented,
    "glare": fixtures.weaker_uv,
    "box-small": space.larger_enclosure,
    "cohabitation": space.more_hides,
    "day-length": season.day_length,
    "stale": space.vented,
}


__all__ = ["night_heater", "remedies_for", "somewhere_dark", "uv_over_basking", "vents_added"]
