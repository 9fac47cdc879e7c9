"""Intervals of figures, and needs under all conditions."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from noonshade.core.evaluate import Evaluation
from noonshade.core.phrase import plain_text
from noonshade.core.plan import Plan
from noonshade.core.scenarios import evaluate_scenarios, variants
from noonshade.core.summary import by_weight, summarize
from noonshade.core.uncertainty.intervals import (
    carried_over,
    compute_intervals,
    elsewhere,
    main_effects,
)
from noonshade.core.uncertainty.multipliers import HALF_80, ROOM_K, multipliers_of
from noonshade.core.uncertainty.sensitivity import compute_sensitivity
from tests.builders import changed, controlled, demo_plan, flawless, uncontrolled
from tests.evaluated import evaluate

STEADY = changed(uncontrolled(flawless()), "basking-lamp", power_w=50.0)


@pytest.fixture(scope="module")
def result() -> Evaluation:
    return evaluate(STEADY)


def drawn(plan: Plan, z: dict[str, float]) -> Evaluation:
    """The full model with the inputs that matter most moved by z half widths each, in one plan."""
    lamp, tube = plan.fixtures
    halogen = lamp.lamp
    hot = halogen.forward_radiant * (1 + halogen.spread.radiant * z["heat"])
    wide = halogen.geometry.fwhm_deg * (1 + halogen.spread.beam * z["beam"])  # type: ignore[union-attr]
    moved = replace(
        halogen,
        forward_radiant=hot,
        geometry=replace(halogen.geometry, fwhm_deg=wide),  # type: ignore[arg-type]
    )
    uv = tube.lamp.uv
    assert uv is not None
    bright = replace(tube.lamp, uv=replace(uv, uvi=uv.uvi * (1 + tube.lamp.spread.uv) ** z["uv"]))
    room = replace(plan.room, day_temperature_c=plan.room.day_temperature_c + ROOM_K * z["room"])
    return evaluate(
        replace(plan, room=room, fixtures=(replace(lamp, lamp=moved), replace(tube, lamp=bright)))
    )


def test_intervals_cover_the_seeded_draws_of_the_full_model(result: Evaluation) -> None:
    """Of draws of the whole model about four in five lie within the 80 % interval."""
    rng = np.random.default_rng(4)
    found = {i.check_id: i for i in compute_intervals(result)}
    keys = ("basking:surface_temperature", "basking:uvi", "warm_end:air_temperature")
    inside = dict.fromkeys(keys, 0)
    draws = 60
    for _ in range(draws):
        z = dict(zip(("heat", "beam", "uv", "room"), rng.standard_normal(4) / HALF_80, strict=True))
        values = {v.id: v.value for v in drawn(STEADY, z).checks}
        for key in keys:
            value = values[key]
            assert value is not None
            inside[key] += found[key].low <= value <= found[key].high
    for key, count in inside.items():
        # The full interval also holds what is not drawn here (walls, vents), so it may cover more.
        assert 0.68 <= count / draws <= 0.95, (key, count)


def test_intervals_hold_the_figure_and_are_the_same_for_the_same_seed(result: Evaluation) -> None:
    first, second = compute_intervals(result), compute_intervals(result)
    assert first == second
    assert compute_intervals(result, seed=1) != first
    values = {v.id: v.value for v in result.checks}
    for one in first:
        value = values[one.check_id]
        assert value is not None
        assert one.low - 1e-9 <= value <= one.high + 1e-9
        assert 0 <= one.probability <= 1


def test_the_uv_of_the_tube_makes_the_spread_of_the_uv(result: Evaluation) -> None:
    found = {i.check_id: i for i in compute_intervals(result)}
    uv = found["basking:uvi"]
    assert uv.causes[0][0] == "the UV of UV tube"
    spread = STEADY.fixtures[1].lamp.spread.uv
    value = next(v.value for v in result.checks if v.id == "basking:uvi")
    assert value is not None
    assert uv.high / value == pytest.approx(1 + spread, rel=0.08)
    assert uv.low / value == pytest.approx(1 / (1 + spread), rel=0.08)


def test_a_warmer_room_warms_every_figure(result: Evaluation) -> None:
    known = compute_sensitivity(STEADY)
    row = main_effects(known)[[m.id for m in known.multipliers].index("room")]
    for check, effect in zip(result.checks, row, strict=True):
        if check.need.quantity in ("surface_temperature", "air_temperature"):
            assert 0.5 < effect < 1.2


def test_every_multiplier_makes_a_plan_that_can_be_built() -> None:
    plan = demo_plan()
    known = multipliers_of(plan)
    names = [m.label for m in known]
    assert len(names) == len(set(names))
    assert {"the walls", "the vents", "Thermostat's dial", "how dark the slab is"} <= set(names)
    for multiplier in known:
        assert evaluate(multiplier.apply(plan, multiplier.sigma)).checks
        assert multiplier.apply(plan, 0.0) == plan


def test_an_interval_carried_over_scales_with_the_figure(result: Evaluation) -> None:
    found = {i.check_id: i for i in compute_intervals(result)}
    uv = next(v for v in result.checks if v.id == "basking:uvi")
    assert uv.value is not None
    low, high = carried_over(found["basking:uvi"], uv, 2 * uv.value, 21.0)
    assert low == pytest.approx(2 * found["basking:uvi"].low)
    assert high == pytest.approx(2 * found["basking:uvi"].high)
    heat = next(v for v in result.checks if v.id == "basking:surface_temperature")
    assert heat.value is not None
    low, high = carried_over(found[heat.id], heat, 21.0 + (heat.value - 21.0) / 2, 21.0)
    assert high - low == pytest.approx((found[heat.id].high - found[heat.id].low) / 2)


def test_no_share_is_carried_over_beyond_all_of_it(result: Evaluation) -> None:
    found = {i.check_id: i for i in compute_intervals(result)}
    shade = next(v for v in result.checks if v.id == "enclosure:uv_free_share")
    low, high = carried_over(found[shade.id], shade, 1.0, 21.0)
    assert low < high == 1.0


# -- all conditions ----------------------------------------------------------------


def test_what_holds_always_and_what_only_sometimes() -> None:
    plan = flawless()
    table = evaluate_scenarios(evaluate(plan))
    assert table.situations == ("now", "day", "winter", "summer", "worn")
    assert [s for s, _ in table.not_applicable] == ["grown"]
    rows = {row.check.id: row for row in table.rows}
    # 13 °C in the winter nights of the demo's room.
    night = {c.situation: c for c in rows["night:air_temperature"].cells}
    assert night["now"].met
    assert night["winter"].status == "low"
    assert rows["night:air_temperature"].met == "sometimes"
    assert rows["warm-hide:uvi"].met == "always"
    day = {c.situation: c for c in rows["basking:uvi"].cells}["day"]
    assert day.share == pytest.approx(1.0)
    worn = {c.situation: c.value for c in rows["basking:uvi"].cells}
    assert worn["worn"] < worn["now"]  # type: ignore[operator]


def test_a_young_one_is_also_judged_as_an_adult() -> None:
    plan = flawless()
    young = replace(
        plan, animal=replace(plan.animal, stage="young", body_length_m=0.045, back_height_m=0.013)
    )
    plans, missing = variants(young)
    assert plans["grown"].animal.body_length_m == 0.10
    assert plans["grown"].animal.stage == "adult"
    assert "grown" not in missing
    bare = replace(plan, room=replace(plan.room, winter=None, summer=None), fixtures=())
    plans, missing = variants(bare)
    assert set(plans) == {"now"}
    assert "does not say what the room is like in winter" in missing["winter"]


# -- the sentence ----------------------------------------------------------------


def test_the_sentence_names_the_worst_and_counts_the_rest() -> None:
    hot = plain_text(summarize(evaluate(demo_plan())))
    assert hot.startswith("Do not put the animal in: the basking spot surface is too hot, 62.6 °C")
    assert hot.endswith("1 more to fix.")
    fits = plain_text(summarize(evaluate(flawless())))
    assert "suits an eastern collared lizard" in fits
    assert "Measure it" in fits


def test_checks_come_in_the_order_of_what_matters() -> None:
    hot = changed(demo_plan(), "basking-lamp", power_w=100.0)
    plan = controlled(changed(hot, "uv-tube", hours=9000.0), day_set_point_c=30.0)
    order = by_weight(evaluate(replace(plan, room=replace(plan.room, night_temperature_c=13.0))))
    severities = [v.severity for v in order]
    assert severities[0] == "danger"
    assert severities.index("none") > severities.index("fault")


# -- where it is warmest ------------------------------------------------------------


def test_four_bulbs_make_the_warmest_point_uncertain_but_not_the_uv_all_around() -> None:
    """Whichever bulb is a little stronger, the animal lies somewhere between them: no further."""
    lamp, tube = STEADY.fixtures
    x, y, z = lamp.position_m
    corners = ((-0.11, -0.11), (-0.11, 0.11), (0.11, -0.11), (0.11, 0.11))
    bulbs = tuple(
        replace(lamp, id=f"bulb-{i}", label=f"Bulb {i}", power_w=20.0, position_m=(x + dx, y + dy, z))
        for i, (dx, dy) in enumerate(corners)
    )
    known = compute_sensitivity(replace(STEADY, fixtures=(*bulbs, tube)))
    check = next(c for c in known.base.checks if c.id == "basking:uvi")
    assert check.value is not None
    there = check.value * np.exp(elsewhere(known, check))
    assert len(there) > 1
    assert there.max() / there.min() > 1.3
    found = {i.check_id: i for i in compute_intervals(known.base, known=known)}[check.id]
    # Nothing moves the UV at one point but its tube and the screens between.
    widest = 1 + tube.lamp.spread.uv
    assert there.min() / widest / 1.1 <= found.low < found.high < there.max() * widest * 1.1
    names = {name for name, _ in found.causes}
    assert {"where it is warmest", "the UV of UV tube"} <= names
    assert not any("Bulb" in name for name in names)
    other = next(c for c in known.base.checks if c.id == "basking:surface_temperature")
    assert elsewhere(known, other).tolist() == [0.0]
