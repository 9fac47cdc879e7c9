"""Pictures of a plan while it is being changed: the one layer that is seen, as bytes."""

from __future__ import annotations

from flask import Blueprint, Response, request

from noonshade.core.fields import PlanGrid, SectionGrid
from noonshade.core.light.ageing import with_lamp_age
from noonshade.core.live import Picture
from noonshade.formats.picture import MEDIA_TYPE, packed_pictures
from noonshade.services.application import Services
from noonshade.services.workers import Priority
from noonshade.web.http.routing import operation
from noonshade.web.http.security import LIVE_HEADER
from noonshade.web.live.schemas import PictureRequest

live_api = Blueprint("live", __name__, url_prefix="/api")


@operation(
    live_api,
    "POST",
    "/picture",
    request_model=PictureRequest,
    response=None,
    media=MEDIA_TYPE,
    pool="quick",
    priority=Priority.SHOWN,
)
def live_picture(services: Services, body: PictureRequest) -> Response:
    """One layer by day of a plan that is being changed, as bytes (``formats/picture.py``)."""
    plan = with_lamp_age(services.evaluation.plan(body.document), body.lamp_age)
    live = services.live.of(request.headers.get(LIVE_HEADER, ""))
    found: dict[str, Picture] = {}
    if (section := body.section) is not None:
        grid = SectionGrid(section.y_m, section.nx, section.nz)
        found["front"] = live.picture(plan, body.layer, grid, body.power_fraction)
    if (view := body.plan_view) is not None:
        above = PlanGrid(view.z_m, view.nx, view.ny)
        found["above"] = live.picture(plan, body.layer, above, body.power_fraction)
    return Response(packed_pictures(found), content_type=MEDIA_TYPE)
