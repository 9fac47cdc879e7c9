"""How far instruments are off: an error all readings of one share, and one of each reading.

A reading is value + bias + noise. The bias is the instrument's own (its calibration); the noise is of how
it was held, where exactly, and its last digit. Beside it the model may be off:
``uncertainty.structural_error``.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Kind = Literal[
    "surface",
    "air",
    "air_min",
    "air_max",
    "uvi_facing",
    "uvi_level",
    "humidity",
    "humidity_night",
    "room_air",
    "room_humidity",
]
InstrumentKind = Literal["infrared thermometer", "air probe", "UV meter", "hygrometer", "room thermometer"]

INSTRUMENTS: dict[Kind, InstrumentKind] = {
    "surface": "infrared thermometer",
    "air": "air probe",
    "air_min": "air probe",
    "air_max": "air probe",
    "uvi_facing": "UV meter",
    "uvi_level": "UV meter",
    "humidity": "hygrometer",
    "humidity_night": "hygrometer",
    "room_air": "room thermometer",
    "room_humidity": "hygrometer",
}
UV_KINDS: tuple[Kind, ...] = ("uvi_facing", "uvi_level")
SHARE_KINDS: tuple[Kind, ...] = ("humidity", "humidity_night", "room_humidity")


@dataclass(frozen=True, slots=True)
class Accuracy:
    """Standard deviations of an instrument: of its bias, of one reading, and its last digit.

    K for temperatures, shares of the value for UV, of 1 for humidity; ``digit`` in the reading's unit.
    """

    bias: float
    noise: float
    digit: float


# Of a common instrument in careful hands. Estimates.
USUAL: dict[InstrumentKind, Accuracy] = {
    "infrared thermometer": Accuracy(0.8, 0.7, 0.1),
    "air probe": Accuracy(0.3, 0.3, 0.1),
    "UV meter": Accuracy(0.05, 0.04, 0.1),
    "hygrometer": Accuracy(0.03, 0.02, 0.01),
    "room thermometer": Accuracy(0.3, 0.2, 0.1),
}
# A logger's lowest and highest of a day are of one night's room and one spot. Estimate, K.
EXTREME_K = 0.8


def stated(kind: InstrumentKind, half_width: float) -> Accuracy:
    """The accuracy of an instrument whose maker states ± ``half_width``, taken as evenly spread.

    The unit is that of ``Accuracy``; noise and digit stay those of a common one.

    Parameters
    ----------
    kind : InstrumentKind
        Which kind.
    half_width : float
        Half width, m.

    Returns
    -------
    Accuracy
        Bias and noise as standard deviations, in the instrument's unit.
    """
    usual = USUAL[kind]
    return Accuracy(half_width / 3.0**0.5, usual.noise, usual.digit)
