"""What an evaluation is asked for."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from noonshade.formats.document import Model
from noonshade.formats.plan_document import PlanDocument


class SectionRequest(Model):
    """Fields wanted for drawing; ``y_m`` null for the basking spot."""

    y_m: Annotated[float, Field(ge=0, le=3)] | None = None
    nx: Annotated[int, Field(ge=8, le=400)] = 120
    nz: Annotated[int, Field(ge=8, le=400)] = 60


class PlanViewRequest(Model):
    """Fields wanted seen from above; ``z_m`` null for the animal's back at the basking spot."""

    z_m: Annotated[float, Field(ge=0, le=3)] | None = None
    nx: Annotated[int, Field(ge=8, le=400)] = 120
    ny: Annotated[int, Field(ge=8, le=400)] = 60


class EvaluateRequest(Model):
    """A plan to evaluate, and whether fields for drawing are wanted."""

    document: PlanDocument
    section: SectionRequest | None = None
    plan_view: PlanViewRequest | None = None
    lamp_age: Literal["new", "present", "worn"] = "present"
    patch_above_c: Annotated[float, Field(ge=0, le=100)] | None = None
