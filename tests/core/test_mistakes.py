"""One plan for each of the usual mistakes: it is found, and the first change proposed cures it."""

from __future__ import annotations

from dataclasses import replace
from importlib.resources import files

import pytest

from noonshade.core.assessment.checks import Check
from noonshade.core.assessment.finding import Finding
from noonshade.core.evaluate import Evaluation
from noonshade.core.fixes.remedies.lid import GLASS
from noonshade.core.fixes.remedies.space import CORK, FOLIAGE
from noonshade.core.fixes.suggest import iterate_fixes, suggest_fixes
from noonshade.core.phrase import plain_text
from noonshade.core.plan import (
    Background,
    Branch,
    Fixture,
    Misting,
    Plan,
    Room,
    RoomClimate,
    Thermostat,
    Wall,
    Water,
)
from noonshade.formats.plan_document import parse_plan
from noonshade.formats.plan_from_document import resolve
from tests.builders import CATALOG, MATERIALS, changed, controlled, flawless, lifted, timber_enclosure
from tests.evaluated import evaluate

GOOD = flawless()
LAMPS, MESHES = tuple(CATALOG.lamps.values()), tuple(CATALOG.meshes.values())
FINE = CATALOG.meshes["fine-0.5-2.0"]


def of_species(species_id: str, plan: Plan = GOOD, **animal: object) -> Plan:
    species = CATALOG.species[species_id]
    adult = species.stage("adult")
    made = replace(
        plan.animal, species=species, body_length_m=adult.body_length_m, back_height_m=adult.back_height_m
    )
    return replace(plan, animal=replace(made, **animal))  # type: ignore[arg-type]


def without(plan: Plan, *ids: str) -> Plan:
    return replace(plan, furnishings=tuple(f for f in plan.furnishings if f.id not in ids))


def with_items(plan: Plan, *items: object) -> Plan:
    return replace(plan, furnishings=(*plan.furnishings, *items))  # type: ignore[arg-type]


def frog(**change: object) -> Plan:
    """A cool salamander's enclosure: no lamps, damp ground, a hide at either end."""
    plan = of_species("salamandra-salamandra")
    plan = without(replace(plan, fixtures=(), thermostats=()), "basking-slab")
    room = Room(17.0, 14.0, 0.7, winter=RoomClimate(14.0, 12.0, 0.7), summer=RoomClimate(20.0, 17.0, 0.7))
    plan = replace(plan, room=room, substrate=replace(plan.substrate, wetness=0.35))
    return replace(plan, **change)  # type: ignore[arg-type]


def gecko(mount: str = "back") -> Plan:
    """A digging night gecko over a mat."""
    plan = of_species("teratoscincus-scincus")
    mat = Fixture(
        "mat",
        "Heat mat",
        CATALOG.lamps["mat-28"],
        20.0,
        (0.3, 0.3, 0.0),
        "always",
        mount=mount,  # type: ignore[arg-type]
        thermostat_id="mat-control",
    )
    control = Thermostat("mat-control", "Mat thermostat", "pulse", 30.0, 26.0, 0.5, (0.3, 0.3, 0.09))
    return replace(plan, fixtures=(*plan.fixtures, mat), thermostats=(*plan.thermostats, control))


def on_fixture(fixture_id: str, **values: object) -> Plan:
    return changed(GOOD, fixture_id, **values)


DIMMED_TUBE = on_fixture("uv-tube", thermostat_id="main")
CORK_BACK = Background("back", "Cork back", "back", 0.03, MATERIALS["cork"])

