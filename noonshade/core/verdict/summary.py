"""One sentence about a plan that can be said aloud."""

from __future__ import annotations

from noonshade.core.evaluate import Evaluation
from noonshade.core.needs.model import SHARES
from noonshade.core.phrase import Measure, Phrase
from noonshade.core.verdict.checks import SEVERITIES, Verdict
from noonshade.core.verdict.finding import Finding
from noonshade.core.verdict.trial import QUANTITIES, shown

# Words a message may begin with that are no names of things in the plan.
_LOWERED = {"A", "An", "As", "At", "In", "It", "No", "Nothing", "On", "Only", "The", "There", "Under"}
_WORDS = {"below": "too low", "above": "too high", "cannot_tell": "unknown"}


def by_weight(evaluation: Evaluation) -> tuple[Verdict, ...]:
    """Verdicts in the order of what matters most: dangers, then faults by how far off they are."""
    return tuple(
        sorted(
            evaluation.verdicts,
            key=lambda v: (-SEVERITIES.index(v.severity), -v.off_by, v.status == "within"),
        )
    )


def summary(evaluation: Evaluation) -> Phrase:
    """What a keeper would say of the plan: the worst of it, and how the rest is."""
    failed = [v for v in by_weight(evaluation) if v.fails]
    faults = [f for f in evaluation.findings if f.fails]
    danger = any(v.severity == "danger" for v in failed) or any(f.severity == "danger" for f in faults)
    count = len(failed) + len(faults)
    name = evaluation.plan.animal.species.common_name
    article = "an" if name[0].lower() in "aeiou" else "a"
    if count == 0:
        return (
            f"As planned, this box suits {article} {name}: all {len(evaluation.verdicts)} needs are met. "
            "Measure it before the animal moves in.",
        )
    first: Phrase
    worst_finding = next((f for f in faults if f.severity == "danger"), None)
    if worst_finding is not None and not (failed and failed[0].severity == "danger"):
        first = _said(worst_finding)
    elif failed:
        first = _told(failed[0])
    else:
        first = _said(faults[0])
    opening = "Do not put the animal in: " if danger else "Not yet: "
    rest = count - 1
    closing = "; nothing else fails." if rest == 0 else f"; {rest} more to put right."
    return (opening, *first, closing)


def _told(verdict: Verdict) -> Phrase:
    label = verdict.place_label[0].lower() + verdict.place_label[1:]
    what = QUANTITIES[verdict.need.quantity]
    if verdict.value is None:
        return (f"{what} at the {label} cannot be told",)
    limit = verdict.need.low if verdict.status == "below" else verdict.need.high
    return (
        f"{label} {what} is {_WORDS[verdict.status]}, ",
        *shown(verdict),
        " where " + ("at least " if verdict.status == "below" else "at most "),
        *_limit(verdict, limit or 0.0),
        " is wanted",
    )


def _limit(verdict: Verdict, value: float) -> Phrase:
    if verdict.need.quantity in SHARES:
        return (Measure(100 * value, "%"),)
    return (Measure(value, "UVI" if verdict.need.quantity == "uvi" else "°C"),)


def _said(finding: Finding) -> Phrase:
    """The message of a finding as part of a sentence."""
    parts = list(finding.message)
    first = parts[0]
    if isinstance(first, str) and first.split(" ", 1)[0] in _LOWERED:
        parts[0] = first[0].lower() + first[1:]
    last = parts[-1]
    if isinstance(last, str):
        parts[-1] = last.rstrip(".")
    return tuple(parts)
