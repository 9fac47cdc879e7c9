"""Angular tables from photometric files: IES LM-63 and EULUMDAT."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from itertools import pairwise

from noonshade.core.plan import TableSource
from noonshade.formats.text_file import FileFormatError, decoded, number, whole

MOST_ANGLES = 400
FEET_M = 0.3048
# The strongest searchlights there are, cd.
MOST_CANDELA = 1e9
_DEFAULT_DIAMETER_M = 0.05
_IES_TITLES = ("IESNA:LM-63-1995", "IESNA:LM-63-2002", "IES:LM-63-2019")


@dataclass(frozen=True, slots=True)
class PhotometricFile:
    """What a photometric file states of a lamp: its angular table, flux and watts where given."""

    format: str
    name: str
    table: TableSource
    lumens: float | None
    watts: float | None
    notes: tuple[str, ...]


def parse_photometric(data: bytes | str) -> PhotometricFile:
    """Read either format; an IES file is recognised by its first line.

    Raises
    ------
    FileFormatError
        Naming the line and field.
    """
    text = decoded(data)
    return parse_ies(text) if re.match(r"\s*IES", text) else parse_eulumdat(text)


# -- IES LM-63 ---------------------------------------------------------------------------------------


class _Numbers:
    """The numbers of the data part one after the other, each with its line."""

    def __init__(self, lines: list[str], first: int) -> None:
        self._words = [
            (word, at)
            for at, line in enumerate(lines[first:], start=first + 1)
            for word in re.split(r"[\s,]+", line.strip())
            if word
        ]
        self._next = 0
        self._last_line = len(lines)

    def take(self, field: str, low: float = -math.inf, high: float = math.inf) -> float:
        word, at = self._word(field)
        return number(word, at, field, low, high)

    def count(self, field: str, low: int, high: int) -> int:
        word, at = self._word(field)
        return whole(word, at, field, low, high)

    def rising(self, field: str, count: int) -> list[float]:
        found: list[float] = []
        for i in range(count):
            word, at = self._word(f"{field} {i + 1} of {count}")
            value = number(word, at, f"{field} {i + 1} of {count}", -360, 360)
            if found and value <= found[-1]:
                raise FileFormatError(f"{value:g} does not rise above {found[-1]:g}", at, field)
            found.append(value)
        return found

    @property
    def line(self) -> int:
        return self._words[self._next - 1][1] if self._next else 1

    def rest(self) -> int:
        return len(self._words) - self._next

    def _word(self, field: str) -> tuple[str, int]:
        if self._next >= len(self._words):
            raise FileFormatError("the file ends before this", self._last_line, field)
        self._next += 1
        return self._words[self._next - 1]


def parse_ies(text: str) -> PhotometricFile:
    """IES LM-63 of 1995, 2002 or 2019, photometry of type C.

    The table's bearing 0 is the file's horizontal angle 0, along the lamp's length.
    """
    lines = text.splitlines()
    if lines[0].strip() not in _IES_TITLES:
        known = ", ".join(_IES_TITLES)
        raise FileFormatError(f"{lines[0].strip()[:40]!r} is not known; must be {known}", 1, "title")
    name, tilt = "", None
    for at, line in enumerate(lines[1:], start=2):
        if line.startswith("[LUMINAIRE]") or (line.startswith("[LUMCAT]") and not name):
            name = line.split("]", 1)[1].strip()
        if line.startswith("TILT="):
            tilt = at
            break
    if tilt is None:
        raise FileFormatError("no line TILT= was found", None, "TILT")
    how = lines[tilt - 1][5:].strip()
    numbers = _Numbers(lines, tilt)
    if how == "INCLUDE":
        numbers.count("lamp to luminaire geometry", 1, 3)
        pairs = numbers.count("tilt angles", 1, MOST_ANGLES)
        for field in ("tilt angle", "tilt factor"):
            for _ in range(pairs):
                numbers.take(field)
    elif how != "NONE":
        raise FileFormatError(
            f"{how[:40]!r} names another file; only NONE and INCLUDE can be read", tilt, "TILT"
        )
    lamps = numbers.count("number of lamps", 1, 1000)
    per_lamp = numbers.take("lumens per lamp", -1, 1e7)
    multiplier = numbers.take("candela multiplier", 1e-9, 1e9)
    vertical = numbers.count("number of vertical angles", 2, MOST_ANGLES)
    horizontal = numbers.count("number of horizontal angles", 1, MOST_ANGLES)
    kind = numbers.count("photometric type", 1, 3)
    if kind != 1:
        raise FileFormatError("only type C (1) can be read", numbers.line, "photometric type")
    unit = FEET_M if numbers.count("units type", 1, 2) == 1 else 1.0
    width, length, _ = (numbers.take(f"luminaire {side}") * unit for side in ("width", "length", "height"))
    ballast = numbers.take("ballast factor", 1e-9, 1e3) * numbers.take("ballast-lamp factor", 1e-9, 1e3)
    watts = numbers.take("input watts", 0, 1e6)
    gamma = numbers.rising("vertical angle", vertical)
    at_gamma = numbers.line
    c = numbers.rising("horizontal angle", horizontal)
    at_c = numbers.line
    scale = multiplier * ballast
    most = MOST_CANDELA / scale
    rows = [
        [scale * numbers.take(f"candela at {c[i]:g}°, {gamma[j]:g}°", 0, most) for j in range(vertical)]
        for i in range(horizontal)
    ]
    notes = [f"{numbers.rest()} numbers after the table were not read."] if numbers.rest() else []
    gamma, rows = _from_nadir(gamma, rows, at_gamma, "vertical angle")
    bearings, full = _all_round(c, rows, at_c)
    lumens = None if per_lamp < 0 else lamps * per_lamp
    return PhotometricFile(
        lines[0].strip(),
        name,
        _table(length, width, bearings, gamma, full),
        lumens,
        watts or None,
        tuple(notes),
    )


def _all_round(c: list[float], rows: list[list[float]], line: int) -> tuple[list[float], list[list[float]]]:
    """Planes over a quarter, half or whole turn, mirrored to the whole turn."""
    if len(c) == 1:
        return [0.0], rows
    if c[0] == 90 and c[-1] == 270:
        # Symmetric about the plane from 90° to 270°.
        both = dict(zip(c, rows, strict=True))
        both |= {(180 - a) % 360: row for a, row in list(both.items())}
        angles = sorted(both)
        return _closed(angles, [both[a] for a in angles])
    if c[0] != 0 or c[-1] not in (90, 180, 360):
        raise FileFormatError(
            f"planes run from {c[0]:g} to {c[-1]:g}; must be 0 to 90, 180 or 360, or 90 to 270",
            line,
            "horizontal angle",
        )
    if c[-1] == 90:
        c, rows = c + [180 - a for a in c[-2::-1]], rows + rows[-2::-1]
    if c[-1] == 180:
        c, rows = c + [360 - a for a in c[-2::-1]], rows + rows[-2::-1]
    return c, rows


def _closed(angles: list[float], rows: list[list[float]]) -> tuple[list[float], list[list[float]]]:
    """Planes from 0 to 360 with the first repeated at the end."""
    if angles[0] != 0:
        raise FileFormatError(f"the first plane is at {angles[0]:g}; one at 0 is needed", None, "C angle")
    return ([*angles, 360.0], [*rows, rows[0]]) if angles[-1] < 360 else (angles, rows)


def _from_nadir(
    gamma: list[float], rows: list[list[float]], line: int, field: str
) -> tuple[list[float], list[list[float]]]:
    if gamma[0] != 0 or gamma[-1] > 180:
        raise FileFormatError(
            f"angles run from {gamma[0]:g} to {gamma[-1]:g}; must start at 0 (straight down), at most 180",
            line,
            field,
        )
    if not any(value > 0 for row in rows for value in row):
        raise FileFormatError("every intensity is 0", line, "intensity")
    return gamma, rows


def _table(
    length_m: float, width_m: float, c: list[float], gamma: list[float], rows: list[list[float]]
) -> TableSource:
    """A table on a disc of the same area as the lamp's opening; round ones have negative sizes (LM-63)."""
    length, width = abs(length_m), abs(width_m)
    if length_m > 0 and width_m > 0:
        diameter = 2 * math.sqrt(length * width / math.pi)
    else:
        diameter = max(length, width)
    return TableSource(
        diameter_m=min(max(diameter or _DEFAULT_DIAMETER_M, 0.005), 1.0),
        c_deg=tuple(c),
        gamma_deg=tuple(gamma),
        intensity=tuple(tuple(row) for row in rows),
    )


