"""The lamp register: lamps are registered, one is replaced by a spare, and its readings are asked for."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import Demo, PageMaker
from tests.browser.test_accessibility import violations

pytestmark = pytest.mark.browser


@pytest.fixture(autouse=True)
def one_enclosure(demo: Demo) -> None:
    """Only one enclosure: each is looked at three years ahead."""
    assert demo.app is not None
    plans = demo.app.services.plans
    for plan in plans.all():
        if plan.id != "collared-lizard":
            demo.app.services.write(plans.remove, plan.id)


def test_a_tube_is_replaced_by_a_spare_and_its_readings_are_due(new_page: PageMaker) -> None:
    page = new_page()
    page.goto("/lamps")
    page.get_by_role("link", name="Lamp register").click()
    page.get_by_role("button", name="Add a spare").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Name").fill("Spare tube")
    dialog.get_by_label("Kind").select_option(label="T5 tube, strong, 85 cm, reflector")
    dialog.get_by_role("button", name="Add it").click()
    expect(page.get_by_role("region", name="Spares")).to_contain_text("Spare tube")
    page.get_by_role("button", name="Register them").click()
    enclosure = page.get_by_test_id("register-collared-lizard")
    expect(enclosure.get_by_test_id("until")).to_contain_text("Meets its UV need until about")
    assert violations(page) == []

    enclosure.get_by_role("button", name="Replace: UV tube").click()
    expect(dialog.get_by_label("The lamp that is hung")).to_contain_text("Spare tube")
    expect(dialog).to_contain_text("hold mercury")
    assert violations(page) == []
    dialog.get_by_role("button", name="Hang it").click()
    after = page.get_by_test_id("due-again")
    expect(after).to_contain_text("Hung in Collared lizard")
    expect(enclosure).to_contain_text("Spare tube")
    page.get_by_text("Thrown away (1)").click()
    expect(page.locator('[data-state="retired"]')).to_contain_text("UV tube")

    # Down and back by undo, and the plan has it with no hours.
    enclosure.get_by_role("button", name="Take down: Spare tube").click()
    page.get_by_role("button", name="Hang it back").click()
    expect(enclosure).to_contain_text("Spare tube")
    document = page.request.get("/api/plans/collared-lizard").json()["document"]
    assert next(f["hours"] for f in document["fixtures"] if f["id"] == "uv-tube") == 0.0
    after.get_by_role("button", name="Take these readings").click()
    page.get_by_test_id("count").wait_for()


def test_the_register_on_a_phone_in_the_dark(new_page: PageMaker) -> None:
    page = new_page(width=390, height=844, color_scheme="dark")
    page.goto("/register")
    page.get_by_role("button", name="Register them").click()
    page.get_by_test_id("register-collared-lizard").wait_for()
    assert violations(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
