"""What a fit found, in a keeper's words, and what probably went wrong with an unusual reading."""

from __future__ import annotations

from noonshade.core.evaluate import Evaluation
from noonshade.core.phrase import Measure, Phrase, capitalized
from noonshade.core.plan import Plan
from noonshade.core.probe import probe
from noonshade.core.readings.fit import Bias, Fit, FittedMultiplier, Residual
from noonshade.core.readings.instrument import SHARE_KINDS, UV_KINDS
from noonshade.core.uncertainty.measured import Fitted, stale_fits
from noonshade.core.uncertainty.multipliers import multipliers_of, passes_now

# Changes smaller than this are none, K and a share. Estimates.
SAME_K = 0.2
SAME_SHARE = 0.02
# In a beam stronger than this a bare probe reads too high, W/m². Estimate.
BEAM_W_M2 = 60.0
_FAR_K = 4.0
# A bias is mentioned where its spread fell to less than this share. Estimate.
_NOTABLE_SHARE = 0.8


def in_words(plan: Plan, found: FittedMultiplier) -> Phrase:
    """What a fitted multiplier says of the enclosure; ``plan`` is as the catalogue has it.

    Parameters
    ----------
    plan : Plan
        The plan.
    found : FittedMultiplier
        The fitted multiplier.

    Returns
    -------
    Phrase
        Text and figures, in core units.
    """
    multiplier, share = found.multiplier, 100.0 * (found.factor - 1.0)
    name = multiplier.label
    if multiplier.additive:
        if abs(found.value) < SAME_K:
            return (f"{capitalized(name)}: as in the plan.",)
        off = Measure(abs(found.value), "K")
        if multiplier.kind == "room":
            side = "warmer" if found.value > 0 else "colder"
            return ("The room was ", off, f" {side} than in the plan.")
        side = "higher" if found.value > 0 else "lower"
        return (f"{capitalized(name)}: it controls to ", off, f" {side} than it is set.")
    screens = passes_now(plan, multiplier, found.value)
    if screens is not None:
        thought, now = screens
        return (
            f"{capitalized(name)}: ",
            Measure(100.0 * now, "%"),
            "; its catalogue entry says ",
            Measure(100.0 * thought, "%"),
            ".",
        )
    if abs(share) < 100.0 * SAME_SHARE:
        source = "plan" if multiplier.kind in ("room_humidity", "damp", "ventilation") else "catalogue"
        return (f"{capitalized(name)}: as in the {source}.",)
    more, size = share > 0, Measure(abs(share), "%")
    about = multiplier.id.removeprefix(f"{multiplier.kind}:")
    lamp = next((f.label for f in plan.fixtures if f.id == about), "lamp")
    if multiplier.kind in ("uv", "radiant"):
        what = "UV" if multiplier.kind == "uv" else "radiant heat"
        return (f"{lamp} gives ", size, f" {'more' if more else 'less'} {what} than its catalogue entry.")
    if multiplier.kind == "beam":
        return (
            f"{lamp}: its beam is ",
            size,
            f" {'wider' if more else 'narrower'} than its catalogue entry.",
        )
    if multiplier.kind == "walls":
        return ("The walls lose ", size, f" {'more' if more else 'less'} heat than in the plan.")
    if multiplier.kind == "ventilation":
        return ("The vents let ", size, f" {'more' if more else 'less'} air through than planned.")
    if multiplier.kind == "room_humidity":
        return ("The room was ", size, f" {'damper' if more else 'drier'} than in the plan.")
    if multiplier.kind == "slab":
        side = "more" if more else "less"
        return ("The basking surface absorbs ", size, f" {side} light than its catalogue entry.")
    return ("The ground is ", size, f" {'damper' if more else 'drier'} than in the plan.")


def describe_fitted(plan: Plan, fitted: Fitted) -> tuple[Phrase, ...]:
    """What a stored fit says where readings settled it; ``plan`` as in ``in_words``.

    Parameters
    ----------
    plan : Plan
        The plan.
    fitted : Fitted
        The stored fit.

    Returns
    -------
    tuple[Phrase, ...]
        What a stored fit says where readings settled it.
    """
    gone = {one.id for one in stale_fits(plan, fitted)}
    known = {m.id: m for m in multipliers_of(plan)}
    found = []
    for i, one in enumerate(fitted.values):
        if one.id not in gone:
            m = known[one.id]
            found.append(FittedMultiplier(m, one.value, m.sigma, fitted.covariance[i][i] ** 0.5))
    return tuple(in_words(plan, f) for f in found if f.settled)


