"""Requests and responses of plans and their revisions."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from noonshade.formats.document import Model, RevisionNumber
from noonshade.formats.plan_document import PlanDocument


class Health(Model):
    """What is running."""

    status: Literal["ok"]
    version: str
    demo: bool
    reads_only: bool


class PlanSummary(Model):
    """A plan in the list, with its document for a small drawing."""

    id: str
    name: str
    revision: int
    created_at: str
    updated_at: str
    document: PlanDocument


class SampleModel(Model):
    """The sample enclosure as it ships."""

    id: str
    document: PlanDocument


class PlanList(Model):
    """All plans."""

    plans: list[PlanSummary]


class CreatePlan(Model):
    """A new plan, or an imported one."""

    document: PlanDocument
    summary: Annotated[str, Field(max_length=200)] = "Created"


class SavePlan(Model):
    """A change of a plan, based on a revision."""

    document: PlanDocument
    base_revision: RevisionNumber
    summary: Annotated[str, Field(min_length=1, max_length=200)]


class RevisionSummary(Model):
    """A revision without its document."""

    number: int
    base: int | None
    kind: Literal["saved", "refused"]
    summary: str
    name: str
    created_at: str


class RevisionList(Model):
    """All revisions of a plan, newest first."""

    plan_id: str
    head: int
    revisions: list[RevisionSummary]


class Revision(RevisionSummary):
    """A revision with its document."""

    document: PlanDocument
