"""Spectra and photometric files: what they say, and what is said of broken ones."""

from __future__ import annotations

import math

import numpy as np
import pytest

from noonshade.core.light.action import erythema, spectrum_figures, vitamin_d3
from noonshade.core.light.sources import UP, emitter
from noonshade.formats.photometric import parse_eulumdat, parse_ies, parse_photometric
from noonshade.formats.spectrum_csv import parse_spectrum
from noonshade.formats.text_file import FileFormatError

GAMMA = [0, 30, 60, 90]
COSINE = [math.cos(math.radians(g)) for g in GAMMA]


def ies(c: list[float], rows: list[list[float]], /, **changes: str) -> str:
    """A small LM-63 file; changes replace single lines by name."""
    lines = {
        "title": "IESNA:LM-63-2002",
        "luminaire": "[LUMINAIRE] Bench bar of the Millrace room",
        "tilt": "TILT=NONE",
        "head": f"1 1000 1.0 {len(GAMMA)} {len(c)} 1 2 0.10 0.60 0.0",
        "power": "1.0 1.0 20.0",
        "gamma": " ".join(map(str, GAMMA)),
        "c": " ".join(map(str, c)),
        **{f"row{i}": " ".join(f"{v:g}" for v in row) for i, row in enumerate(rows)},
    }
    lines.update(changes)
    return "\n".join(lines.values()) + "\n"


def ldt(symmetry: int, planes: list[float], rows: list[list[float]], /, **changes: str) -> str:
    """A small EULUMDAT file; changes replace single lines by name."""
    lines = {
        "company": "Millrace",
        "type": "1",
        "symmetry": str(symmetry),
        "planes": str(len(planes)),
        "dc": "90",
        "angles": str(len(GAMMA)),
        "dg": "30",
        "report": "",
        "name": "Bench bar",
        "number": "",
        "file": "bar.ldt",
        "date": "",
        **{f"size{i}": v for i, v in enumerate(("600", "100", "50", "600", "100", "0", "0", "0", "0"))},
        "dff": "100",
        "lorl": "100",
        "factor": "1",
        "tilt": "0",
        "sets": "1",
        "lamps": "1",
        "kind": "LED",
        "flux": "2000",
        "colour": "6500",
        "cri": "1A",
        "watts": "20",
        **{f"dr{i}": "0.5" for i in range(10)},
        **{f"c{i}": f"{c:g}" for i, c in enumerate(planes)},
        **{f"g{i}": f"{g:g}" for i, g in enumerate(GAMMA)},
        **{f"i{k}-{j}": f"{v:g}" for k, row in enumerate(rows) for j, v in enumerate(row)},
    }
    lines.update(changes)
    return "\r\n".join(lines.values()) + "\r\n"


# -- spectra -----------------------------------------------------------------------------------------


def test_previtamin_d3_action_spectrum() -> None:
    assert vitamin_d3([298, 252, 310, 330]) == pytest.approx([1, 0.036, 0.22, 7.8e-5])
    assert vitamin_d3(298.5) == pytest.approx(math.sqrt(0.977))
    assert vitamin_d3([251, 331]).tolist() == [0, 0]


def test_a_spectrum_of_known_uv_index() -> None:
    """A flat 1 mW/m²/nm from 290 to 400 nm: both integrals of the action spectrum are exact."""
    nm = np.arange(290.0, 401.0)
    middle = (1 - 10 ** (-0.094 * 30)) / (0.094 * math.log(10))
    tail = (10 ** (0.015 * (140 - 328)) - 10 ** (0.015 * (140 - 400))) / (0.015 * math.log(10))
    expected = 40 * 1e-3 * (8 + middle + tail)
    figures = spectrum_figures(nm, np.full(nm.size, 1e-3))
    assert figures.uvi == pytest.approx(expected, rel=1e-3)
    assert figures.below_290_share == 0
    assert not figures.unlike_sunlight
    # Coarse rows of a flat spectrum are weighed no worse.
    assert spectrum_figures([290, 400], [1e-3, 1e-3]).uvi == pytest.approx(expected, rel=1e-3)


def test_the_ratios_do_not_depend_on_the_scale() -> None:
    nm = np.arange(280.0, 401.0)
    shape = np.exp(-(((nm - 310) / 12) ** 2))
    one, thousand = spectrum_figures(nm, shape), spectrum_figures(nm, 1000 * shape)
    assert one.d3_ratio == pytest.approx(thousand.d3_ratio)
    assert one.below_290_share == pytest.approx(thousand.below_290_share)
    assert thousand.uvi == pytest.approx(1000 * one.uvi)
    weight = float(np.trapezoid(shape * erythema(nm), nm))
    assert one.d3_effective_w_m2 == pytest.approx(one.d3_ratio * weight, rel=0.01)


