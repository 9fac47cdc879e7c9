"""Labels in the drawings of all demo plans: none lies on another."""

from __future__ import annotations

import pytest

from noonshade.demo import DEMO_PLANS
from tests.browser.conftest import PageMaker, layer, settled

pytestmark = pytest.mark.browser


# Boxes of all labels of places, on the screen.
LABELS = """() => [
  ...document.querySelectorAll('[data-testid^="mark-"], [data-testid^="name-"]'),
].map((g) => {
  const boxes = [...g.querySelectorAll('rect, text')].map((e) => e.getBoundingClientRect());
  const all = (side) => boxes.map((b) => b[side]);
  return {
    id: g.dataset.testid,
    x0: Math.min(...all('left')), x1: Math.max(...all('right')),
    y0: Math.min(...all('top')), y1: Math.max(...all('bottom')),
  };
})"""


@pytest.mark.parametrize("width", [1280, 390])
def test_no_name_of_a_place_lies_on_another(new_page: PageMaker, width: int) -> None:
    page = new_page(width=width, height=844)
    seen = 0
    for plan_id in DEMO_PLANS:
        page.goto(f"/plans/{plan_id}")
        settled(page)
        layer(page, "Air")
        for view in ("Front", "Above"):
            page.get_by_role("radio", name=view, exact=True).click()
            settled(page)
            labels = page.evaluate(LABELS)
            seen += len(labels)
            for i, a in enumerate(labels):
                for b in labels[i + 1 :]:
                    wide = min(a["x1"], b["x1"]) - max(a["x0"], b["x0"])
                    high = min(a["y1"], b["y1"]) - max(a["y0"], b["y0"])
                    # Half a pixel is how letters are drawn.
                    assert wide <= 0.5 or high <= 0.5, (plan_id, view, a["id"], b["id"], wide, high)
    assert seen > 4 * len(DEMO_PLANS)
