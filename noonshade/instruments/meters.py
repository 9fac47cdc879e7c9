"""Hand-held instruments: UV meter, infrared thermometer, air probe, hygrometer.

Each has its own bias since its calibration, noise from reading to reading, and a last digit. What is
physical about it comes on top: the spot and emissivity of an infrared thermometer, an air probe that the
beam warms, a UV meter that looks one way.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from noonshade.core.errors import PlanError
from noonshade.core.plan import Point
from noonshade.core.readings.instrument import USUAL, Accuracy, InstrumentKind, Kind
from noonshade.instruments.true_enclosure import TrueEnclosure

_ZERO_C = 273.15
# Small bead in still air: heat it gives off by convection and radiation, W/(m² K). Estimate.
BEAD_W_M2K = 18.0
# Share of lamp light a bare metal or plastic bead takes up. Estimate.
BEAD_ABSORPTANCE = 0.5
# A hand or a strip of card in the beam leaves it this share. Estimate.
SHADED_SHARE = 0.08


@dataclass(frozen=True, slots=True)
class Sheet:
    """What is on an instrument's data sheet, and what is not: its bias, K or a share for UV."""

    name: str
    kind: InstrumentKind
    accuracy: Accuracy
    bias: float
    calibrated: str

    def shown(self, true: float, slope: float, rng: np.random.Generator) -> float:
        """What the display shows of a true value; ``slope`` is what a bias of 1 does to it."""
        off = self.bias + self.accuracy.noise * float(rng.standard_normal())
        digit = self.accuracy.digit
        return round((true + slope * off) / digit) * digit


def drawn_sheet(kind: InstrumentKind, rng: np.random.Generator, calibrated: str = "2026-01-10") -> Sheet:
    """A common instrument of a kind with a bias drawn from what is usual."""
    usual = USUAL[kind]
    return Sheet(
        f"Bench {kind.lower()}", kind, usual, usual.bias * float(rng.standard_normal()), calibrated
    )


@dataclass(frozen=True, slots=True)
class UvMeter:
    """Reads the UV index facing the brightest lamp, or level as an animal's back lies."""

    sheet: Sheet

    def read(
        self,
        enclosure: TrueEnclosure,
        at: Point,
        rng: np.random.Generator,
        way: Literal["facing", "level"] = "facing",
    ) -> float:
        """UV index shown at a point; never below 0."""
        seen = enclosure.at(at)
        true = seen.uvi_facing if way == "facing" else seen.uvi_level
        return max(self.sheet.shown(true, true, rng), 0.0)


@dataclass(frozen=True, slots=True)
class InfraredThermometer:
    """Reads the surface below a point, over a spot that widens with distance, at a set emissivity."""

    sheet: Sheet
    spot_ratio: float = 8.0
    emissivity: float = 0.95

    def read(
        self, enclosure: TrueEnclosure, at: Point, rng: np.random.Generator, distance_m: float = 0.15
    ) -> float:
        """°C shown of the surface below ``at``, from so far away.

        It sees ε T⁴ of the surface and (1 − ε) of the warm things around mirrored in it, and divides by
        the emissivity it is set to.
        """
        radius = distance_m / self.spot_ratio / 2.0
        room, ring = enclosure.plan.enclosure, [(0.0, 0.0)]
        ring += [(radius * math.cos(a), radius * math.sin(a)) for a in np.arange(6) * math.pi / 3]
        spots = [
            (min(max(at[0] + dx, 0.0), room.length_m), min(max(at[1] + dy, 0.0), room.depth_m), at[2])
            for dx, dy in ring
        ]
        surface = float(np.mean([(enclosure.at(s).surface_c + _ZERO_C) ** 4 for s in spots]))
        around = (enclosure.evaluation.day.radiant_c + _ZERO_C) ** 4
        true = enclosure.emissivity_below(at)
        seen = true * surface + (1.0 - true) * around - (1.0 - self.emissivity) * around
        return self.sheet.shown((seen / self.emissivity) ** 0.25 - _ZERO_C, 1.0, rng)


