"""Spectra as CSV: wavelength in nm, and spectral irradiance."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

from noonshade.formats.text_file import FileFormatError, decoded, number, table_rows

MOST_ROWS = 20_000
FIELDS = ("wavelength_nm", "irradiance")


@dataclass(frozen=True, slots=True)
class SpectrumFile:
    """Columns of a spectrum, and what could not be determined from it."""

    wavelength_nm: tuple[float, ...]
    irradiance: tuple[float, ...]
    notes: tuple[str, ...]


def parse_spectrum(data: bytes | str) -> SpectrumFile:
    """Read two columns: wavelength in nm and irradiance (W/m²/nm, or relative).

    Columns are split by comma, semicolon or tab; with semicolon or tab, numbers may have a decimal comma.
    One heading line and lines that start with # are passed over.

    Raises
    ------
    FileFormatError
        Naming the line and field.
    """
    text = decoded(data)
    lines = text.splitlines()
    body = next((row for row in lines if row.strip() and not row.lstrip().startswith("#")), "")
    split = "\t" if "\t" in body else ";" if ";" in body else ","
    nm: list[float] = []
    values: list[float] = []
    heading = False
    for at, row in table_rows(text, split):
        if not any(cell.strip() for cell in row) or row[0].lstrip().startswith("#"):
            continue
        cells = [cell.strip().replace(",", ".") if split != "," else cell.strip() for cell in row]
        if not nm and not heading and not _numeric(cells[0]):
            heading = True
            continue
        if len(cells) < 2 or not cells[1]:
            raise FileFormatError("two columns are needed: wavelength in nm, and irradiance", at)
        wavelength = number(cells[0], at, FIELDS[0], 100.0, 5000.0)
        value = number(cells[1], at, FIELDS[1], 0.0)
        if nm and wavelength <= nm[-1]:
            raise FileFormatError(f"{wavelength:g} nm does not rise above {nm[-1]:g} nm", at, FIELDS[0])
        nm.append(wavelength)
        values.append(value)
        if len(nm) > MOST_ROWS:
            raise FileFormatError(f"a spectrum has at most {MOST_ROWS} rows", at)
    if len(nm) < 2:
        raise FileFormatError("a spectrum needs at least two rows of numbers")
    if nm[-1] < 290 or nm[0] > 330:
        raise FileFormatError(
            f"the spectrum runs from {nm[0]:g} to {nm[-1]:g} nm; UVB lies between 280 and 320 nm"
        )
    return SpectrumFile(tuple(nm), tuple(values), tuple(_notes(nm)))


def _notes(nm: list[float]) -> list[str]:
    notes = []
    if nm[0] > 285:
        notes.append(f"It starts at {nm[0]:g} nm, so nothing can be said of energy below 290 nm.")
    if nm[-1] < 400:
        notes.append(f"It ends at {nm[-1]:g} nm; what lies up to 400 nm is missing from the UV index.")
    widest = max(b - a for a, b in pairwise(nm))
    if widest > 5:
        notes.append(f"Rows are up to {widest:g} nm apart; 1 nm or less is usual.")
    return notes


def _numeric(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True
