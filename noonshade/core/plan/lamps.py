"""Lamps and heaters as things of a catalogue."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from noonshade.core.plan.types import LampControl


@dataclass(frozen=True, slots=True)
class LineSource:
    """A diffuse line (tube, bar). ``reflector_exponent`` n shapes cosⁿβ about the aim; None: bare.

    ``width_m`` is the bright width, tube or reflector, and softens the edges of shade.
    """

    length_m: float
    reflector_exponent: float | None
    width_m: float = 0.016


@dataclass(frozen=True, slots=True)
class BeamSource:
    """A small disc source with I(θ) = I₀ cosᵐθ; full width at half maximum in degrees."""

    fwhm_deg: float
    diameter_m: float


@dataclass(frozen=True, slots=True)
class PanelSource:
    """A rectangle of small Lambertian elements, sides along x and y, in metres."""

    length_m: float
    width_m: float


@dataclass(frozen=True, slots=True)
class TableSource:
    """A small disc source with a measured angular table.

    ``gamma_deg`` (g,) rises from 0 (along the aim); ``c_deg`` (c,) rises from 0 and is the bearing about
    the aim, from the lamp's own axis; ``intensity`` is (c, g) in any unit. A single bearing means
    rotational symmetry; otherwise the last bearing is 360.
    """

    diameter_m: float
    c_deg: tuple[float, ...]
    gamma_deg: tuple[float, ...]
    intensity: tuple[tuple[float, ...], ...]


# Share of the UV index from below 290 nm from which on a lamp is warned of: what stray light in a
# spectrometer makes up. Estimate.
STRAY_SHARE = 0.002


LAMP_KINDS = frozenset(
    {"tube", "compact", "bulb", "mercury vapour", "metal halide", "led", "heater", "mat"}
)


# Kinds of lamp that warm a surface below them and can burn.
HOT_KINDS = frozenset({"bulb", "mercury vapour", "metal halide", "heater"})


SourceGeometry = LineSource | BeamSource | PanelSource | TableSource


@dataclass(frozen=True, slots=True)
class UvReference:
    """A reference reading: UV index at a distance, meter facing the lamp, no screen."""

    uvi: float
    distance_m: float


@dataclass(frozen=True, slots=True)
class Ageing:
    """How UV output falls: to ``remaining`` (0–1) with a time constant, high by ``burn_in`` when new.

    ``life_h`` is when such a lamp is usually replaced.
    """

    remaining: float
    time_constant_h: float
    burn_in: float
    life_h: float


@dataclass(frozen=True, slots=True)
class LampSpread:
    """How much samples of one kind differ: relative half widths of the middle 80 %."""

    uv: float = 0.25
    radiant: float = 0.10
    beam: float = 0.15


@dataclass(frozen=True, slots=True)
class Lamp:
    """A generic lamp or lightless heater from the catalogue.

    ``forward_radiant`` and ``other_radiant`` are shares of the watts sent out as light and heat
    radiation by the beam and in all other directions, ``conducted`` into what it lies against; the
    remainder heats the air at the lamp.
    ``lumens_per_radiant_watt`` converts forward radiation to illuminance, ``lux_per_ppfd`` (lx per
    µmol/m²/s) that to photosynthetic light, for lamps meant for plants. ``power_choices_w`` are
    the watts it is sold in; any value between ``power_min_w`` and ``power_max_w`` is modelled.
    ``controls`` are the ways it may be regulated; a lamp with none is only timed. ``sources`` says for
    each group of numbers where they are from. ``below_290_share`` is the share of its UV index from
    wavelengths that sunlight does not hold, when its spectrum is known.
    """

    id: str
    label: str
    kind: str
    gives_light: bool
    geometry: SourceGeometry
    power_w: float
    power_min_w: float
    power_max_w: float
    power_choices_w: tuple[float, ...]
    forward_radiant: float
    other_radiant: float
    lumens_per_radiant_watt: float
    uv: UvReference | None
    controls: tuple[LampControl, ...]
    source: str
    ageing: Ageing | None = None
    spread: LampSpread = LampSpread()
    lux_per_ppfd: float | None = None
    sources: Mapping[str, str] = field(default_factory=dict)
    below_290_share: float = 0.0
    conducted: float = 0.0

    @property
    def is_hot(self) -> bool:
        """Whether it is meant to warm, or warms anyway, what it shines on."""
        return self.kind in HOT_KINDS

    @property
    def unlike_sunlight(self) -> bool:
        """Whether its spectrum holds more below 290 nm than stray light explains."""
        return self.below_290_share > STRAY_SHARE

    @property
    def convected(self) -> float:
        """Share of the watts given to the air at the lamp, 0–1."""
        return 1.0 - self.forward_radiant - self.other_radiant - self.conducted
