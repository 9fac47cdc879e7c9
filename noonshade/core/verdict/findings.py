"""Faults a plan shows by itself, beside the figures: every check, dangers first."""

from __future__ import annotations

from noonshade.core.verdict.equipment import equipment_findings
from noonshade.core.verdict.finding import FINDING_SEVERITIES, Finding, Judged
from noonshade.core.verdict.seasonal import seasonal_findings
from noonshade.core.verdict.shelter import shelter_findings

UNMEASURED = Finding(
    "unmeasured:box",
    "box",
    "note",
    ("Nothing in this plan has been measured yet.",),
    "A plan is a prediction until an infrared thermometer, a probe and a UV meter have confirmed it.",
)


def findings(judged: Judged) -> tuple[Finding, ...]:
    """Everything found, dangers first."""
    found = [*equipment_findings(judged), *shelter_findings(judged), *seasonal_findings(judged), UNMEASURED]
    return tuple(sorted(found, key=lambda f: FINDING_SEVERITIES.index(f.severity)))


__all__ = ["UNMEASURED", "Finding", "Judged", "findings"]
