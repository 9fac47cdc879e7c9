"""Growth along its curve, what stops fitting on the way, company, and the list for a new arrival."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from noonshade.core.care.cohabitation import assess_cohabitation, is_large_enough
from noonshade.core.care.growth import (
    GROWN_MONTHS,
    find_milestones,
    grown_to,
    hatchling_m,
    predict_growth,
    usual_rate,
)
from noonshade.core.care.quarantine import LONGEST, QUARANTINE_DAYS, RELEASE, SHORTEST, quarantine_steps
from noonshade.core.constants import DAYS_PER_MONTH
from noonshade.core.needs.species import Species
from noonshade.core.phrase import plain_text
from noonshade.core.plan import Animal, Branch, Plan
from tests.builders import CATALOG, shipped_plan
from tests.evaluated import evaluate

TODAY = date(2026, 11, 26)
SPECIES = sorted(CATALOG.species.values(), key=lambda s: s.id)
LIZARD = shipped_plan("collared-lizard")
ADULT = LIZARD.animal.species.stage("adult").body_length_m


def young(plan: Plan = LIZARD, length: float = 0.045) -> Plan:
    return grown_to(replace(plan, animal=replace(plan.animal, stage="young")), length)


@given(st.sampled_from(SPECIES))
def test_every_species_is_grown_in_its_time(species: Species) -> None:
    shape = species.stages[-1]
    animal = Animal(species, shape.body_length_m, shape.back_height_m, shape.id)
    days = GROWN_MONTHS[species.group] * DAYS_PER_MONTH
    course = predict_growth(animal, TODAY, hatched_on=TODAY)
    assert course.length_m == pytest.approx(hatchling_m(species))
    grown = course.length_on(TODAY + timedelta(days=round(days)))
    assert grown == pytest.approx(0.95 * course.adult_m, rel=0.01)


@given(st.floats(0.03, 0.095), st.floats(0.03, 0.099), st.sampled_from([1.0, 1.5, 1 / 1.5]))
def test_the_day_of_a_length_has_that_length(now: float, then: float, pace: float) -> None:
    course = predict_growth(young(length=now).animal, TODAY)
    day = course.day_of(then, pace)
    assert day is not None
    if then <= now:
        assert day == TODAY
    else:
        assert course.length_on(day, pace) >= then - 1e-9
        assert course.length_on(day - timedelta(days=1), pace) < then
    lengths = [course.length_on(TODAY + timedelta(days=30 * i)) for i in range(20)]
    assert all(a <= b <= course.adult_m for a, b in pairwise(lengths))
    assert course.day_of(course.adult_m) is None


def test_measured_lengths_place_it_and_say_how_fast_it_grows() -> None:
    animal = young().animal
    plain = predict_growth(animal, TODAY, [(TODAY, 0.06)])
    assert (plain.length_m, plain.basis) == (0.06, "measured")
    slow = predict_growth(animal, TODAY, [(TODAY - timedelta(days=200), 0.05), (TODAY, 0.06)])
    assert slow.rate < plain.rate
    assert slow.spread < plain.spread
    # What the ruler could not have seen, or has seen wrong, changes nothing or little.
    twice = predict_growth(animal, TODAY, [(TODAY - timedelta(days=5), 0.05), (TODAY, 0.06)])
    assert twice.rate == plain.rate
    slip = predict_growth(animal, TODAY, [(TODAY - timedelta(days=40), 0.01), (TODAY, 0.096)])
    assert slip.rate <= 3.0 * usual_rate(animal.species)
    # An old length has grown on since; one of tomorrow is ignored.
    old = predict_growth(
        animal, TODAY, [(TODAY - timedelta(days=100), 0.06), (TODAY + timedelta(days=9), 0.02)]
    )
    assert old.length_m > 0.06
    assert predict_growth(animal, TODAY).basis == "plan"
    # One that is longer than usual is its own measure.
    assert predict_growth(LIZARD.animal, TODAY, [(TODAY, 0.13)]).grown


def test_an_enclosure_for_a_young_one_is_told_ahead_to_become_too_small() -> None:
    small = replace(LIZARD.enclosure, length_m=0.9, depth_m=0.45, height_m=0.45, vents=(), insets=())
    tubes = tuple(
        replace(f, position_m=(min(f.position_m[0], 0.44), min(f.position_m[1], 0.3), 0.4), label=f.label)
        for f in LIZARD.fixtures
        if f.id == "basking-lamp"
    )
    furnishings = tuple(f for f in LIZARD.furnishings if getattr(f, "basking", False))
    probe = replace(LIZARD.thermostats[0], probe_m=(0.7, 0.2, 0.2))
    plan = young(
        replace(LIZARD, enclosure=small, fixtures=tubes, furnishings=furnishings, thermostats=(probe,))
    )
    course = predict_growth(plan.animal, TODAY)
    seen: list[int] = []
    found = {m.id: m for m in find_milestones(plan, course, seen.append)}
    assert seen == [1, 2, 3, 4, 5, 6]
    enclosure = found["box-small:now"]
    # 0.9 m is too short from 0.95 of the adult's 1.2 m on, by the root of how long it is.
    assert enclosure.length_m == pytest.approx(ADULT * (0.9 / (0.95 * 1.2)) ** 2, rel=0.09)
    assert enclosure.day is not None
    assert enclosure.earliest is not None
    assert enclosure.earliest < enclosure.day
    assert enclosure.latest is None or enclosure.latest > enclosure.day
    lengths = [m.length_m for m in found.values()]
    assert lengths == sorted(lengths)


def test_a_grown_animal_has_nothing_before_it() -> None:
    assert find_milestones(LIZARD, predict_growth(LIZARD.animal, TODAY)) == ()


def test_a_thin_perch_is_told() -> None:
    chameleon = shipped_plan("panther-chameleon")
    thin = tuple(
        replace(f, diameter_m=0.008) if isinstance(f, Branch) else f for f in chameleon.furnishings
    )
    plan = young(replace(chameleon, furnishings=thin), 0.05)
    found = {m.id: m for m in find_milestones(plan, predict_growth(plan.animal, TODAY))}
    assert found["perch:thin"].length_m == pytest.approx(0.072, rel=0.2)
    assert "thicker" in plain_text(found["perch:thin"].description)


# -- company -----------------------------------------------------------------------


def test_what_there_is_for_each_of_several() -> None:
    alone = assess_cohabitation(evaluate(LIZARD))
    assert (alone.count, alone.together, alone.faults) == (1, False, ())
    many = assess_cohabitation(evaluate(replace(LIZARD, animal=replace(LIZARD.animal, count=6))))
    assert many.together
    assert many.hides == alone.hides
    assert many.basking_spots == alone.basking_spots
    assert {f.id for f in many.faults} >= {"cohabitation:hides"}
    assert assess_cohabitation(evaluate(shipped_plan("giant-vinegaroon"))).basking_spots is None
    half = replace(LIZARD.enclosure, length_m=0.5 * LIZARD.enclosure.length_m)
    assert is_large_enough(LIZARD.enclosure, LIZARD.enclosure)
    assert not is_large_enough(half, LIZARD.enclosure)


# -- new arrivals ------------------------------------------------------------------


@given(st.sampled_from(SPECIES), st.integers(SHORTEST, LONGEST))
def test_every_arrival_is_looked_over_first_and_released_last(species: Species, days: int) -> None:
    listed = quarantine_steps(species, days)
    keys = [s.key for s in listed]
    assert len(set(keys)) == len(keys)
    assert [s.day for s in listed] == sorted(s.day for s in listed)
    assert keys[0] == "inspect"
    assert (keys[-1], listed[-1].day) == (RELEASE, days)
    assert all(s.why for s in listed)
    order = [k for k in ("alone", "meal", "handling") if k in keys]
    assert order == [k for k in keys if k in order]
    if species.group in ("frog", "salamander", "invertebrate"):
        assert "handling" not in keys
    assert QUARANTINE_DAYS[species.group] >= 30


def test_a_quarantine_that_is_too_short_is_refused() -> None:
    with pytest.raises(ValueError, match="14 to 365"):
        quarantine_steps(SPECIES[0], 3)
