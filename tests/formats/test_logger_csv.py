"""Files of loggers in every shape they come in: guessed, read, and refused row by row with a reason."""

from __future__ import annotations

import contextlib
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from noonshade.formats.logger_csv import LoggerMapping, guess_mapping, read_logger
from noonshade.formats.moments import MomentError, guess_order, in_utc, looks_like_moment, read_moment
from noonshade.formats.text_file import FileFormatError

BERLIN = "Europe/Berlin"
PLAIN = "2026-03-14 08:00,21.5,45\n2026-03-14 08:10,21.6,46\n2026-03-14 08:20,21.7,47\n"

SHAPES = {
    "plain": PLAIN,
    "titles, °F, month first": (
        "Millrace logger 3\nSerial;none\n\n"
        '"#","Date-Time (CET)","Temperature (°F)","RH (%)"\n'
        '1,"03/14/2026 08:00:00 AM",70.70,45\n'
        '2,"03/14/2026 08:10:00 AM",70.88,46\n'
        '3,"03/14/2026 08:20:00 AM",71.06,47\n'
    ),
    "semicolons and decimal commas": (
        "Datum;Zeit;Temperatur °C;Feuchte %rF\n"
        "14.03.2026;08:00;21,5;45,0\n14.03.2026;08:10;21,6;46,0\n14.03.2026;08:20;21,7;47,0\n"
    ),
    "tabs, humidity first, dew point beside": (
        "time\tHumidity\tDew point\tTemp. C\n"
        "2026-03-14T07:00:00Z\t45\t9.1\t21.5\n"
        "2026-03-14T07:10:00Z\t46\t9.4\t21.6\n"
        "2026-03-14T07:20:00Z\t47\t9.7\t21.7\n"
    ),
    "offset, units behind the values": (
        "when|t|h\n2026-03-14T08:00:00+01:00|21.5 °C|45 %\n"
        "2026-03-14T08:10:00+01:00|21.6 °C|46 %\n2026-03-14T08:20:00+01:00|21.7 °C|47 %\n"
    ),
    "seconds since 1970, running number": (
        "no,epoch,temp,rh\n7,1773471600,21.5,45\n8,1773472200,21.6,46\n9,1773472800,21.7,47\n"
    ),
    "names of months": (
        "Time,Temp(C),Hum\n14-Mar-2026 8:00,21.5,45\n14-Mar-2026 8:10,21.6,46\n14-Mar-2026 8:20,21.7,47\n"
    ),
    "titles again and empty lines": (
        "Time,Temp C,RH\n2026-03-14 08:00,21.5,45\n\nTime,Temp C,RH\n2026-03-14 08:10,21.6,46\n"
        ",,\n2026-03-14 08:20,21.7,47\n"
    ),
}


@pytest.mark.parametrize("shape", SHAPES)
def test_every_shape_is_guessed_and_says_the_same(shape: str) -> None:
    guess = guess_mapping(SHAPES[shape], BERLIN)
    read = read_logger(SHAPES[shape], guess.mapping)
    assert read.refused == ()
    assert [r.at for r in read.rows] == [datetime(2026, 3, 14, 7, m, tzinfo=UTC) for m in (0, 10, 20)]
    assert [r.temperature_c for r in read.rows] == pytest.approx([21.5, 21.6, 21.7], abs=0.01)
    assert [r.relative_humidity for r in read.rows] == pytest.approx([0.45, 0.46, 0.47])
    assert read.step == timedelta(minutes=10)
    assert read.gaps == ()


def test_what_is_doubtful_is_said() -> None:
    either = "03/04/2026 08:00,21.5\n03/04/2026 08:10,21.6\n"
    guess = guess_mapping(either, BERLIN)
    assert guess.mapping.order == "dmy"
    assert any("day first or month first" in d for d in guess.doubts)
    assert any("°C or °F" in d for d in guess.doubts)
    sure = guess_mapping("Temp C,When\n21.5,2026-04-13 08:00\n21.6,2026-04-13 08:10\n", BERLIN)
    assert sure.doubts == ()
    assert (sure.mapping.temperature, sure.mapping.time, sure.mapping.humidity) == (0, 1, None)
    # Days past the twelfth, or days that run on, tell the order.
    assert guess_order(["04/03/2026", "04/13/2026"]) == ("mdy", False)
    assert guess_order(["03/04/2026 23:50", "04/04/2026 00:00"])[0] == "dmy"
    assert guess_order(["03/31/2026 23:50", "04/01/2026 00:00"])[0] == "mdy"