def describe_fit(plan: Plan, found: Fit) -> tuple[Phrase, ...]:
    """Sentences on the multipliers that readings settled; ``plan`` as in ``in_words``.

    Parameters
    ----------
    plan : Plan
        The plan.
    found : Fit
        The fit.

    Returns
    -------
    tuple[Phrase, ...]
        Sentences on the multipliers that readings settled.
    """
    return tuple(in_words(plan, m) for m in found.multipliers if m.settled)


def bias_in_words(found: Bias, label: str) -> Phrase:
    """How far an instrument seems to be off; empty where the readings do not settle it.

    Parameters
    ----------
    found : Bias
        The bias of an instrument.
    label : str
        Label.

    Returns
    -------
    Phrase
        Text and figures, in core units.
    """
    if (
        found.sigma_after > _NOTABLE_SHARE * found.sigma_before
        or abs(found.value) < 0.5 * found.sigma_before
    ):
        return ()
    size = abs(found.value)
    off = Measure(100.0 * size, "%") if found.kind in ("UV meter", "hygrometer") else Measure(size, "K")
    return (f"{capitalized(label)} seems to read ", off, f" too {'high' if found.value > 0 else 'low'}.")


def likely_cause(fit: Fit, residual: Residual) -> Phrase:
    """What a reading that disagrees with the model was probably caused by; empty for one that agrees.

    Parameters
    ----------
    fit : Fit
        The fit.
    residual : Residual
        The residual.

    Returns
    -------
    Phrase
        Text and figures, in core units.
    """
    if not residual.stray:
        return ()
    reading, said = residual.reading, residual.after
    value = reading.value
    if reading.kind in UV_KINDS:
        return _uv_cause(value, said)
    if reading.kind in SHARE_KINDS:
        return ("A hygrometer takes a quarter of an hour to settle; read it again, away from water.",)
    if abs((value - 32.0) / 1.8 - said) < _FAR_K or abs(value * 1.8 + 32.0 - said) < _FAR_K:
        return ("It fits the prediction in the other unit: was it typed in the wrong one?",)
    high = value > said
    if reading.kind == "room_air":
        return ("Was the thermometer in the sun, by a window, or on a warm enclosure?",)
    if reading.kind == "surface":
        return _surface_cause(fit.evaluation, residual)
    if high and _beam(fit.evaluation, residual) > BEAM_W_M2:
        return ("The probe hung in the beam: shade it from the lamp and read again.",)
    if high:
        return ("Was the probe near the lamp, or against something warm?",)
    return ("Was the door open, the lamp off, or the enclosure not yet warm?",)


def _uv_cause(value: float, said: float) -> Phrase:
    if said > 0.3 and value < 0.2 * said:
        return ("Nearly no UV: is the lamp on, is something in the way, did the meter face it?",)
    if 8.0 * said < value < 12.0 * said or 8.0 * value < said < 12.0 * value:
        return ("Ten times off: is the decimal point in the right place?",)
    if value > said:
        return ("More UV than lamp and screen can give there: was the meter nearer to the lamp?",)
    return ("Less UV than expected there alone: shade on the meter, or it was farther away?",)


def _surface_cause(evaluation: Evaluation, residual: Residual) -> Phrase:
    reading = residual.reading
    assert reading.position_m is not None
    if reading.value > residual.after:
        return ("Hotter than the model can make it: was it read nearer to the middle of the beam?",)
    air = probe(evaluation, reading.position_m).air_c
    if abs(reading.value - air) < 2.0:
        return ("It is the temperature of the air there: was the thermometer aimed at the surface?",)
    return ("Cooler than the model can make it: a wide spot, a shiny surface, or not yet warm?",)


def _beam(evaluation: Evaluation, residual: Residual) -> float:
    at = residual.reading.position_m
    return 0.0 if at is None else probe(evaluation, at).irradiance_w_m2
