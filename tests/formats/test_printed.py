"""The report: one to three pages, everything on it, both units, nothing fetched."""

from __future__ import annotations

import io
from dataclasses import replace
from datetime import datetime

import pypdfium2
import pytest
from PIL import Image

from noonshade.core.day import simulate_day
from noonshade.core.evaluate import Evaluation
from noonshade.core.fields import section
from noonshade.formats.drawing import front_svg
from noonshade.formats.printed import Edition, pdf_of, png_of, report_html
from tests.builders import demo_plan, shipped_plan
from tests.evaluated import evaluate

WHEN = datetime(2026, 3, 1, 9, 30)


@pytest.fixture(scope="module")
def evaluation() -> Evaluation:
    return evaluate(demo_plan())


@pytest.fixture(scope="module")
def html(evaluation: Evaluation) -> str:
    return report_html(evaluation, simulate_day(evaluation), Edition(WHEN, revision=4))


def _text(pdf: bytes) -> list[str]:
    document = pypdfium2.PdfDocument(pdf)
    try:
        return [page.get_textpage().get_text_bounded() for page in document]
    finally:
        document.close()


def test_the_pdf_has_one_to_three_pages_with_every_part(html: str) -> None:
    pages = _text(pdf_of(html))
    assert 1 <= len(pages) <= 3
    whole = " ".join(" ".join(pages).split())
    for part in (
        "Collared lizard, timber enclosure by the race window",
        "Do not put the animal in",
        "Figures by place",
        "What it needs, and what it gets",
        "Schedule and settings",
        "Parts",
        "Cautions",
        "Sources",
        "revision 4 · 2026-03-01 09:30",
        "predicted, not measured",
    ):
        assert part in whole, part


def test_figures_and_checks_are_those_of_the_evaluation(evaluation: Evaluation, html: str) -> None:
    surface = evaluation.places[0].surface_c
    assert f"{surface:.1f} °C" in html
    assert html.count("too high") >= sum(v.status == "high" for v in evaluation.checks)
    for check in evaluation.checks:
        assert check.place_label in html


def test_the_other_units_are_used_throughout(evaluation: Evaluation) -> None:
    text = report_html(evaluation, None, Edition(WHEN, units="imperial"))
    assert "°F" in text
    # Only labels of lamps and materials, and air temperatures in sentences of sources, keep the others.
    cells = text[text.index("Figures by place") : text.index("Schedule and settings")]
    assert " cm" not in cells
    assert "if nothing were regulated" in text


def test_the_paper_edition_asks_for_nothing_from_elsewhere(html: str) -> None:
    assert "http://" not in html.replace("http://www.w3.org", "")
    assert "https://" not in html
    assert "<script" not in html
    assert "Save as PDF" not in html


def test_a_name_from_outside_cannot_break_out(evaluation: Evaluation) -> None:
    plan = replace(evaluation.plan, name='"; } </style><script>alert(1)</script>')
    text = report_html(replace(evaluation, plan=plan), None, Edition(WHEN))
    assert "<script" not in text
    assert text.count("</style>") == 1
    assert len(_text(pdf_of(text))) <= 3


def test_nothing_from_the_network_or_the_disk_comes_into_a_pdf(caplog: pytest.LogCaptureFixture) -> None:
    page = "<p>text</p><img alt='outside' src='file:///etc/hostname'><img alt='net' src='http://127.0.0.1:9/x'>"
    pages = _text(pdf_of(page))
    assert "text" in pages[0]
    assert sum("disallowed protocol" in r.getMessage() for r in caplog.records) == 2


def test_png_is_as_wide_as_asked(evaluation: Evaluation) -> None:
    svg = front_svg(evaluation, section(evaluation, nx=30, nz=20))
    image = Image.open(io.BytesIO(png_of(svg, 900)))
    assert abs(image.width - 900) <= 1
    assert image.convert("L").getextrema() != (255, 255)
    with pytest.raises(ValueError, match="px wide"):
        png_of(svg, 0)


# Those with the most to print; the others are shorter.
@pytest.mark.parametrize(
    "name",
    [
        "panther-chameleon",
        *(
            pytest.param(name, marks=pytest.mark.thorough)
            for name in ("hermanns-tortoise", "crocodile-lizard", "whites-tree-frog")
        ),
    ],
)
def test_the_longest_demo_plans_fit_three_pages(name: str) -> None:
    result = evaluate(shipped_plan(name))
    assert len(_text(pdf_of(report_html(result, None, Edition(WHEN))))) <= 3
