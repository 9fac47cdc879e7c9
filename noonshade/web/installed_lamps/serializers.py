"""Lamps of the register as the interface has them."""

from __future__ import annotations

from dataclasses import asdict

from noonshade.core.care.lamp_output import UvShortfall
from noonshade.services.installed_lamps import InstallationHours, LampStatus, UnregisteredLamp
from noonshade.web.installed_lamps.schemas import (
    InstallationModel,
    InstalledLampModel,
    InstalledLampReading,
    InstalledLampStatus,
    OutputModel,
    ShortfallModel,
    UnregisteredLampModel,
)

_DAYS = ("day", "earliest", "latest")


def lamp_status_model(status: LampStatus) -> InstalledLampStatus:
    """A lamp of the register with all that is known of it."""
    lamp = status.lamp
    return InstalledLampStatus(
        installed_lamp=InstalledLampModel(**asdict(status.record)),
        lamp_label=status.record.lamp_id if lamp is None else lamp.label,
        state=status.state,
        hours=status.hours,
        hours_a_day=status.hours_a_day,
        plan_hours=status.plan_hours,
        life_h=None if lamp is None or lamp.ageing is None else lamp.ageing.life_h,
        output=None if status.output is None else OutputModel(**asdict(status.output)),
        installations=[installation_model(i) for i in status.installations],
        readings=[
            InstalledLampReading(taken_at=r.taken_at, place=r.place, uvi=r.value) for r in status.readings
        ],
    )


def installation_model(found: InstallationHours) -> InstallationModel:
    """Where a lamp is or was installed."""
    return InstallationModel(
        plan_id=found.record.plan_id,
        plan_name=found.plan_name,
        fixture_id=found.record.fixture_id,
        fixture_label=found.fixture_label,
        began_on=found.record.began_on,
        ended_on=found.record.ended_on,
        hours=found.hours,
    )


def unregistered_model(lamp: UnregisteredLamp) -> UnregisteredLampModel:
    """A lamp of a plan that is not in the register."""
    return UnregisteredLampModel(
        plan_id=lamp.plan.id,
        plan_name=lamp.plan.name,
        fixture_id=lamp.fixture.id,
        fixture_label=lamp.fixture.label,
        lamp_id=lamp.fixture.lamp_id,
        lamp_label=lamp.lamp_label,
        hours=lamp.fixture.hours,
    )


def shortfall_model(found: UvShortfall) -> ShortfallModel:
    """When a plan no longer meets its UV need."""
    days = {k: None if v is None else v.isoformat() for k, v in asdict(found).items() if k in _DAYS}
    return ShortfallModel(
        check_id=found.check_id,
        need_low=found.need_low,
        value=found.value,
        short_now=found.short_now,
        **days,
    )
