"""What the room shows of each enclosure, and what is stored of each revision."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from noonshade.core.assessment.status import Severity, Status
from noonshade.core.evaluate import Evaluation
from noonshade.core.forecast import DueItem, ForecastMonth
from noonshade.core.summary import by_weight, cause_of
from noonshade.formats.document import Model
from noonshade.formats.results.evaluation import phrase_parts
from noonshade.formats.results.models import PhrasePart


class CheckResult(Model):
    """A check of a revision."""

    id: str
    status: Status
    severity: Severity
    value: float | None


class ChecksResult(Model):
    """The checks of a revision: how many fail with its findings, how many are uncertain, and the worst.

    ``problem`` is why it cannot be computed; then there are none.
    """

    failing: int = 0
    uncertain: int = 0
    cause: str = ""
    checks: list[CheckResult] = []
    findings: list[str] = []
    problem: str | None = None


class MonthModel(Model):
    """One month: how much must be fixed; null where no steady climate is found."""

    number: Annotated[int, Field(ge=1, le=12)]
    failing: int | None
    description: list[PhrasePart]


class DueModel(Model):
    """Something to be done; days from now, negative when it is overdue."""

    kind: Literal["replace_lamp", "replace_lamp_soon", "measure"]
    about_id: str
    message: str
    in_days: float | None


class ForecastResult(Model):
    """A plan over the months of its room, and what is due on it.

    ``problem`` is why it cannot be computed; then there are neither.
    """

    months: list[MonthModel] = []
    due: list[DueModel] = []
    problem: str | None = None


def checks_result(evaluation: Evaluation) -> ChecksResult:
    """The checks of an evaluation, the weightiest first."""
    return ChecksResult(
        failing=len(evaluation.failing),
        uncertain=len(evaluation.uncertain),
        cause=cause_of(evaluation),
        checks=[
            CheckResult(id=c.id, status=c.status, severity=c.severity, value=c.value)
            for c in by_weight(evaluation)
        ],
        findings=[f.id for f in evaluation.findings if f.fails],
    )


def forecast_result(months: tuple[ForecastMonth, ...], due: tuple[DueItem, ...]) -> ForecastResult:
    """A forecast with what is due."""
    return ForecastResult(
        months=[
            MonthModel(number=m.number, failing=m.failing, description=phrase_parts(m.description))
            for m in months
        ],
        due=[DueModel(kind=d.kind, about_id=d.about_id, message=d.message, in_days=d.in_days) for d in due],
    )
