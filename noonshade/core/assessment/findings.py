"""Faults a plan shows by itself, beside the figures: every check, dangers first."""

from __future__ import annotations

from noonshade.core.assessment.company import company_findings
from noonshade.core.assessment.equipment import equipment_findings
from noonshade.core.assessment.finding import FINDING_SEVERITIES, Finding, FindingContext
from noonshade.core.assessment.ground import ground_findings
from noonshade.core.assessment.seasonal import seasonal_findings
from noonshade.core.assessment.shelter import shelter_findings

UNMEASURED = Finding(
    "unmeasured:enclosure",
    "enclosure",
    "note",
    ("Nothing in this plan has been measured yet.",),
    "A plan is a prediction until an infrared thermometer, a probe and a UV meter have confirmed it.",
)


def find_findings(context: FindingContext) -> tuple[Finding, ...]:
    """Everything found, dangers first.

    Parameters
    ----------
    context : FindingContext
        What the findings are drawn from.

    Returns
    -------
    tuple[Finding, ...]
        The findings, sorted by severity; empty if nothing is wrong.
    """
    found = [
        *equipment_findings(context),
        *shelter_findings(context),
        *ground_findings(context),
        *company_findings(context),
        *seasonal_findings(context),
        UNMEASURED,
    ]
    return tuple(sorted(found, key=lambda f: FINDING_SEVERITIES.index(f.severity)))


__all__ = ["UNMEASURED", "Finding", "FindingContext", "find_findings"]
