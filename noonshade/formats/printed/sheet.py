"""The sheet of an enclosure that was tested before its animal moved in."""

from __future__ import annotations

from dataclasses import dataclass

from noonshade.core.assessment.wording import quantity_words, range_text, value_text
from noonshade.core.needs.species import Need, Quantity
from noonshade.core.phrase import Units
from noonshade.core.readings.commissioning import State
from noonshade.formats.printed.report import environment

STATES: dict[State, str] = {
    "not_yet": "not read yet",
    "ok": "met",
    "low": "too low",
    "high": "too high",
    "not_readable": "by the plan",
}


@dataclass(frozen=True, slots=True)
class SheetLine:
    """One need on the sheet."""

    place: str
    quantity: Quantity
    low: float | None
    high: float | None
    state: State
    value: float | None
    days: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Sheet:
    """A tested enclosure: what was read, and who signed it."""

    enclosure: str
    animal: str
    started_on: str
    days: int
    days_read: tuple[str, ...]
    lines: tuple[SheetLine, ...]
    signed_at: str | None
    signed_by: str | None
    remarks: str
    revision: int
    changed: tuple[str, ...]
    units: Units = "metric"


def sheet_html(sheet: Sheet, nonce: str = "", font_face: str = "") -> str:
    """The sheet as a page of HTML."""
    lines = [
        {
            "place": line.place,
            "what": quantity_words(line.place, line.quantity),
            "wanted": range_text(
                Need("enclosure", line.quantity, line.low, line.high, "estimate", ""), sheet.units
            ),
            "value": value_text(line.value, line.quantity, sheet.units),
            "state": line.state,
            "word": STATES[line.state],
            "days": ", ".join(line.days),
        }
        for line in sheet.lines
    ]
    open_ones = [line for line in lines if line["state"] in ("not_yet", "low", "high")]
    return (
        environment()
        .get_template("sheet.html")
        .render(sheet=sheet, lines=lines, open_ones=open_ones, nonce=nonce, font_face=font_face)
    )
