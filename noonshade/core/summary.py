"""One sentence about a plan that can be said aloud, and what it is about."""

from __future__ import annotations

from collections.abc import Iterable

from noonshade.core.assessment.checks import SEVERITIES, Check
from noonshade.core.assessment.finding import Finding
from noonshade.core.assessment.wording import STATUS_WORDS, TOO, figure_name, measure_of, said
from noonshade.core.evaluate import Evaluation
from noonshade.core.phrase import Measure, Phrase, one_of, uncapitalized

# Words a message may begin with that are no names of things in the plan.
_LOWERED = {"A", "An", "As", "At", "In", "It", "No", "Nothing", "On", "Only", "The", "There", "Under"}


def by_weight(evaluation: Evaluation) -> tuple[Check, ...]:
    """Checks in the order of what matters most: dangers, then faults by how far off they are.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.

    Returns
    -------
    tuple[Check, ...]
        Checks in the order of what matters most.
    """
    return tuple(
        sorted(
            evaluation.checks,
            key=lambda v: (
                -SEVERITIES.index(v.severity),
                -v.off_by,
                v.status != "uncertain",
                v.status == "ok",
            ),
        )
    )


def summarize(evaluation: Evaluation) -> Phrase:
    """What a keeper would say of the plan: the worst of it, and how the rest is.

    It never claims more than the checks: it names the room and the lamps' age it is about, and checks that
    are too unlikely to be met.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.

    Returns
    -------
    Phrase
        Text and figures, in core units.
    """
    failed = [v for v in by_weight(evaluation) if v.fails]
    faults = [f for f in evaluation.findings if f.fails]
    danger = any(v.severity == "danger" for v in failed) or any(f.severity == "danger" for f in faults)
    count = len(failed) + len(faults)
    if count == 0:
        return _nothing_fails(evaluation)
    first: Phrase
    worst_finding = next((f for f in faults if f.severity == "danger"), None)
    if worst_finding is not None and not (failed and failed[0].severity == "danger"):
        first = _finding_said(worst_finding)
    elif failed:
        first = _describe(failed[0])
    else:
        first = _finding_said(faults[0])
    opening = "Do not put the animal in: " if danger else "Not yet: "
    rest = count - 1
    closing = "; nothing else fails." if rest == 0 else f"; {rest} more to fix."
    return (opening, *first, closing)


def _nothing_fails(evaluation: Evaluation) -> Phrase:
    animal = one_of(evaluation.plan.animal.species.common_name)
    unsure = evaluation.uncertain
    if unsure:
        names = ", ".join(
            figure_name(c.need.place, c.place_label, c.need.quantity) for c in unsure[:3]
        ) + ", …" * (len(unsure) > 3)
        what = "1 check is" if len(unsure) == 1 else f"{len(unsure)} checks are"
        return (
            f"Nothing fails for {animal}, but {what} uncertain until measured: {names} (",
            *scope_of(evaluation),
            ").",
        )
    missed = [c for c in evaluation.checks if c.required and c.status != "ok"]
    known = "pass" if any(c.chance is not None for c in evaluation.checks) else "pass as computed"
    checks = [c for c in evaluation.checks if c.required]
    passed = len(checks) - len(missed)
    return (
        f"As planned, this enclosure suits {animal}: all {passed} checks {known} (",
        *scope_of(evaluation),
        "). Measure it before the animal moves in.",
    )


def scope_of(evaluation: Evaluation) -> Phrase:
    """What a summary is about: day and night, the room, the age of the lamps.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.

    Returns
    -------
    Phrase
        Words within brackets.
    """
    room = evaluation.plan.room
    ages = any(f.lamp.ageing is not None for f in evaluation.plan.fixtures)
    return (
        "day and night, with the room at ",
        Measure(room.day_temperature_c, "°C"),
        " and ",
        Measure(room.night_temperature_c, "°C"),
        ", lamps as old as they are" if ages else "",
    )