def test_energy_below_290_nm_is_warned_of() -> None:
    nm = np.arange(250.0, 401.0)
    lamp = np.exp(-(((nm - 312) / 10) ** 2)) + 0.5 * np.exp(-(((nm - 270) / 6) ** 2))
    figures = spectrum_figures(nm, lamp)
    assert figures.unlike_sunlight
    assert figures.below_290_share > 0.4


@pytest.mark.parametrize(
    "text", ["nm,W\n290,0.1\n291,0.2\n", "# hall\n290;0,1\n291;0,2\n", "290\t0.1\n\n291\t0.2"]
)
def test_spectrum_columns(text: str) -> None:
    read = parse_spectrum(text)
    assert read.wavelength_nm == (290, 291)
    assert read.irradiance == (0.1, 0.2)
    assert any("below 290" in note for note in read.notes)
    assert any("up to 400" in note for note in read.notes)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "empty"),
        ("a\0b", "not a text file"),
        ("nm,W\n290,0.1\n291,much\n", "line 3, irradiance: 'much' is not a number"),
        ("nm,W\n290,0.1\n289,0.2\n", "line 3, wavelength_nm: 289 nm does not rise above 290 nm"),
        ("290,0.1\n291,-1\n", "line 2, irradiance: -1; must be at least 0"),
        ("290,0.1\n291,nan\n", "line 2, irradiance: nan is not a finite number"),
        ("290\n291\n", "line 1: two columns"),
        ("290,1\n", "at least two rows"),
        ("400,1\n700,1\n", "UVB lies between"),
        ("9,1\n700,1\n", "line 1, wavelength_nm: 9; must be 100 to 5000"),
    ],
)
def test_broken_spectra_are_named_by_line_and_field(text: str, words: str) -> None:
    with pytest.raises(FileFormatError) as error:
        parse_spectrum(text)
    assert words in str(error.value)


# -- IES LM-63 ---------------------------------------------------------------------------------------


def test_ies_by_symmetry() -> None:
    one = parse_ies(ies([0], [COSINE]))
    assert (one.name, one.lumens, one.watts) == ("Bench bar of the Millrace room", 1000, 20)
    assert one.table.c_deg == (0,)
    assert one.table.intensity[0] == pytest.approx(COSINE)
    assert one.table.diameter_m == pytest.approx(2 * math.sqrt(0.06 / math.pi))
    rows = [[3, 2, 1, 0], [2, 1, 1, 0], [1, 1, 1, 0]]
    quarter = parse_ies(ies([0, 45, 90], rows)).table
    assert quarter.c_deg == (0, 45, 90, 135, 180, 225, 270, 315, 360)
    assert [row[0] for row in quarter.intensity] == [3, 2, 1, 2, 3, 2, 1, 2, 3]
    half = parse_ies(ies([0, 90, 180], rows)).table
    assert half.c_deg == (0, 90, 180, 270, 360)
    assert [row[0] for row in half.intensity] == [3, 2, 1, 2, 3]
    across = parse_ies(ies([90, 180, 270], rows)).table
    assert across.c_deg == (0, 90, 180, 270, 360)
    assert [row[0] for row in across.intensity] == [2, 3, 2, 1, 2]


def test_ies_table_shines_as_it_says() -> None:
    table = parse_photometric(ies([0], [COSINE])).table
    source = emitter(table)
    down = float(source.at((0, 0, 0), np.array([[0.0, 0.0, -3.0]]), UP[None])[1][0])
    # A cosine gives I₀ = 1/π per watt; the table is linear between its angles.
    assert down * 9 == pytest.approx(1 / math.pi, rel=0.05)