MISTAKES: dict[str, tuple[Plan, str]] = {
    "a tube chosen by its printed percentage": (
        on_fixture("uv-tube", lamp=CATALOG.lamps["t5-medium-85"]),
        "basking:uvi",
    ),
    "a fine mesh forgotten": (on_fixture("uv-tube", screen=FINE), "basking:uvi"),
    "substrate added later": (
        replace(GOOD, substrate=replace(GOOD.substrate, depth_m=0.20)),
        "clearance:basking-lamp",
    ),
    "no refuge from UV": (without(GOOD, "warm-hide", "cool-hide", "basking-slab"), "darkest:uvi"),
    "heat at one end, UV at the other": (
        replace(
            changed(
                on_fixture("basking-lamp", thermostat_id=None, power_w=50.0),
                "uv-tube",
                lamp=CATALOG.lamps["t5-strong-55"],
                power_w=24.0,
                position_m=(0.9, 0.3, 0.45),
            ),
            thermostats=(),
        ),
        "apart:uv",
    ),
    "a hot spot smaller than the animal": (
        replace(
            on_fixture(
                "basking-lamp", lamp=CATALOG.lamps["halogen-spot"], power_w=35.0, thermostat_id=None
            ),
            thermostats=(),
            animal=replace(GOOD.animal, body_length_m=0.2),
        ),
        "patch:basking",
    ),
    "a spot over a heavy animal": (
        replace(
            of_species("tiliqua-scincoides"),
            fixtures=on_fixture("basking-lamp", lamp=CATALOG.lamps["halogen-spot"]).fixtures,
        ),
        "spot:basking-lamp",
    ),
    "a bulb in reach": (
        with_items(
            GOOD, Branch("b", "Branch", (0.1, 0.3, 0.15), (0.3, 0.3, 0.36), 0.03, MATERIALS["hardwood"])
        ),
        "clearance:basking-lamp",
    ),
    "a wall that is climbed beside a bulb": (
        with_items(
            changed(of_species("agama-agama"), "basking-lamp", position_m=(0.28, 0.44, 0.52), power_w=50.0),
            CORK_BACK,
        ),
        "climbed:basking-lamp",
    ),
    "a fitting a strong animal levers out": (of_species("tiliqua-scincoides"), "fitting:basking-lamp"),
    "a heater beside timber": (
        replace(
            GOOD,
            fixtures=(
                *GOOD.fixtures,
                Fixture(
                    "night-heater",
                    "Night heater",
                    CATALOG.lamps["ceramic-heater"],
                    40.0,
                    (1.1, 0.54, 0.45),
                    "night",
                ),
            ),
        ),
        "fire:night-heater",
    ),
    "one hide only": (without(GOOD, "cool-hide"), "no-hide:cool"),
    "no cover on the way": (without(GOOD, "warm-hide"), "bare:enclosure"),
    "a hide it cannot get into": (
        replace(
            GOOD,
            furnishings=tuple(
                replace(f, opening_height_m=0.02) if f.id == "cool-hide" else f  # type: ignore[call-arg]
                for f in GOOD.furnishings
            ),
        ),
        "opening:cool-hide",
    ),
    "a mat under a digger": (gecko("floor"), "mat-digger:mat"),
    "a mat without a thermostat": (
        changed(
            # A lamp at fixed power: one on a thermostat would make up for what the mat gives less.
            changed(
                of_species("hemitheconyx-caudicinctus", gecko("floor")), "basking-lamp", thermostat_id=None
            ),
            "mat",
            thermostat_id=None,
        ),
        "uncontrolled:mat",
    ),
    "a probe at the other end": (
        controlled(GOOD, probe_m=(1.05, 0.55, 0.25), day_set_point_c=30.0),
        "probe-far:main",
    ),
    "a probe in the beam": (controlled(GOOD, probe_m=(0.28, 0.3, 0.35)), "probe-beam:main"),
    "a tube on a dimmer": (DIMMED_TUBE, "pairing:uv-tube"),
    "no thermostat at all": (
        replace(on_fixture("basking-lamp", thermostat_id=None, power_w=50.0), thermostats=()),
        "uncontrolled:basking-lamp",
    ),
    "a set point in the other unit": (
        controlled(GOOD, day_set_point_c=82.4),
        "unit:main",
    ),
    "a heater for an animal of cool woods": (
        frog(fixtures=(replace(GOOD.fixtures[0], power_w=25.0, thermostat_id=None),)),
        "heat-avoided:enclosure",
    ),
    "an unheated room for hatchlings": (
        replace(
            GOOD,
            room=replace(GOOD.room, night_temperature_c=13.0),
            animal=replace(GOOD.animal, stage="young", body_length_m=0.045, back_height_m=0.013),
        ),
        "night:air_temperature",
    ),
    "misted, and nothing dries": (
        frog(
            mistings=(Misting((8.0, 14.0, 20.0), 0.2),),
            enclosure=replace(timber_enclosure(), vents=(), insets=()),
        ),
        "stale:enclosure",
    ),
    "a tropical animal in a dry enclosure": (
        frog(
            animal=of_species("dendrobates-tinctorius").animal,
            substrate=replace(GOOD.substrate, wetness=0.0),
            room=Room(25.0, 21.0, 0.6, summer=RoomClimate(26.0, 22.0, 0.6)),
        ),
        "cool_end:humidity",
    ),
    "an old tube": (on_fixture("uv-tube", hours=9000.0), "old:uv-tube"),
    "two animals and one basking spot": (
        replace(GOOD, animal=replace(GOOD.animal, count=4)),
        "cohabitation:hides",
    ),
    "an enclosure too small": (
        replace(GOOD, enclosure=replace(GOOD.enclosure, depth_m=0.55)),
        "box-small:now",
    ),
    "too strong a UV lamp": (
        replace(
            lifted(GOOD, "uv-tube", 0.36),
            fixtures=tuple(
                replace(f, lamp=CATALOG.lamps["t5-strong-85"], position_m=(0.6, 0.45, 0.2))
                if f.id == "uv-tube"
                else f
                for f in GOOD.fixtures
            ),
        ),
        "glare:enclosure",
    ),
    "UV for an animal that is kept without": (
        frog(fixtures=(GOOD.fixtures[1],)),
        "uv-avoided:enclosure",
    ),
    "light at night": (on_fixture("uv-tube", lit="always"), "night-light:uv-tube"),
    "a lamp over the water": (
        with_items(GOOD, Water("pool", "Pool", 0.45, 0.36, 0.12, 0.12, 0.03, MATERIALS["plastic"])),
        "over-water:uv-tube",
    ),
    "a day its home never sees": (replace(GOOD, photoperiod_h=20.0), "day-length:enclosure"),
    "a hot lamp on mesh that is climbed": (
        replace(
            changed(
                of_species("furcifer-pardalis"), "basking-lamp", position_m=(0.28, 0.3, 0.615), power_w=60
            ),
            enclosure=replace(
                GOOD.enclosure,
                walls={**GOOD.enclosure.walls, "top": Wall(mesh=CATALOG.meshes["medium-0.7-4.0"])},
            ),
        ),
        "mesh-clamped:basking-lamp",
    ),
}


