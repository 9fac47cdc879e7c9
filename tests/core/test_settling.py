"""Heat balances that go back and forth where thermostats feel each other's heaters."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from noonshade.core.heat import climate as climate_module
from noonshade.core.heat.climate import steady_climate
from noonshade.core.heat.control import holding_fractions
from noonshade.core.heat.geometry import COARSE
from noonshade.core.plan import Moment, Plan, Thermostat
from tests.judged.setups import home, lamp, room

PROBES = {"basking": (0.671, 0.5, 0.182), "air": (0.168, 0.88, 0.14)}


def boa_box(dials: tuple[tuple[float, float], ...]) -> Plan:
    """A panel over the warm end and three ceramics, whose streams both probes feel."""
    lit = {"lit": "always"}
    panel = lamp(
        "radiant-panel-slim", 100.0, 0.528, 0.5, 0.97, thermostat_id="basking", mount="screwed", **lit
    )
    ceramics = [
        lamp(
            "ceramic-heater", 150.0, x, y, 0.87, id=f"ceramic-{i}", thermostat_id="air", mount="hung", **lit
        )
        for i, (x, y) in enumerate(((0.889, 0.305), (0.889, 0.695), (1.667, 0.305)))
    ]
    controls = tuple(
        Thermostat(name, name, "pulse", day, night, 0.5, at)
        for (name, at), (day, night) in zip(PROBES.items(), dials, strict=True)
    )
    size = (2.4, 1.0, 1.0)
    return home(
        "boa-constrictor", "pvc", panel, *ceramics, at=room(21, 17, 0.45), size=size, controls=controls
    )


@pytest.mark.parametrize("dials", [((31.0, 26.5), (27.5, 23.0)), ((25.0, 21.0), (24.5, 20.9))])
@pytest.mark.parametrize("moment", ["day", "night"])
def test_thermostats_that_feel_each_others_streams_settle_from_any_beginning(
    monkeypatch: pytest.MonkeyPatch, moment: Moment, dials: tuple[tuple[float, float], ...]
) -> None:
    plan = boa_box(dials)
    found = []
    for start_k in (0.5, 3.0, 10.0):
        # From this one beginning: no other helps out.
        monkeypatch.setattr(climate_module, "STARTS_K", (start_k,))
        found.append(steady_climate(plan, moment, COARSE))
    for one in found:
        for a, b in zip(one.thermostats, found[0].thermostats, strict=True):
            assert a.probe_c == pytest.approx(b.probe_c, abs=0.15)
            assert a.holds or a.fraction in (0.0, 1.0)


@settings(max_examples=200, deadline=None)
@given(
    rise=st.lists(st.floats(0.1, 12.0), min_size=9, max_size=9),
    own=st.floats(0.0, 15.0),
    base=st.lists(st.floats(15.0, 25.0), min_size=3, max_size=3),
    targets=st.lists(st.floats(12.0, 45.0), min_size=3, max_size=3),
    start=st.lists(st.floats(0.0, 1.0), min_size=3, max_size=3),
)
def test_the_power_that_holds_is_where_sweeps_end(
    rise: list[float], own: float, base: list[float], targets: list[float], start: list[float]
) -> None:
    matrix = np.array(rise).reshape(3, 3) + own * np.eye(3)
    found = holding_fractions(np.array(base), matrix, np.array(targets), np.array(start))
    swept = np.array(start)
    for _ in range(20_000):
        before = swept.copy()
        for i in range(3):
            others = base[i] + matrix[i] @ swept - matrix[i, i] * swept[i]
            swept[i] = np.clip((targets[i] - others) / matrix[i, i], 0.0, 1.0)
        if np.max(np.abs(swept - before)) < 1e-12:
            break
    assert found == pytest.approx(swept, abs=1e-5)
