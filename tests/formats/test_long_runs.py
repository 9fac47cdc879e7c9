"""Readers of files take time in proportion to what they read, whatever it is made of."""

from __future__ import annotations

import contextlib
import time
from collections.abc import Callable
from datetime import date
from statistics import median

import pytest

from noonshade.core.care.recurrence import Rule, check_rule
from noonshade.formats.document import DocumentError
from noonshade.formats.lamp_document import parse_lamp
from noonshade.formats.logger_csv import LONGEST_LINE, guess_mapping, read_logger
from noonshade.formats.moments import LONGEST, guess_order, looks_like_moment, read_moment
from noonshade.formats.photometric import parse_photometric
from noonshade.formats.plan_document import parse_plan
from noonshade.formats.readings_csv import read_readings_csv
from noonshade.formats.species_document import parse_species
from noonshade.formats.spectrum_csv import parse_spectrum
from noonshade.formats.text_file import LONGEST_CELL, FileFormatError, named_rows, table_rows

DATA = "2026-03-14 08:00,21.5,45\n2026-03-14 08:10,21.6,46\n2026-03-14 08:20,21.7,47\n"
MAPPING = guess_mapping(DATA, "UTC").mapping
READERS: dict[str, Callable[[str], object]] = {
    "moment": lambda t: read_moment(t, "dmy"),
    "looks like a moment": looks_like_moment,
    "order of dates": lambda t: guess_order([t, t]),
    "guess of a logger": lambda t: guess_mapping(f"{DATA}{t}\n", "UTC"),
    "first line of a logger": lambda t: guess_mapping(f"{t}\n{DATA}", "UTC"),
    "row of a logger": lambda t: read_logger(f"{DATA}{t},21.5,45\n", MAPPING),
    "number of a logger": lambda t: read_logger(f"{DATA}2026-03-14 09:00,21{t},45\n", MAPPING),
    "readings": lambda t: read_readings_csv(f"kind,value\n{t},1\nuvi,{t}\n"),
    "spectrum": lambda t: parse_spectrum(f"290,{t}\n{t}"),
    "photometry IES": lambda t: parse_photometric(f"IESNA:LM-63-2002\nTILT=NONE\n{t}\n1 {t} 1\n"),
    "photometry EULUMDAT": lambda t: parse_photometric(f"{t}\n1\n2\n{t}\n"),
    "plan": parse_plan,
    "species": parse_species,
    "lamp": parse_lamp,
    "recurrence": lambda t: check_rule(Rule(t, date(2026, 3, 14))),
}
RUNS = {
    "blanks": " ",
    "tabs": "\t",
    "no-break blanks": "\u00a0",
    "digits": "1",
    "letters": "C",
    "am": "am ",
    "degrees": "°",
    "degrees and blanks": "° ",
    "signs": "+-",
    "points": "1.",
    "commas": ",",
    "semicolons": ";",
    "colons": "1:",
    "slashes": "1/",
    "quotes": '"',
    "lines": "\n",
    "brackets": "[",
    "braces": '{"a":',
    "other": "\u2028é",
}
SHORT, LONG = 4_000, 64_000
# A run so many times as long may take so much more: three times what is in proportion, where its square
# would be 16 times; and what clocks cannot tell.
MOST_TIMES, CLOCK_S = 3.0 * LONG / SHORT, 0.05


def seconds(read: Callable[[str], object], text: str) -> float:
    """The median of three."""
    taken = []
    for _ in range(3):
        begun = time.process_time()
        with contextlib.suppress(ValueError, FileFormatError, DocumentError):
            read(text)
        taken.append(time.process_time() - begun)
    return median(taken)


@pytest.mark.parametrize("reader", READERS)
def test_no_reader_takes_more_than_in_proportion(reader: str) -> None:
    read = READERS[reader]
    for name, piece in RUNS.items():
        for head, tail in (("", ""), ("2026-03-14 08:00", "x"), ("21.5", "%x")):
            short = head + piece * (SHORT // len(piece)) + tail
            before = seconds(read, short)
            assert before < 0.5, f"{name}: {before:.2f} s for {len(short)} characters"
            long = head + piece * (LONG // len(piece)) + tail
            assert seconds(read, long) < MOST_TIMES * before + CLOCK_S, name


def test_moments_may_have_many_blanks_but_not_any_number_of_them() -> None:
    written = "  2026-03-14   08:00  am   "
    assert read_moment(written, "ymd").hour == 8
    assert looks_like_moment(written)
    assert not looks_like_moment("2026-03-14" + " " * 5 * LONGEST + "08:00")


def test_a_line_that_is_too_long_is_refused_by_its_number_and_holds_up_no_other() -> None:
    read = read_logger(f"{DATA}2026-03-14 08:30,{'9' * LONGEST_LINE},40\n2026-03-14 08:40,22,48\n", MAPPING)
    assert [row.temperature_c for row in read.rows] == [21.5, 21.6, 21.7, 22.0]
    (refused,) = read.refused
    assert refused.line == 4
    assert "characters; at most" in refused.reason


def test_a_cell_that_is_too_long_is_refused_by_its_line() -> None:
    for length in (LONGEST_CELL + 1, 140_000):
        with pytest.raises(FileFormatError, match="line 2") as caught:
            read_readings_csv(f"kind,value,note\nuvi,2,{'x' * length}\n")
        assert caught.value.line == 2


def test_tables_keep_the_numbers_of_their_lines_and_fill_short_rows() -> None:
    assert list(table_rows('a,b\n\n"x\ny",2\n3')) == [(1, ["a", "b"]), (3, ["x\ny", "2"]), (5, ["3"])]
    columns, rows = named_rows("\ufeffa,b\n1\n2,3,4\n")
    assert columns == ("a", "b")
    assert list(rows) == [(2, {"a": "1", "b": ""}), (3, {"a": "2", "b": "3"})]
    with pytest.raises(FileFormatError, match="line 2: not written as a table"):
        list(table_rows(f"a\n{'x' * 131_073}"))
