"""One sentence about a plan that can be said aloud."""

from __future__ import annotations

from noonshade.core.assessment.checks import SEVERITIES, Check
from noonshade.core.assessment.finding import Finding
from noonshade.core.assessment.wording import STATUS_WORDS
from noonshade.core.evaluate import Evaluation
from noonshade.core.fixes.candidate import quantity_of, shown
from noonshade.core.needs.species import SHARES
from noonshade.core.phrase import Measure, Phrase, uncapitalized

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
            key=lambda v: (-SEVERITIES.index(v.severity), -v.off_by, v.status == "ok"),
        )
    )


def summarize(evaluation: Evaluation) -> Phrase:
    """What a keeper would say of the plan: the worst of it, and how the rest is.

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
    name = evaluation.plan.animal.species.common_name
    article = "an" if name[0].lower() in "aeiou" else "a"
    if count == 0:
        return (
            f"As planned, this enclosure suits {article} {name}: all {len(evaluation.checks)} checks pass. "
            "Measure it before the animal moves in.",
        )
    first: Phrase
    worst_finding = next((f for f in faults if f.severity == "danger"), None)
    if worst_finding is not None and not (failed and failed[0].severity == "danger"):
        first = _said(worst_finding)
    elif failed:
        first = _describe(failed[0])
    else:
        first = _said(faults[0])
    opening = "Do not put the animal in: " if danger else "Not yet: "
    rest = count - 1
    closing = "; nothing else fails." if rest == 0 else f"; {rest} more to fix."
    return (opening, *first, closing)


def _describe(check: Check) -> Phrase:
    label = uncapitalized(check.place_label)
    what = quantity_of(check)
    if check.value is None:
        return (f"{what} at the {label} cannot be computed",)
    limit = check.need.low if check.status == "low" else check.need.high
    return (
        f"{label} {what} is {STATUS_WORDS[check.status]}, ",
        *shown(check),
        " where " + ("at least " if check.status == "low" else "at most "),
        *_limit(check, limit or 0.0),
        " is wanted",
    )


def _limit(check: Check, value: float) -> Phrase:
    if check.need.quantity in SHARES:
        return (Measure(100 * value, "%"),)
    return (Measure(value, "UVI" if check.need.quantity == "uvi" else "°C"),)


def _said(finding: Finding) -> Phrase:
    """The message of a finding as part of a sentence."""
    parts = list(finding.message)
    first = parts[0]
    if isinstance(first, str) and first.split(" ", 1)[0] in _LOWERED:
        parts[0] = uncapitalized(first)
    last = parts[-1]
    if isinstance(last, str):
        parts[-1] = last.rstrip(".")
    return tuple(parts)
