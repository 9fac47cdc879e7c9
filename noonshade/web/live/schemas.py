"""What a live picture is asked for."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from noonshade.core.live import LayerName
from noonshade.formats.document import Model
from noonshade.formats.plan_document import PlanDocument
from noonshade.web.evaluation.schemas import PlanViewRequest, SectionRequest

Share = Annotated[float, Field(ge=0, le=1)]


class PictureRequest(Model):
    """A plan that is being changed, and the one layer of it that is seen.

    ``power_fraction`` is of each fixture as last evaluated, 1 where it is not given.
    """

    document: PlanDocument
    layer: LayerName
    section: SectionRequest | None = None
    plan_view: PlanViewRequest | None = None
    lamp_age: Literal["new", "present", "worn"] = "present"
    power_fraction: Annotated[dict[str, Share], Field(max_length=60)] = {}