# What only the room can cure: no change of the enclosure is proposed, and the room is the keeper's.
OF_THE_ROOM: dict[str, tuple[Plan, str]] = {
    "a summer room above its ceiling": (
        frog(room=Room(17.0, 14.0, 0.7, summer=RoomClimate(28.0, 22.0, 0.6))),
        "summer-hot:room",
    ),
    "a night as hot as the day": (
        replace(GOOD, room=replace(GOOD.room, night_temperature_c=27.0)),
        "night:air_temperature",
    ),
}


def target_of(result: Evaluation, key: str) -> Check | Finding:
    everything: list[Check | Finding] = [*result.checks, *result.findings]
    found = [t for t in everything if t.id == key]
    assert found, f"{key} is not among {[t.id for t in everything]}"
    return found[0]


@pytest.mark.parametrize("name", list(MISTAKES))
def test_each_mistake_is_found_and_its_first_fix_cures_it(name: str) -> None:
    plan, key = MISTAKES[name]
    result = evaluate(plan)
    target = target_of(result, key)
    if isinstance(target, Check):
        assert target.fails
    fix = iterate_fixes(result, target, LAMPS, MESHES)
    assert fix is not None, "no candidate helps"
    assert fix.breaks == ()
    after = evaluate(fix.plan)
    failing = {v.id for v in after.checks if v.fails} - {v.id for v in result.checks if v.fails}
    assert not failing
    again = [t for t in (*after.checks, *after.findings) if t.id == key]
    if isinstance(target, Check):
        assert not any(v.fails for v in again if isinstance(v, Check))
    else:
        assert target.severity not in [f.severity for f in again if isinstance(f, Finding)]


@pytest.mark.parametrize("name", list(OF_THE_ROOM))
def test_what_only_the_room_can_cure_is_named_and_the_room_is_not_changed(name: str) -> None:
    plan, key = OF_THE_ROOM[name]
    result = evaluate(plan)
    target = target_of(result, key)
    said = target.reason if isinstance(target, Check) else target.message
    assert "room" in plain_text(said)
    assert iterate_fixes(result, target, LAMPS, MESHES) is None


def test_what_has_no_mistake_has_no_findings() -> None:
    result = evaluate(GOOD)
    assert result.fits
    assert [f.id for f in result.findings] == ["unmeasured:enclosure"]
    cool = evaluate(frog())
    assert [f.id for f in cool.findings] == ["unmeasured:enclosure"]
    assert cool.fits