def summarize_year(now: Phrase, months: Iterable[tuple[int, str]], fits_now: bool) -> Phrase:
    """A summary with what the months of the room bring: "Fits now; too warm from June to September".

    Parameters
    ----------
    now : Phrase
        The summary of the plan as it is now.
    months : Iterable of (int, str)
        Months, 1 to 12, in which something fails that does not fail now, each with what it is then.
    fits_now : bool
        Whether nothing fails now.

    Returns
    -------
    Phrase
        The summary, followed by what the months bring; itself where they bring nothing.
    """
    troubles: dict[str, list[int]] = {}
    for month, cause in months:
        troubles.setdefault(cause, []).append(month)
    if not troubles:
        return now
    said_ = "; ".join(f"{cause} {_spell(found)}" for cause, found in troubles.items())
    if fits_now:
        return (f"Fits now; {said_}. ", *now)
    return (*now, f" Over the year: {said_}.")


MONTHS = (
    *("January", "February", "March", "April", "May", "June", "July"),
    *("August", "September", "October", "November", "December"),
)


def _spell(months: list[int]) -> str:
    """Months as runs around the year: "in May", "from November to February"."""
    chosen = sorted(set(months))
    if len(chosen) == 12:
        return "all year"
    starts = [m for m in chosen if (m - 2) % 12 + 1 not in chosen]
    runs = []
    for first in starts:
        last = first
        while last % 12 + 1 in chosen:
            last = last % 12 + 1
        if first == last:
            runs.append(f"in {MONTHS[first - 1]}")
        else:
            runs.append(f"from {MONTHS[first - 1]} to {MONTHS[last - 1]}")
    return " and ".join(runs)


def cause_of(evaluation: Evaluation) -> str:
    """What is wrong with a plan in a word or two: "too warm", "too dry"; empty if nothing fails.

    Parameters
    ----------
    evaluation : Evaluation
        The evaluation.

    Returns
    -------
    str
        Of the worst that fails.
    """
    words = {
        "warm": "too warm",
        "cold": "too cold",
        "dry": "too dry",
        "damp": "too damp",
    }
    for check in by_weight(evaluation):
        if check.fails:
            temperature = "temperature" in check.need.quantity
            if temperature and check.status in ("low", "high"):
                if check.need.quantity == "surface_temperature":
                    side = "cold" if check.status == "low" else "hot"
                    return f"{uncapitalized(check.place_label)} too {side}"
                return words["cold" if check.status == "low" else "warm"]
            if check.need.quantity == "humidity" and check.status in ("low", "high"):
                return words["dry" if check.status == "low" else "damp"]
            return f"{figure_name(check.need.place, check.place_label, check.need.quantity)} fails"
    return "fails" if evaluation.failing else ""


def _describe(check: Check) -> Phrase:
    what = figure_name(check.need.place, check.place_label, check.need.quantity)
    if check.value is None:
        return (f"the {what} cannot be computed",)
    limit = check.need.low if check.status == "low" else check.need.high
    how = STATUS_WORDS[check.status]
    if check.need.quantity == "surface_temperature" and check.status in ("low", "high"):
        # A surface that is too high could be a ledge.
        how = f"too {TOO['surface_temperature'][check.status == 'high']}"
    return (
        f"the {what} is {how}, ",
        *said(check.need.quantity, check.value),
        " where " + ("at least " if check.status == "low" else "at most "),
        measure_of(check.need.quantity, limit or 0.0),
        " is wanted",
    )


def _finding_said(finding: Finding) -> Phrase:
    """The message of a finding as part of a sentence."""
    parts = list(finding.message)
    first = parts[0]
    if isinstance(first, str) and first.split(" ", 1)[0] in _LOWERED:
        parts[0] = uncapitalized(first)
    last = parts[-1]
    if isinstance(last, str):
        parts[-1] = last.rstrip(".")
    return tuple(parts)
