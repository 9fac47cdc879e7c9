"""Which report, drawing or field of a plan is asked for."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from noonshade.core.phrase import Units
from noonshade.formats.document import Model, RevisionNumber
from noonshade.formats.drawing import FieldName
from noonshade.formats.printed.pages import WIDEST_PX


class ReportQuery(Model):
    """Which revision, the newest if none is named, and in which units."""

    revision: Annotated[int, Field(ge=1)] | None = None
    units: Units = "metric"


class PictureOf(Model):
    """Which revision a picture shows."""

    revision: RevisionNumber


class SectionQuery(ReportQuery):
    """Where the section lies: at a depth seen from the front, or a height seen from above, m."""

    view: Literal["front", "above"] = "front"
    at: Annotated[float, Field(ge=0, le=3)] | None = None


class DrawingQuery(SectionQuery):
    """Which field lies over the drawing."""

    field: FieldName = "uvi"


class PictureQuery(DrawingQuery):
    """How wide the picture is, px."""

    width: Annotated[int, Field(ge=200, le=WIDEST_PX)] = 1600
