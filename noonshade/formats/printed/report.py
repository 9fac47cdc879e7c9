"""The report of a plan: drawing, figures, checks, schedule, parts, cautions, sources."""

from __future__ import annotations

from base64 import b64encode
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from functools import cache
from typing import Any

from jinja2 import Environment, PackageLoader, StrictUndefined
from markupsafe import Markup

from noonshade.core.assessment.wording import (
    STATUS_WORDS,
    evidence_text,
    quantity_words,
    range_text,
    value_text,
)
from noonshade.core.building import list_cautions, list_parts, running_cost
from noonshade.core.day import Day
from noonshade.core.evaluate import Evaluation
from noonshade.core.fields import PlanGrid, SectionGrid, compute_fields
from noonshade.core.heights import figures_by_height
from noonshade.core.phrase import Phrase, Units, clock, figure_text, plain_text
from noonshade.core.plan import Fixture, Plan
from noonshade.core.summary import by_weight, summarize
from noonshade.formats.drawing import above_svg, front_svg
from noonshade.formats.glossary import glossary

GROUPS = {
    "enclosure": "Enclosure",
    "lamps": "Lamps and heaters",
    "control": "Control",
    "ground": "Ground",
    "furnishing": "Furnishing",
    "moisture": "Moisture and cooling",
    "safety": "Safety",
    "instruments": "To measure with",
}

# Words of the tables that a keeper may not know.
WORDS = ("uv-index", "facing-level", "probe-reading", "body-temperature")


@dataclass(frozen=True, slots=True)
class Edition:
    """What is printed in the head of a report beside the plan.

    ``links`` are addresses of the screen it is shown on; without them it is for paper only. ``nonce``
    is what a content policy asks of a style. ``picture`` is a JPEG in 3D of the revision it names.
    """

    made_at: datetime
    revision: int | None = None
    revision_name: str = ""
    units: Units = "metric"
    links: dict[str, str] | None = None
    nonce: str = ""
    font_face: str = ""
    picture: bytes | None = None
    picture_revision: int | None = None


@cache
def environment() -> Environment:
    """Templates of pages, with texts escaped."""
    found = Environment(
        loader=PackageLoader("noonshade.formats.printed", "."),
        autoescape=True,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )
    found.filters["clock"] = clock
    return found


def report_html(evaluation: Evaluation, day: Day | None, edition: Edition) -> str:
    """The report as a page of HTML that can be printed, and read without a pointer."""
    plan, units = evaluation.plan, edition.units
    views = compute_fields(evaluation, SectionGrid(), PlanGrid())
    assert views.section is not None
    assert views.plan_view is not None
    # A tall enclosure leaves room for its figures by height on the first page.
    is_tall = plan.enclosure.height_m > plan.enclosure.length_m
    large, small = (270, 225) if is_tall else (330, 260)

    def figure(value: float | None, unit: Any, digits: int | None = None) -> str:
        return "–" if value is None else figure_text(value, unit, units, digits)

    def as_text(phrase: Phrase) -> str:
        return plain_text(phrase, units)

    return (
        environment()
        .get_template("report.html")
        .render(
            plan=plan,
            evidence=evidence_text(plan),
            edition=edition,
            species=plan.animal.species,
            summary=as_text(summarize(evaluation)),
            fits=evaluation.fits,
            front_uv=_drawn(front_svg(evaluation, views.section, "uvi", units, 720, large)),
            front_air=_drawn(front_svg(evaluation, views.section, "air", units, 440, small)),
            picture=None if edition.picture is None else b64encode(edition.picture).decode(),
            above_uv=_drawn(above_svg(evaluation, views.plan_view, "uvi", units, 440, small)),
            evaluation=evaluation,
            heights=figures_by_height(evaluation),
            checks=_checks(evaluation, as_text, units),
            findings=[(f, as_text(f.message)) for f in evaluation.findings if f.severity != "note"],
            lamps=[_lamp(plan, f, figure) for f in plan.fixtures],
            groups=_parts(plan, as_text),
            running=running_cost(plan, day),
            cautions=[as_text(c.text) for c in list_cautions(plan)],
            words=[glossary()[word] for word in WORDS],
            sources=_sources(evaluation),
            figure=figure,
        )
    )


def _drawn(svg: str) -> Markup:
    # Our own picture, whose texts were escaped when it was made.
    return Markup(svg)  # noqa: S704


def _checks(
    evaluation: Evaluation, as_text: Callable[[Phrase], str], units: Units
) -> list[dict[str, str | bool]]:
    return [
        {
            "place": v.place_label,
            "what": quantity_words(v.need.place, v.need.quantity),
            "value": value_text(v.value, v.need.quantity, units),
            "wanted": range_text(v.need, units),
            "word": STATUS_WORDS[v.status],
            "status": v.status,
            "fails": v.fails,
            "reason": as_text(v.reason) if v.status != "ok" else "",
        }
        for v in by_weight(evaluation)
    ]


def _lamp(plan: Plan, fixture: Fixture, figure: Callable[..., str]) -> dict[str, str]:
    x, y, z = fixture.position_m
    control = next((t.label for t in plan.thermostats if t.id == fixture.thermostat_id), "timer only")
    if fixture.timer:
        hours = ", ".join(f"{clock(a)}–{clock(b)}" for a, b in fixture.timer)
    elif fixture.lit == "always":
        hours = "always"
    else:
        begin, end = (plan.dawn, plan.dusk) if fixture.lit == "day" else (plan.dusk, plan.dawn)
        hours = f"{clock(begin)}–{clock(end)}"
    height = "outside" if fixture.against is not None else figure(z - plan.substrate.depth_m, "m")
    return {
        "label": fixture.label,
        "lamp": f"{fixture.lamp.label}, {fixture.power_w:g} W" + (", guarded" if fixture.guard else ""),
        "place": f"{figure(x, 'm')} from the left, {figure(y, 'm')} from the front",
        "height": height,
        "hours": hours,
        "control": control,
    }


def _parts(plan: Plan, as_text: Callable[[Phrase], str]) -> list[tuple[str, list[tuple[int, str, str]]]]:
    found: dict[str, list[tuple[int, str, str]]] = {}
    for part in list_parts(plan):
        found.setdefault(part.group, []).append((part.count, part.label, as_text(part.detail)))
    return [(GROUPS[group], lines) for group, lines in found.items()]


def _sources(evaluation: Evaluation) -> list[str]:
    """Every source a check or a lamp goes by, once each."""
    plan = evaluation.plan
    named: dict[str, None] = {}
    for check in evaluation.checks:
        for claim in check.need.claims:
            named[f"{claim.source} ({claim.grade})"] = None
    for fixture in plan.fixtures:
        named[f"{fixture.lamp.label}: {fixture.lamp.source}"] = None
    return list(named)