def test_ies_scales_and_tilt() -> None:
    table = parse_ies(ies([0], [COSINE], power="0.5 1.0 20.0")).table
    assert table.intensity[0][0] == pytest.approx(0.5)
    tilted = ies([0], [COSINE], tilt="TILT=INCLUDE\n1\n2\n0 90\n1 1")
    assert parse_ies(tilted).table.intensity[0][0] == 1
    feet = parse_ies(ies([0], [COSINE], head="1 1000 1.0 4 1 1 1 1 1 0"))
    assert feet.table.diameter_m == pytest.approx(2 * 0.3048 / math.sqrt(math.pi))


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"title": "IESNA:LM-63-1890"}, "line 1, title"),
        ({"tilt": "TILT"}, "TILT: no line TILT="),
        ({"tilt": "TILT=lamp.tlt"}, "line 3, TILT: 'lamp.tlt' names another file"),
        ({"head": "1 1000 1.0 4 1 2 2 0 0 0"}, "line 4, photometric type: only type C"),
        ({"head": "1 1000 zero 4 1 1 2 0 0 0"}, "line 4, candela multiplier: 'zero' is not a number"),
        ({"head": "1 1000 1 1 1 1 2 0 0 0"}, "line 4, number of vertical angles: 1; must be 2 to 400"),
        ({"head": "1 1000 1 2.5 1 1 2 0 0 0"}, "2.5 is not a whole number"),
        ({"gamma": "0 30 20 90"}, "line 6, vertical angle: 20 does not rise above 30"),
        ({"gamma": "90 120 150 180"}, "line 6, vertical angle: angles run from 90 to 180"),
        ({"row0": "1 2 3"}, "candela at 0°, 90°: the file ends before this"),
        ({"row0": "1 2 -3 4"}, "line 8, candela at 0°, 60°: -3; must be 0 to 1e+09"),
        ({"row0": "0 0 0 0"}, "every intensity is 0"),
    ],
)
def test_broken_ies_files_are_named_by_line_and_field(changes: dict[str, str], words: str) -> None:
    with pytest.raises(FileFormatError) as error:
        parse_ies(ies([0], [COSINE], **changes))
    assert words in str(error.value)


def test_ies_planes_that_fit_no_symmetry() -> None:
    with pytest.raises(FileFormatError, match="planes run from 0 to 120"):
        parse_ies(ies([0, 120], [COSINE, COSINE]))


# -- EULUMDAT ----------------------------------------------------------------------------------------


def test_eulumdat_by_symmetry() -> None:
    planes = [0.0, 90.0, 180.0, 270.0]
    one = parse_photometric(ldt(1, planes, [COSINE]))
    assert (one.format, one.lumens, one.watts, one.name) == ("EULUMDAT", 2000, 20, "Bench bar")
    # cd per 1000 lm, of 2000 lm.
    assert one.table.intensity[0] == pytest.approx([2 * v for v in COSINE])
    rows = [[4, 1, 1, 0], [3, 1, 1, 0], [2, 1, 1, 0], [1, 1, 1, 0]]

    def first(symmetry: int, kept: int) -> list[float]:
        table = parse_eulumdat(ldt(symmetry, planes, rows[:kept])).table
        assert table.c_deg == (0, 90, 180, 270, 360)
        return [row[0] / 2 for row in table.intensity]

    # Bearing 0 of the table is C 90, along the lamp.
    assert first(0, 4) == [3, 2, 1, 4, 3]
    assert first(2, 3) == [3, 2, 3, 4, 3]
    assert first(3, 3) == [2, 3, 4, 3, 2]
    assert first(4, 2) == [3, 4, 3, 4, 3]


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"symmetry": "7"}, "line 3, symmetry: 7; must be 0 to 4"),
        ({"angles": "x"}, "line 6, number of G angles: 'x' is not a number"),
        ({"sets": "0"}, "line 26, number of lamp sets"),
        ({"g2": "10"}, "G angle: 10 does not rise above 30"),
        ({"g0": "5"}, "must start at 0"),
        ({"i0-3": "-1"}, "intensity at C 0, G 90: -1; must be 0 to 5e+08"),
        ({"i0-3": "\x1a"}, "is not a number"),
    ],
)
def test_broken_eulumdat_files_are_named_by_line_and_field(changes: dict[str, str], words: str) -> None:
    with pytest.raises(FileFormatError) as error:
        parse_eulumdat(ldt(1, [0.0, 90.0, 180.0, 270.0], [COSINE], **changes))
    assert words in str(error.value)


def test_eulumdat_cut_short_says_what_is_missing() -> None:
    whole = ldt(0, [0.0, 90.0, 180.0, 270.0], [COSINE] * 4)
    for kept in (1, 10, 27, 50, 60):
        with pytest.raises(FileFormatError, match="the file ends before this"):
            parse_eulumdat("\n".join(whole.splitlines()[:kept]))
    with pytest.raises(FileFormatError, match="3 planes do not fit symmetry 4"):
        parse_eulumdat(ldt(4, [0.0, 90.0, 180.0], [COSINE] * 2))