def test_a_fault_may_have_several_fixes_that_move_different_things() -> None:
    result = evaluate(on_fixture("uv-tube", screen=FINE))
    found = suggest_fixes(result, target_of(result, "basking:uvi"), LAMPS, MESHES)
    assert 2 <= len(found) <= 3
    levers = {tuple(sorted(str(c) for c in m.changes)) for m in found}
    assert len(levers) == len(found)
    assert all(m.breaks == () for m in found)


def test_a_fix_never_worsens_what_fails_already() -> None:
    """A warm end that is too cool is not fixed by a hotter lamp over a slab that is too hot."""
    plan = resolve(parse_plan((files("noonshade.demo") / "crocodile-lizard.json").read_bytes()), CATALOG)
    fixtures = tuple(
        replace(
            f,
            thermostat_id=None,
            lamp=CATALOG.lamps["halogen-spot"],
            power_w=50.0,
            position_m=(0.26, 0.25, 0.65),
        )
        if f.id == "basking-lamp"
        else f
        for f in plan.fixtures
    )
    room = replace(plan.room, day_temperature_c=18.0)
    result = evaluate(replace(plan, room=room, fixtures=fixtures, thermostats=()))
    hot = target_of(result, "basking:surface_temperature")
    cool = target_of(result, "warm_end:air_temperature")
    assert isinstance(hot, Check)
    assert isinstance(cool, Check)
    assert (hot.status, cool.status) == ("high", "low")
    # The slab is a danger already, and whatever warms the end makes it hotter: nothing is offered.
    assert hot.severity == "danger"
    assert suggest_fixes(result, cool, LAMPS, MESHES) == ()


def test_dangers_come_with_a_caution_and_whom_to_ask() -> None:
    for name in ("a bulb in reach", "a heater beside timber", "a tube on a dimmer"):
        plan, key = MISTAKES[name]
        finding = target_of(evaluate(plan), key)
        assert isinstance(finding, Finding)
        assert finding.severity == "danger"
        assert len(finding.caution) > 20
        assert finding.ask in ("electrician", "veterinarian")


@pytest.mark.parametrize(("lining", "found"), [("clay-tile", False), ("slate", False), ("cork", True)])
def test_fire_is_a_danger_beside_what_burns_only(lining: str, found: bool) -> None:
    plan, key = MISTAKES["a heater beside timber"]
    plan = changed(plan, "night-heater", position_m=(0.9, 0.54, 0.45))
    plan = with_items(plan, Background("lining", "Lining", "back", 0.01, MATERIALS[lining]))
    assert (key in [f.id for f in evaluate(plan).findings]) is found


def test_a_guard_keeps_the_animal_off() -> None:
    plan, key = MISTAKES["a bulb in reach"]
    guarded = evaluate(changed(plan, "basking-lamp", guard=True))
    assert key not in [f.id for f in guarded.findings]
    # But not where it burns through the guard.
    near = Branch("b", "Branch", (0.1, 0.3, 0.15), (0.3, 0.3, 0.46), 0.03, MATERIALS["hardwood"])
    close = evaluate(changed(with_items(GOOD, near), "basking-lamp", guard=True))
    danger = next(f for f in close.findings if f.id == key)
    assert danger.severity == "danger"
    assert "behind its guard" in plain_text(danger.message)


def test_findings_name_what_they_are_about() -> None:
    """A finding names the thing it is about, so that the drawing can point at it."""
    for plan, key in MISTAKES.values():
        result = evaluate(plan)
        known = {"enclosure", "room", *(f.id for f in plan.fixtures), *(t.id for t in plan.thermostats)}
        known |= {f.id for f in plan.furnishings}
        assert {f.about_id for f in result.findings} <= known, key


def test_furnishings_that_are_proposed_are_made_of_what_the_catalogue_has() -> None:
    assert MATERIALS["cork"] == CORK
    assert MATERIALS["foliage"] == FOLIAGE
    assert MATERIALS["glass"] == GLASS


def test_no_fix_brings_a_danger() -> None:
    """A cold end is not warmed by a lamp that burns what lies under it."""
    plan = replace(GOOD, room=replace(GOOD.room, day_temperature_c=12.0))
    result = evaluate(plan)
    cold = [v for v in result.checks if v.fails and v.status == "low" and v.need.place == "warm_end"]
    assert cold
    for target in cold:
        for fix in suggest_fixes(result, target, LAMPS, MESHES):
            after = evaluate(fix.plan)
            assert not any(v.severity == "danger" for v in (*after.checks, *after.findings))
