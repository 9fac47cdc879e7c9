"""Labels in the drawings of all demo plans: none lies on another, in both units, at three widths."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page

from noonshade.demo import DEMO_PLANS
from tests.browser.conftest import PageMaker, layer, settled

pytestmark = pytest.mark.browser


# Boxes of all names and figures in the drawing: places, heights, probes, dimensions, lines of equal value.
LABELS = """() => [
  ...document.querySelectorAll(
    '[data-testid^="mark-"], [data-testid^="name-"], [data-testid="dimension"],'
      + '[data-testid="contour-figure"]'
  ),
].map((g) => {
  const own = [...g.querySelectorAll('rect, text')];
  const boxes = (own.length ? own : [g]).map((e) => e.getBoundingClientRect());
  const all = (side) => boxes.map((b) => b[side]);
  return {
    id: g.dataset.testid + ' ' + g.textContent,
    x0: Math.min(...all('left')), x1: Math.max(...all('right')),
    y0: Math.min(...all('top')), y1: Math.max(...all('bottom')),
    plate: g.querySelector('rect') !== null,
  };
})"""
# Half a pixel is how letters are drawn; where they stand without a plate their box has the room of a line.
EDGE_PX, LINE_PX = 0.5, 3.0


def _clear(page: Page, *where: object) -> int:
    """Fail where a label lies on another; how many there are."""
    labels = page.evaluate(LABELS)
    for i, a in enumerate(labels):
        for b in labels[i + 1 :]:
            wide = min(a["x1"], b["x1"]) - max(a["x0"], b["x0"])
            high = min(a["y1"], b["y1"]) - max(a["y0"], b["y0"])
            edge = EDGE_PX if a["plate"] and b["plate"] else LINE_PX
            assert wide <= edge or high <= edge, (*where, a["id"], b["id"], wide, high)
    return len(labels)


@pytest.mark.parametrize("units", ["metric", "imperial"])
@pytest.mark.parametrize("width", [1280, 800, 390])
def test_no_label_lies_on_another(new_page: PageMaker, width: int, units: str) -> None:
    page = new_page(width=width, height=844)
    page.add_init_script(f"localStorage.setItem('units', '{units}')")
    seen = 0
    for plan_id in DEMO_PLANS:
        page.goto(f"/plans/{plan_id}")
        settled(page)
        for view in ("Front", "Above"):
            page.get_by_role("radio", name=view, exact=True).click()
            for field in ("Air", "UV") if units == "metric" else ("Air",):
                layer(page, field)
                settled(page)
                seen += _clear(page, plan_id, view, field)
    assert seen > 5 * len(DEMO_PLANS)


def test_names_of_pins_lie_on_no_other(new_page: PageMaker) -> None:
    page = new_page()
    plan = page.request.get("/api/plans/collared-lizard").json()["document"]
    near = [(0.3, 0.18), (0.31, 0.2), (0.33, 0.22), (0.62, 0.1), (1.15, 0.25)]
    plan["pins"] = [
        {"id": f"pin-{i}", "label": f"Close to others {i}", "at_m": {"x_m": x, "y_m": 0.3, "z_m": z}}
        for i, (x, z) in enumerate(near)
    ]
    made = page.request.post("/api/plans", data={"document": plan, "summary": "Pins that crowd"})
    assert made.ok, made.text()
    page.goto(f"/plans/{made.json()['id']}")
    settled(page)
    for view in ("Front", "Above"):
        page.get_by_role("radio", name=view, exact=True).click()
        for field in ("Air", "UV"):
            layer(page, field)
            settled(page)
            assert page.locator('[data-testid^="mark-pin-"]').count() == len(near)
            _clear(page, "pins", view, field)