# -- EULUMDAT ----------------------------------------------------------------------------------------


class _Lines:
    """Lines of a file one after the other; each holds one value."""

    def __init__(self, text: str) -> None:
        self._lines = text.splitlines()
        self._next = 0

    def text(self, field: str) -> str:
        if self._next >= len(self._lines):
            raise FileFormatError("the file ends before this", self._next, field)
        self._next += 1
        return self._lines[self._next - 1].strip()

    def take(self, field: str, low: float = -math.inf, high: float = math.inf) -> float:
        return number(self.text(field).replace(",", "."), self._next, field, low, high)

    def count(self, field: str, low: int, high: int) -> int:
        return whole(self.text(field), self._next, field, low, high)

    def skip(self, count: int, field: str) -> None:
        for _ in range(count):
            self.text(field)

    def rising(self, field: str, count: int) -> list[float]:
        found = [self.take(f"{field} {i + 1} of {count}", 0, 360) for i in range(count)]
        for a, b in pairwise(found):
            if b <= a:
                raise FileFormatError(f"{b:g} does not rise above {a:g}", self._next, field)
        return found

    @property
    def line(self) -> int:
        return self._next


def parse_eulumdat(text: str) -> PhotometricFile:
    """EULUMDAT. The table's bearing 0 is plane C 90, which lies along the lamp's length."""
    lines = _Lines(text)
    lines.text("company")
    lines.count("type of luminaire", 0, 3)
    symmetry = lines.count("symmetry", 0, 4)
    planes = lines.count("number of C planes", 1, 721)
    lines.take("distance between C planes", 0, 360)
    angles = lines.count("number of G angles", 2, MOST_ANGLES)
    lines.take("distance between G angles", 0, 180)
    lines.text("report number")
    name = lines.text("luminaire name")
    lines.skip(3, "luminaire number, file name and date")
    lines.skip(3, "length, width and height")
    length = lines.take("length of luminous area", 0, 1e5) / 1000
    width = lines.take("width of luminous area", 0, 1e5) / 1000
    lines.skip(4, "heights of luminous area")
    lines.skip(2, "flux fraction and light output ratio")
    factor = lines.take("conversion factor", 1e-9, 1e9)
    lines.take("tilt")
    sets = lines.count("number of lamp sets", 1, 20)
    lines.skip(2 * sets, "lamps and their type")
    lumens = [lines.take("luminous flux", 0, 1e7) for _ in range(sets)]
    lines.skip(2 * sets, "colour")
    watts = [lines.take("watts", 0, 1e6) for _ in range(sets)]
    lines.skip(10, "direct ratios")
    c = lines.rising("C angle", planes)
    gamma = lines.rising("G angle", angles)
    at_gamma = lines.line
    given = _planes_given(symmetry, planes, lines.line)
    scale = factor * (lumens[0] or 1000.0) / 1000.0
    most = MOST_CANDELA / scale
    rows = [
        [scale * lines.take(f"intensity at C {c[k]:g}, G {g:g}", 0, most) for g in gamma] for k in given
    ]
    gamma, rows = _from_nadir(gamma, rows, at_gamma, "G angle")
    if symmetry == 1:
        bearings, full = [0.0], rows
    else:
        bearings, full = _turned(*_unfolded(symmetry, [c[k] for k in given], rows))
    table = _table(length, width, bearings, gamma, full)
    return PhotometricFile("EULUMDAT", name, table, lumens[0] or None, watts[0] or None, ())