def test_a_wrong_row_is_named_and_the_others_are_read() -> None:
    text = (
        "Time,Temp C,RH\n2026-03-14 08:00,21.5,45\n2026-03-14 08:10,err,46\n2026-13-14 08:20,21.7,47\n"
        "2026-03-14 08:30\n2026-03-14 08:40,900,47\n2026-03-14 08:50,21.8,147\n2026-03-14 25:00,21.8,47\n"
        "2026-03-14 09:00,21.9,48\n"
    )
    mapping = guess_mapping(text, BERLIN).mapping
    read = read_logger(text, mapping)
    assert [r.line for r in read.rows] == [2, 9]
    reasons = {r.line: r.reason for r in read.refused}
    assert "'err' is no temperature" in reasons[3]
    assert "month must be in 1..12" in reasons[4]
    assert "1 columns" in reasons[5]
    assert "900 °C is no temperature" in reasons[6]
    assert "147 % is no humidity" in reasons[7]
    assert "hour must be in 0..23" in reasons[8]


def test_gaps_are_found() -> None:
    text = "2026-03-14 08:00,21.5\n2026-03-14 08:10,21.6\n2026-03-14 12:00,21.7\n2026-03-14 12:10,21.7\n"
    read = read_logger(text, guess_mapping(text, "UTC").mapping)
    assert read.gaps == (
        (datetime(2026, 3, 14, 8, 10, tzinfo=UTC), datetime(2026, 3, 14, 12, 0, tzinfo=UTC)),
    )


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "empty"),
        ("  \n \n", "empty"),
        ("a\0b", "not a text file"),
        ("x" * 8_000_001, "larger than 8 MB"),
        ("hello\nworld\n", "no row with a date and a number"),
        ("1,2,3\n4,5,6\n", "no row with a date and a number"),
    ],
)
def test_what_is_no_file_of_a_logger_is_refused_whole(text: str, words: str) -> None:
    with pytest.raises(FileFormatError, match=words):
        guess_mapping(text, BERLIN)


def test_an_unknown_zone_is_named() -> None:
    mapping = guess_mapping(PLAIN, BERLIN).mapping
    for zone in ("Mars/Base", "../etc/passwd", ""):
        wrong = LoggerMapping(**{**{k: getattr(mapping, k) for k in mapping.__slots__}, "zone": zone})
        with pytest.raises(FileFormatError, match="no time zone"):
            read_logger(PLAIN, wrong)


def test_the_hour_that_comes_twice_in_autumn_runs_on() -> None:
    """On 25 October 2026 clocks in Berlin go from 3:00 back to 2:00."""
    zone = ZoneInfo(BERLIN)
    before: datetime | None = None
    found = []
    for clock in ("01:30", "02:00", "02:30", "02:00", "02:30", "03:00"):
        moment = in_utc(read_moment(f"2026-10-25 {clock}", "ymd"), zone, before)
        found.append(moment)
        before = moment
    assert found == [
        datetime(2026, 10, 24, 23, 30, tzinfo=UTC) + timedelta(minutes=30 * i) for i in range(6)
    ]
    # In spring the hour that is missing leaves no gap in UTC.
    spring = [in_utc(read_moment(f"2026-03-29 {c}", "ymd"), zone, None) for c in ("01:50", "03:00")]
    assert spring[1] - spring[0] == timedelta(minutes=10)


@given(
    moment=st.datetimes(datetime(2001, 1, 1), datetime(2099, 12, 31)),
    style=st.sampled_from(
        [
            ("%Y-%m-%d %H:%M:%S", "ymd"),
            ("%d.%m.%Y %H:%M:%S", "dmy"),
            ("%m/%d/%Y %I:%M:%S %p", "mdy"),
            ("%d/%m/%y %H.%M.%S", "dmy"),
            ("%Y/%m/%dT%H:%M:%SZ", "mdy"),
        ]
    ),
)
@settings(max_examples=200)
def test_any_moment_written_in_an_order_is_read_back(moment: datetime, style: tuple[str, str]) -> None:
    text = moment.strftime(style[0])
    assert looks_like_moment(text)
    read = read_moment(text, style[1])  # type: ignore[arg-type]
    assert read.replace(tzinfo=None) == moment.replace(microsecond=0)


@given(st.text(max_size=60))
@settings(max_examples=200)
def test_no_text_is_more_than_refused(text: str) -> None:
    with contextlib.suppress(FileFormatError):
        read_logger(text, guess_mapping(text, BERLIN).mapping)
    with contextlib.suppress(MomentError):
        read_moment(text, "dmy")


def test_a_logger_file_of_a_year_is_read_whole_over_the_clock_changes() -> None:
    start = datetime(2025, 1, 1)
    text = "Time,Temp C,RH\n" + "".join(
        f"{(start + timedelta(minutes=10 * i)):%Y-%m-%d %H:%M},{20 + i % 10 / 10},{45}\n"
        for i in range(52_560)
    )
    read = read_logger(text, guess_mapping(text, BERLIN).mapping)
    # One hour comes twice in autumn; every row has a separate time.
    assert len(read.rows) == 52_560
    assert read.refused == ()
    assert read.rows[-1].at > read.rows[0].at + timedelta(days=364)
