"""Needs that can only just be met: in range as computed, with too little chance, whatever is built."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

from noonshade.core.assessment.checks import Check
from noonshade.core.assessment.wording import figure_name, measure_of, said
from noonshade.core.design.aims import SPREAD, chance_of
from noonshade.core.design.brief import Brief
from noonshade.core.design.conflicts import ENOUGH_COMPUTED, Conflict, excluded_by, misses, wanted
from noonshade.core.design.set_up import SetUp
from noonshade.core.evaluate import Evaluation
from noonshade.core.phrase import Measure, Phrase
from noonshade.core.uncertainty.chances import SURE

# What follows the room degree by degree needs so many spreads to a limit for a chance of ``SURE``.
SURE_SPREADS = 0.25


def find_doubts(brief: Brief, nearest: SetUp, computed: Sequence[Evaluation]) -> tuple[Conflict, ...]:
    """Why a set-up in range is not sure to be.

    Parameters
    ----------
    brief : Brief
        The brief.
    nearest : SetUp
        The best set-up, with chances.
    computed : Sequence[Evaluation]
        The best of every arrangement that was searched.

    Returns
    -------
    tuple[Conflict, ...]
        One for each uncertain check; true where the room alone is so near its limit, or where no way that
        was computed is surer.
    """
    return tuple(_doubt(brief, check, computed) for check in nearest.evaluation.uncertain)


def _doubt(brief: Brief, check: Check, computed: Sequence[Evaluation]) -> Conflict:
    missed = _as_missed(check)
    need = check.need
    limit = need.low if missed.status == "low" else need.high
    name = figure_name(need.place, check.place_label, need.quantity)
    room_c = _room_c(brief, check)
    true = (
        room_c is not None
        and missed.status == "high"
        and room_c > (limit or 0.0) - SURE_SPREADS * SPREAD[need.quantity]
    )
    because: Phrase = (".",)
    if true and room_c is not None:
        because = (": the room itself is at ", Measure(room_c, "°C"), ".")
    elif len(computed) >= ENOUGH_COMPUTED:
        strict = [_strictly(one) for one in computed]
        if all(misses(one, missed) for one in strict):
            because = (f", and none of {len(computed)} ways that were computed is surer.",)
            true = True
        else:
            second = excluded_by(missed, strict)
            true = second is not None
            if second is not None:
                because = (
                    f". What is surer of it, of {len(computed)} ways that were computed, is less sure of ",
                    *wanted(second),
                    ".",
                )
    return Conflict(
        f"doubt:{check.id}",
        (
            f"{name} is in range, ",
            *said(need.quantity, check.value or 0.0),
            " where at ",
            "least " if missed.status == "low" else "most ",
            measure_of(need.quantity, limit or 0.0),
            f" is wanted, but only with a chance of {100 * (check.chance or 0.0):.0f} %",
            *because,
        ),
        (check.settles,),
        true,
    )


def _room_c(brief: Brief, check: Check) -> float | None:
    """What the room makes of air that nothing warms; None for other figures."""
    if check.need.quantity != "air_temperature":
        return None
    if check.need.place == "night":
        return brief.room.night_temperature_c
    if check.need.place == brief.animal.cool_place:
        return brief.room.day_temperature_c
    return None


def _as_missed(check: Check) -> Check:
    """As if it missed the limit it is nearer to."""
    need, value = check.need, check.value or 0.0
    if need.high is None or (need.low is not None and value - need.low < need.high - value):
        return replace(check, status="low")
    return replace(check, status="high")


def _strictly(evaluation: Evaluation) -> Evaluation:
    """With checks of too little chance, by the usual spread, as if they were missed."""
    return replace(evaluation, checks=tuple(_strict_checks(evaluation.checks)))


def _strict_checks(checks: Iterable[Check]) -> Iterable[Check]:
    for check in checks:
        doubtful = check.required and check.status in ("ok", "uncertain") and chance_of(check) < SURE
        yield _as_missed(check) if doubtful else check


__all__ = ["find_doubts"]