@dataclass(frozen=True, slots=True)
class AirProbe:
    """A bead on a wire: reads the air and what it sees, and too much in the beam unless it is shaded.

    A bead of radius r takes up a E π r² of irradiance E and loses h 4 π r² for each kelvin: it reads
    a E / (4 h) too high.
    """

    sheet: Sheet

    def read(
        self, enclosure: TrueEnclosure, at: Point, rng: np.random.Generator, shaded: bool = True
    ) -> float:
        """°C shown at a point."""
        seen = enclosure.at(at)
        beam = seen.irradiance_w_m2 * (SHADED_SHARE if shaded else 1.0)
        return self.sheet.shown(seen.probe_c + BEAD_ABSORPTANCE * beam / (4.0 * BEAD_W_M2K), 1.0, rng)


@dataclass(frozen=True, slots=True)
class Hygrometer:
    """Reads relative humidity, as a share of 1."""

    sheet: Sheet

    def read(self, enclosure: TrueEnclosure, at: Point | None, rng: np.random.Generator) -> float:
        """Humidity shown at a point, or of the room for None."""
        true = enclosure.plan.room.relative_humidity if at is None else enclosure.at(at).relative_humidity
        if true is None:
            raise PlanError("", "a hygrometer reads the air; this place is in the ground")
        return min(max(self.sheet.shown(true, 1.0, rng), 0.0), 1.0)


@dataclass(frozen=True, slots=True)
class RoomThermometer:
    """Reads the air of the room."""

    sheet: Sheet

    def read(self, enclosure: TrueEnclosure, rng: np.random.Generator) -> float:
        """°C shown."""
        return self.sheet.shown(enclosure.evaluation.day.room_c, 1.0, rng)


@dataclass(frozen=True, slots=True)
class Hold:
    """How instruments are placed and set: an air probe shaded or bare, an infrared thermometer how far."""

    shaded: bool = True
    distance_m: float = 0.15
    emissivity: float = 0.95


@dataclass(frozen=True, slots=True)
class Kit:
    """One of each, as a keeper has them."""

    uv: UvMeter
    infrared: InfraredThermometer
    probe: AirProbe
    hygrometer: Hygrometer
    room: RoomThermometer

    @property
    def sheets(self) -> tuple[Sheet, ...]:
        """Their data sheets."""
        parts = (self.infrared, self.probe, self.uv, self.hygrometer, self.room)
        return tuple(part.sheet for part in parts)

    def read(
        self,
        enclosure: TrueEnclosure,
        kind: Kind,
        at: Point | None,
        rng: np.random.Generator,
        hold: Hold = Hold(),
    ) -> float:
        """A reading of a kind at a place, with the instrument it is for.

        Raises
        ------
        PlanError
            If the place is outside the air of the enclosure.
        ValueError
            If a reading in the enclosure has no place.
        """
        if kind == "room_air":
            return self.room.read(enclosure, rng)
        if kind == "room_humidity":
            return self.hygrometer.read(enclosure, None, rng)
        if kind == "air_min":
            return self.probe.sheet.shown(enclosure.evaluation.night_air_c, 1.0, rng)
        if kind == "humidity_night":
            return min(
                max(self.hygrometer.sheet.shown(enclosure.evaluation.night_humidity, 1.0, rng), 0.0), 1.0
            )
        if at is None:
            raise ValueError(f"a reading of {kind} needs a place in the enclosure")
        if kind == "surface":
            gun = replace(self.infrared, emissivity=hold.emissivity)
            return gun.read(enclosure, at, rng, hold.distance_m)
        if kind in ("air", "air_max"):
            return self.probe.read(enclosure, at, rng, hold.shaded)
        if kind == "humidity":
            return self.hygrometer.read(enclosure, at, rng)
        return self.uv.read(enclosure, at, rng, "level" if kind == "uvi_level" else "facing")


def drawn_kit(rng: np.random.Generator) -> Kit:
    """A kit of common instruments, each with its own bias."""
    return Kit(
        UvMeter(drawn_sheet("UV meter", rng)),
        InfraredThermometer(drawn_sheet("infrared thermometer", rng)),
        AirProbe(drawn_sheet("air probe", rng)),
        Hygrometer(drawn_sheet("hygrometer", rng)),
        RoomThermometer(drawn_sheet("room thermometer", rng)),
    )
