"""Limit cases 6 and 7, and conservation, on networks small enough to check by hand."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from noonshade.core.errors import ConvergenceError
from noonshade.core.heat.control import holding_fractions
from noonshade.core.heat.network import NetworkBuilder


def sealed_enclosure(power_w: float, ua: float, room_c: float, nodes: int = 6) -> NetworkBuilder:
    net = NetworkBuilder(nodes, controls=1)
    each = np.arange(nodes)
    net.link(each[:-1], each[1:], 3.0)
    net.to_boundary(each, ua / nodes, room_c)
    net.source(0, power_w)
    return net


@given(power=st.floats(1, 300), ua=st.floats(0.5, 50), room=st.floats(-10, 35))
def test_mean_rise_of_a_sealed_enclosure_is_power_over_ua(power: float, ua: float, room: float) -> None:
    network = sealed_enclosure(power, ua, room).build()
    temperature = network.steady([0.0])
    assert float(np.mean(temperature)) - room == pytest.approx(power / ua, rel=1e-9)
    assert network.balance(temperature, [0.0]).relative_error < 1e-9


def test_half_the_power_is_half_of_every_difference() -> None:
    whole = sealed_enclosure(80, 12, 21).build().steady([0.0]) - 21
    half = sealed_enclosure(40, 12, 21).build().steady([0.0]) - 21
    assert np.allclose(half, whole / 2)


@pytest.mark.parametrize("step_s", [1.0, 60.0, 600.0, 3600.0, 36000.0])
def test_one_node_decays_exponentially_at_any_step(step_s: float) -> None:
    capacity, ua = 9000.0, 2.5
    net = NetworkBuilder(1)
    net.to_boundary(0, ua, 20.0)
    net.capacity[0] = capacity
    network = net.build()
    temperature = np.array([30.0])
    for n in range(1, 5):
        temperature = network.advance(temperature, step_s)
        exact = 10.0 * math.exp(-n * step_s * ua / capacity)
        assert float(temperature[0]) - 20.0 == pytest.approx(exact, rel=0.01, abs=0.003)


def test_node_without_capacity_follows_at_once() -> None:
    net = NetworkBuilder(2)
    net.link(0, 1, 4.0)
    net.to_boundary(1, 4.0, 10.0)
    net.capacity[0] = 1000.0
    after = net.build().advance(np.array([30.0, 0.0]), 1.0)
    assert float(after[1]) == pytest.approx((float(after[0]) + 10.0) / 2, abs=0.01)


def test_flow_carries_heat_one_way() -> None:
    net = NetworkBuilder(2)
    net.inflow(0, 5.0, 20.0)
    net.flow(0, 1, 5.0)
    net.outflow(1, 5.0)
    net.source(1, 50.0)
    temperature = net.build().steady()
    assert temperature == pytest.approx([20.0, 30.0])


def test_broken_conservation_is_an_error() -> None:
    net = sealed_enclosure(80, 12, 21)
    network = net.build()
    wrong = network.steady([0.0]) + 0.1
    with pytest.raises(ConvergenceError, match="do not balance"):
        network.balance(wrong, [0.0])


def test_wrong_number_of_heaters_is_refused() -> None:
    with pytest.raises(ValueError, match="1 heater fractions expected, 2 given"):
        sealed_enclosure(80, 12, 21).build().steady([0.5, 0.5])


def test_fork_leaves_the_base_alone() -> None:
    base = sealed_enclosure(80, 12, 21)
    before = base.build().steady([0.0])
    fork = base.fork()
    fork.source(0, 1000.0)
    fork.to_boundary(0, 5.0, 0.0)
    assert np.allclose(base.build().steady([0.0]), before)
    assert not np.allclose(fork.build().steady([0.0]), before)


def test_a_remembered_pattern_changes_nothing() -> None:
    network = sealed_enclosure(80, 12, 21).build()
    again = sealed_enclosure(80, 12, 21).build(network.found_pattern())
    assert np.allclose(network.steady([0.3]), again.steady([0.3]))


@settings(max_examples=60)
@given(
    base=st.lists(st.floats(10, 35), min_size=2, max_size=2),
    own=st.floats(5, 40),
    cross=st.floats(0, 4),
    targets=st.lists(st.floats(15, 50), min_size=2, max_size=2),
)
def test_coupled_thermostats_hold_or_saturate(
    base: list[float], own: float, cross: float, targets: list[float]
) -> None:
    rise = np.array([[own, cross], [cross, own]])
    wanted = np.array(targets)
    fractions = holding_fractions(np.array(base), rise, wanted)
    reads = np.array(base) + rise @ fractions
    for f, read, target in zip(fractions, reads, wanted, strict=True):
        if f <= 1e-9:
            assert read >= target - 1e-6
        elif f >= 1 - 1e-9:
            assert read <= target + 1e-6
        else:
            assert read == pytest.approx(target, abs=1e-6)


def test_thermostat_off_and_probe_out_of_reach() -> None:
    rise = np.array([[20.0, 0.0], [0.0, 0.0]])
    fractions = holding_fractions(np.array([20.0, 20.0]), rise, np.array([-np.inf, 30.0]))
    assert fractions.tolist() == [0.0, 1.0]


def test_heaters_that_warm_each_others_probes_more_stay_as_they_were() -> None:
    rise = np.array([[2.0, 5.0], [5.0, 2.0]])
    base, wanted = np.array([20.0, 20.0]), np.array([25.0, 25.0])
    for start in ([1.0, 0.0], [0.0, 1.0]):
        found = holding_fractions(base, rise, wanted, np.array(start))
        assert found.tolist() == start
    # From nothing the first goes first.
    assert holding_fractions(base, rise, wanted).tolist() == [1.0, 0.0]