def _planes_given(symmetry: int, planes: int, line: int) -> list[int]:
    """Which planes the file gives intensities for."""
    if symmetry == 1:
        return [0]
    if symmetry == 0:
        return list(range(planes))
    if planes % (4 if symmetry != 2 else 2):
        raise FileFormatError(f"{planes} planes do not fit symmetry {symmetry}", line, "number of C planes")
    if symmetry == 2:
        return list(range(planes // 2 + 1))
    if symmetry == 4:
        return list(range(planes // 4 + 1))
    first = 3 * planes // 4
    return [(first + k) % planes for k in range(planes // 2 + 1)]


def _unfolded(
    symmetry: int, c: list[float], rows: list[list[float]]
) -> tuple[list[float], list[list[float]]]:
    """All planes of a whole turn from those given by a symmetry."""
    table = dict(zip(c, rows, strict=True))
    if symmetry in (2, 4):
        table |= {(360 - a) % 360: row for a, row in list(table.items())}
    if symmetry in (3, 4):
        table |= {(180 - a) % 360: row for a, row in list(table.items())}
    angles = sorted(table)
    return _closed(angles, [table[a] for a in angles])


def _turned(c: list[float], rows: list[list[float]]) -> tuple[list[float], list[list[float]]]:
    """Planes counted from C 90, along the lamp's length; a plane there is made if there is none."""
    table = dict(zip(((a - 90) % 360 for a in c[:-1]), rows[:-1], strict=True))
    if 0.0 not in table:
        later = next(i for i, a in enumerate(c) if a > 90)
        share = (90 - c[later - 1]) / (c[later] - c[later - 1])
        table[0.0] = [
            a * (1 - share) + b * share for a, b in zip(rows[later - 1], rows[later], strict=True)
        ]
    angles = sorted(table)
    return _closed(angles, [table[a] for a in angles])
