"""What of a plan is built: what light and views meet, which vents, damp and watts do not change."""

from __future__ import annotations

from dataclasses import replace

from noonshade.core.plan import Enclosure, Fixture, Plan, Substrate
from noonshade.core.remembered import Remembered

_SHELLS = Remembered[Enclosure](16)
_DRY = Remembered[Substrate](16)
_UNITS = Remembered[Fixture](64)


def built_parts(plan: Plan) -> tuple[object, ...]:
    """Walls without vents, things, and the ground however damp: the same objects for the same parts.

    Parameters
    ----------
    plan : Plan
        The plan.

    Returns
    -------
    tuple of object
        A key to remember what follows from them by.
    """
    enclosure, ground = plan.enclosure, plan.substrate
    if enclosure.vents:
        enclosure = _SHELLS.get((plan.enclosure,), None, lambda: replace(plan.enclosure, vents=()))
    if ground.wetness or ground.below or ground.zones or ground.burrows:
        ground = _DRY.get((plan.substrate,), None, plan.substrate.dry)
    return (enclosure, plan.furnishings, ground)


def unit_fixture(fixture: Fixture) -> Fixture:
    """The same lamp at the same place with 1 W: what it sends where, for each watt.

    Parameters
    ----------
    fixture : Fixture
        The fixture.

    Returns
    -------
    Fixture
        Without name, hours and thermostat.
    """
    return _UNITS.get(
        (fixture,),
        None,
        lambda: replace(
            fixture,
            id="",
            label="",
            power_w=1.0,
            lit="day",
            thermostat_id=None,
            hours=0.0,
            timer=(),
            guard=False,
        ),
    )
