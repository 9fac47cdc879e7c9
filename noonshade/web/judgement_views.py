"""Judging beyond the figures: mends, intervals, and what holds over time."""

from __future__ import annotations

from flask import Blueprint

from noonshade.core.overtime import OverTime, over_time
from noonshade.core.uncertainty.intervals import DRAWS, SEED, carried_over
from noonshade.core.verdict.checks import Verdict
from noonshade.core.verdict.finding import Finding
from noonshade.web import current
from noonshade.web.interface import operation
from noonshade.web.judgement_models import (
    CellModel,
    IntervalsRequest,
    IntervalsResponse,
    LeftOutModel,
    MendRequest,
    MendResponse,
    OverTimeRequest,
    OverTimeResponse,
    RowModel,
    SpreadCause,
    VerdictInterval,
)
from noonshade.web.present import mend_model, need_model
from noonshade.web.problems import RequestProblem

judgement_api = Blueprint("judgement", __name__, url_prefix="/api")


@operation(
    judgement_api,
    "POST",
    "/mends",
    request_model=MendRequest,
    response=MendResponse,
    problems=(404,),
)
def find_mends(body: MendRequest) -> MendResponse:
    """Compute the best changes that put one failed verdict or finding right."""
    result = current.evaluator().evaluate(body.document)
    targets: dict[str, Verdict | Finding] = {v.id: v for v in result.verdicts}
    targets |= {f.id: f for f in result.findings}
    if body.about_id not in targets:
        known = ", ".join(targets)
        raise RequestProblem(
            404, "not-found", "There is no such verdict", f"{body.about_id!r}; known: {known}"
        )
    target = targets[body.about_id]
    found = current.changes().of(result, target, current.evaluator().shelf, body.most)
    models = []
    for mend in found:
        interval = None
        if isinstance(target, Verdict) and mend.value is not None:
            own = current.judgements().intervals(result).get(target.id)
            if own is not None:
                interval = carried_over(own, target, mend.value, result.day.room_c)
        models.append(mend_model(mend, body.document, interval))
    return MendResponse(about_id=body.about_id, mends=models)


@operation(judgement_api, "POST", "/intervals", request_model=IntervalsRequest, response=IntervalsResponse)
def find_intervals(body: IntervalsRequest) -> IntervalsResponse:
    """How far each checked figure may be off, and how likely it meets its need."""
    result = current.evaluator().evaluate(body.document)
    found = current.judgements().intervals(result)
    return IntervalsResponse(
        draws=DRAWS,
        seed=SEED,
        intervals=[
            VerdictInterval(
                verdict_id=i.verdict_id,
                low=i.low,
                high=i.high,
                probability=i.probability,
                causes=[SpreadCause(name=name, share=share) for name, share in i.causes],
            )
            for i in found.values()
        ],
    )


@operation(judgement_api, "POST", "/over-time", request_model=OverTimeRequest, response=OverTimeResponse)
def find_over_time(body: OverTimeRequest) -> OverTimeResponse:
    """Every need in every situation: the day, the seasons, old lamps, the next stage of life."""
    evaluation, day = current.days().day(body.document, "now")
    return _over_time_model(over_time(evaluation, day))


def _over_time_model(table: OverTime) -> OverTimeResponse:
    return OverTimeResponse(
        situations=list(table.situations),
        rows=[
            RowModel(
                verdict_id=row.verdict.id,
                place_label=row.verdict.place_label,
                need=need_model(row.verdict.need),
                holds=row.holds,
                cells=[
                    CellModel(
                        situation=c.situation, status=c.status, value=c.value, share=c.share, met=c.met
                    )
                    for c in row.cells
                ],
            )
            for row in table.rows
        ],
        left_out=[LeftOutModel(situation=s, why=why) for s, why in table.left_out],
    )
