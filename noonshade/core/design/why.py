"""Why a set-up is built as it is, in two sentences."""

from __future__ import annotations

from noonshade.core.assessment.wording import said
from noonshade.core.design.arrangement import Arrangement
from noonshade.core.design.habits import is_humid
from noonshade.core.evaluate import Evaluation
from noonshade.core.phrase import Measure, Phrase, capitalized, uncapitalized
from noonshade.core.plan import Plan

NUMBERS = {1: "one", 2: "two", 3: "three", 4: "four"}


def reasons_for(evaluation: Evaluation, arrangement: Arrangement) -> tuple[Phrase, ...]:
    """How the animal is warmed and why so; how air, moisture and light are kept.

    Parameters
    ----------
    evaluation : Evaluation
        Of the plan.
    arrangement : Arrangement
        What was decided.

    Returns
    -------
    tuple[Phrase, ...]
        Two sentences.
    """
    return _warmth(evaluation, arrangement), _air(evaluation)


def _warmth(evaluation: Evaluation, arrangement: Arrangement) -> Phrase:
    plan = evaluation.plan
    spot = next((p for p in evaluation.places if p.kind == "basking"), None)
    basking = next((f for f in plan.fixtures if f.id.startswith("basking-lamp")), None)
    if basking is None or arrangement.basking is None:
        heaters = [f for f in plan.fixtures if f.id.startswith("air-heater")]
        if heaters:
            what, several = _named(heaters[0].lamp.label, len(heaters), "heaters")
            return (
                f"{capitalized(what)} {_when_warm(plan, several)}; the animal chooses between its ends.",
            )
        return ("It is warm enough in this room without a heater, which would only be a risk.",)
    lamp = arrangement.basking
    dark = not lamp.lamp.gives_light
    what, several = _named(lamp.lamp.label, len(lamp.positions), "heaters" if dark else "lamps")
    what = capitalized(what)
    if lamp.mount == "floor":
        warm = "warm" if several else "warms"
        return (
            f"{what} {warm} the ground of the warm end from below: an animal of the dark takes up heat "
            "with its belly and needs no lamp for it.",
        )
    if lamp.mount == "screwed":
        warm = "warm" if several else "warms"
        return (
            f"{what} below the lid {warm} a wide place gently: no spot burns, and nothing hot can be "
            "touched.",
        )
    hang = "hang" if several else "hangs"
    if spot is None or spot.surface_c is None:
        return (f"{what} {hang} over the warm end.",)
    gap = lamp.positions[0][2] - spot.position_m[2] + plan.animal.back_height_m
    return (
        f"{what} {hang} ",
        Measure(gap, "m"),
        " above the basking spot, near enough for few watts and far enough to warm all of the animal: ",
        *said("surface_temperature", spot.surface_c),
        ".",
    )


def _named(label: str, count: int = 1, kind: str = "lamps") -> tuple[str, bool]:
    """A lamp of the catalogue within a sentence, and whether it takes a verb in the plural."""
    name, _, rest = label.partition(", ")
    within = uncapitalized(name) + (f" ({rest})" if rest else "")
    plural = name.startswith(("Two ", "Four "))
    if not plural:
        within = f"an {within}" if name.startswith("LED") else f"a {within}"
    if count == 1:
        return within, plural
    return f"{NUMBERS.get(count, str(count))} {kind}, each {within},", True


def _when_warm(plan: Plan, several: bool = False) -> str:
    """What the heater for the air does, or several do, and when; empty without one."""
    heater = next((f for f in plan.fixtures if f.id.startswith("air-heater")), None)
    if heater is None:
        return ""
    control = next(t for t in plan.thermostats if t.id == heater.thermostat_id)
    by_day, by_night = control.day_set_point_c is not None, control.night_set_point_c is not None
    if not by_day and not by_night:
        return f"{'are' if several else 'is'} ready for colder months"
    when = "by day and by night" if by_day and by_night else "by day" if by_day else "by night"
    return f"{'keep' if several else 'keeps'} the air warm {when}"


def _air(evaluation: Evaluation) -> Phrase:
    plan = evaluation.plan
    parts: list[str] = []
    if any(f.id.startswith("basking-lamp") for f in plan.fixtures) and _when_warm(plan):
        several = sum(f.id.startswith("air-heater") for f in plan.fixtures) > 1
        what = "heaters without light" if several else "a heater without light"
        parts.append(f"{what} {_when_warm(plan, several)}")
    if is_humid(plan.animal):
        if plan.mistings:
            times = sum(len(m.hours) for m in plan.mistings)
            sprayings = "spraying" if times == 1 else "sprayings"
            parts.append(
                f"a well closed lid and {NUMBERS.get(times, str(times))} {sprayings} a day keep it moist"
            )
        else:
            parts.append("damp ground under a well closed lid keeps it moist")
    lights = [f for f in plan.fixtures if f.lamp.uv is not None]
    if lights:
        parts.append(
            f"{_named(lights[0].lamp.label)[0]} gives UV where it basks and leaves the rest in shade"
        )
    if not parts:
        parts.append("the room does the rest by day and by night")
    return (capitalized("; ".join(parts)) + ".",)
