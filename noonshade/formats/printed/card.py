"""The card for timers and thermostats: what is set from which day on, to hang beside the enclosure."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from noonshade.core.care.year import SettingChange, first_day
from noonshade.core.phrase import Units, figure_text
from noonshade.formats.calendar_file import Clock, care_notes
from noonshade.formats.printed.report import environment

_PHASES = {
    "usual": "",
    "brumation": "Rest",
    "winding_down": "Into the rest",
    "winding_up": "Out of the rest",
}


@dataclass(frozen=True, slots=True)
class Card:
    """What the card of an enclosure says."""

    enclosure: str
    animal: str
    year: int
    revision: int
    setting_changes: tuple[SettingChange, ...]
    clock: Clock
    units: Units = "metric"


def card_html(card: Card, nonce: str = "", font_face: str = "") -> str:
    """The card as a page of HTML."""
    rows = [(first_day(s.week, card.year), _row(s, card)) for s in card.setting_changes]
    rows += [(day, _clock_row(day, hours, card)) for day, hours in card.clock.shifts(card.year)]
    shown = {
        "enclosure": card.enclosure,
        "animal": card.animal,
        "year": card.year,
        "zone": card.clock.zone.key,
        "standard_time": card.clock.standard_time,
        "revision": card.revision,
        "thermostats": [label for label, _, _ in card.setting_changes[0].set_points],
        "mists": any(s.misting_litres > 0 for s in card.setting_changes),
        "rows": [row for _, row in sorted(rows, key=lambda r: r[0])],
    }
    return environment().get_template("card.html").render(card=shown, nonce=nonce, font_face=font_face)


def _day(day: date) -> str:
    return f"{day.day} {day:%b}"


def _row(setting: SettingChange, card: Card) -> dict[str, object]:
    day = first_day(setting.week, card.year)
    lit = setting.off_h > setting.on_h
    notes = [_PHASES[setting.phase], *(f"{label} {watts:.0f} W" for label, watts in setting.powers)]
    notes += care_notes(setting)
    return {
        "kind": "rest" if setting.phase == "brumation" else "set",
        "day": _day(day),
        "on": card.clock.shown(setting.on_h, day) if lit else "off",
        "off": card.clock.shown(setting.off_h, day) if lit else "",
        "points": [
            f"{_point(by_day, card.units)} / {_point(by_night, card.units)}"
            for _, by_day, by_night in setting.set_points
        ],
        "mist": f"{1000 * setting.misting_litres:.0f} ml" if setting.misting_litres > 0 else "none",
        "note": ", ".join(n for n in notes if n),
    }


def _clock_row(day: date, hours: float, card: Card) -> dict[str, object]:
    way = "forward" if hours > 0 else "back"
    todo = "set the timers against it" if card.clock.standard_time else "set timers that do not follow"
    return {"kind": "clock", "day": _day(day), "note": f"Clocks go {way} {abs(hours):g} h: {todo}."}


def _point(point: float | None, units: Units) -> str:
    return "off" if point is None else figure_text(point, "°C", units)
