"""A heater more for air that is too cold, chosen as the designer chooses them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from noonshade.core.assessment.checks import Check
from noonshade.core.assessment.finding import Finding
from noonshade.core.design.arrangement import Arrangement
from noonshade.core.design.brief import Brief
from noonshade.core.design.given import given_site
from noonshade.core.design.heaters import air_choices
from noonshade.core.design.regulation import regulate
from noonshade.core.design.search import Search
from noonshade.core.design.shells import Stock
from noonshade.core.design.warmth import strong_first
from noonshade.core.evaluate import Evaluation
from noonshade.core.fixes.candidate import Add, Candidate
from noonshade.core.phrase import Measure, Phrase, uncapitalized
from noonshade.core.plan import Lamp, Plan, Thermostat

# Kinds of heater that are tried, and rounds of the search for their watts.
MOST_KINDS, ROUNDS = 3, 2


def heaters_added(
    evaluation: Evaluation, target: Check | Finding, lamps: tuple[Lamp, ...]
) -> Iterator[Candidate]:
    """Heaters without light on a thermostat, set so that all needs are met best, all else left as it is.

    Parameters
    ----------
    evaluation : Evaluation
        Of the plan as it is.
    target : Check or Finding
        What fails.
    lamps : tuple of Lamp
        What may be used.

    Yields
    ------
    Candidate
        None unless air is too cold; the most usual kind first.
    """
    plan = evaluation.plan
    if isinstance(target, Finding) or target.need.quantity != "air_temperature" or target.status != "low":
        return
    brief = Brief(plan.animal.species, plan.room, given=plan, scope="heating")
    site = given_site(brief, Stock({}, {}, {lamp.id: lamp for lamp in lamps}))
    for choice in strong_first(air_choices(site), site, basks=False)[:MOST_KINDS]:
        found = Search(Arrangement(site, plan.fixtures, None, choice)).run(rounds=ROUNDS)
        made = None if found is None else regulate(found.arrangement, found.values)
        if made is None:
            continue
        added = _added(plan, made)
        if added is not None:
            yield added


def _added(plan: Plan, made: Plan) -> Candidate | None:
    """The step from a plan to one with heaters more; None where there are none."""
    present = {f.id for f in plan.fixtures}
    fixtures = [f for f in made.fixtures if f.id not in present]
    known = {t.id for t in plan.thermostats}
    controls = [t for t in made.thermostats if t.id not in known]
    if not fixtures or not controls:
        return None
    first, control = fixtures[0], controls[0]
    number = f"{len(fixtures)} × " if len(fixtures) > 1 else "a "
    sentence: Phrase = (
        f"Add {number}{uncapitalized(first.lamp.label)} of {first.power_w:g} W on a thermostat set to ",
        *_set_to(control),
    )
    steps = (*(Add("thermostat", t) for t in controls), *(Add("fixture", f) for f in fixtures))
    after = replace(
        plan,
        fixtures=(*plan.fixtures, *fixtures),
        thermostats=(*plan.thermostats, *controls),
    )
    return Candidate(after, sentence, steps)


def _set_to(control: Thermostat) -> Phrase:
    day, night = control.day_set_point_c, control.night_set_point_c
    parts: Phrase = () if day is None else (Measure(day, "°C"), " by day")
    if night is not None:
        parts = (*parts, " and " if parts else "", Measure(night, "°C"), " by night")
    return parts
