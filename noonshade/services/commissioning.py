"""Move-in test of an enclosure: what was read of it since it began, its state, and its sheet."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any, Literal

from noonshade.core.evaluate import Evaluation
from noonshade.core.readings.commissioning import USUAL_DAYS, Covered, Taken, check_coverage, is_complete
from noonshade.formats.plan_document import PlanDocument, parse_plan
from noonshade.formats.stale_parts import changed_parts
from noonshade.formats.versions import commissioning_sheet_from_1
from noonshade.services.application import Services
from noonshade.services.readings import valid_readings
from noonshade.store.commissioning_tests import CommissioningTestRecord
from noonshade.store.errors import NotFoundError
from noonshade.store.plans import PlanRecord

CommissioningState = Literal["none", "running", "ready", "signed", "reopened"]


@dataclass(frozen=True, slots=True)
class CommissioningTest:
    """How far the newest move-in test of an enclosure is; ``record`` is None where there never was one."""

    plan: PlanRecord
    document: PlanDocument
    evaluation: Evaluation
    record: CommissioningTestRecord | None
    state: CommissioningState
    days: int
    days_read: tuple[str, ...]
    checks: tuple[Covered, ...]
    changed_parts: tuple[str, ...]

    @property
    def not_read(self) -> int:
        """How many checks were not read yet."""
        return sum(c.state == "not_yet" for c in self.checks)

    @property
    def deviations(self) -> int:
        """How many checks were read out of range."""
        return sum(c.state in ("low", "high") for c in self.checks)


class NothingToSignError(RuntimeError):
    """There is no open test, or it has no valid reading yet."""


class RemarksNeededError(RuntimeError):
    """The test is not complete: signing it needs a remark that says why."""


def commissioning_test(services: Services, plan_id: str) -> CommissioningTest:
    """The newest test of an enclosure; a change of the enclosure reopens a signed one."""
    plan = services.plans.get(plan_id)
    record = services.commissioning_tests.newest(plan_id)
    document = parse_plan(plan.document)
    evaluation = services.evaluation.evaluate(document)
    taken = [
        Taken(v.reading, v.record.taken_at[:10], v.stale_because)
        for v in valid_readings(services, plan_id, document, evaluation)
        if record is not None and v.record.taken_at[:10] >= record.started_on and not v.record.excluded
    ]
    checks = check_coverage(evaluation, taken)
    changed = _changed_since(services, record, document)
    days = USUAL_DAYS if record is None else record.days
    return CommissioningTest(
        plan=plan,
        document=document,
        evaluation=evaluation,
        record=record,
        state=_state(record, checks, days, changed),
        days=days,
        days_read=tuple(sorted({d for c in checks for d in c.days})),
        checks=checks,
        changed_parts=changed,
    )


def begin_test(services: Services, plan_id: str, started_on: str, days: int) -> None:
    """Begin a test, or change an open one; after a signed one a new one begins."""
    with services.database.transaction() as transaction:
        services.plans.get(plan_id, transaction)
        services.commissioning_tests.begin(transaction, plan_id, started_on, days)


def sign_test(services: Services, plan_id: str, by: str, remarks: str, sheet: str) -> None:
    """Sign a test off with its sheet; the sheet stays in the signed state.

    Raises
    ------
    NothingToSignError
        If there is no open test, or it has no valid reading.
    RemarksNeededError
        If it is not complete and there are no remarks.
    """
    found = services.computed(commissioning_test, plan_id)
    if found.state not in ("running", "ready"):
        is_signed = found.record is not None and found.record.signed_at is not None
        raise NothingToSignError("It is signed already." if is_signed else "No test was begun.")
    if not found.days_read:
        raise NothingToSignError("The test has no valid reading yet.")
    if found.state == "running" and not remarks.strip():
        raise RemarksNeededError(
            f"{found.not_read} checks are not read yet, {found.deviations} are out of range, "
            f"{len(found.days_read)} of {found.days} days were read."
        )
    services.write(services.commissioning_tests.sign, plan_id, by, remarks, found.plan.revision, sheet)


def take_back_signature(services: Services, plan_id: str) -> None:
    """Reopen a signed test with its readings."""
    services.write(services.commissioning_tests.take_back, plan_id)


def signed_sheet(record: CommissioningTestRecord) -> dict[str, Any] | None:
    """The sheet a test was signed with, in today's terms; None while it is open."""
    if record.sheet is None:
        return None
    sheet: dict[str, Any] = json.loads(record.sheet)
    return commissioning_sheet_from_1(sheet)


def _state(
    record: CommissioningTestRecord | None,
    checks: tuple[Covered, ...],
    days: int,
    changed: tuple[str, ...],
) -> CommissioningState:
    if record is None:
        return "none"
    if record.signed_at is not None:
        return "reopened" if changed else "signed"
    return "ready" if is_complete(checks, days) else "running"


def _changed_since(
    services: Services, record: CommissioningTestRecord | None, document: PlanDocument
) -> tuple[str, ...]:
    """Parts that differ from the enclosure in the signed state off."""
    if record is None or record.revision is None:
        return ()
    try:
        then = services.plans.revision(record.plan_id, record.revision).document
    except NotFoundError:
        return ()
    return tuple(dict.fromkeys(c.part for c in changed_parts(parse_plan(then), document)))
