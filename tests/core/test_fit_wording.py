"""What a fit says of an enclosure, and what probably went wrong with an unusual reading."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import numpy as np
import pytest

from noonshade.core.evaluate import Evaluation
from noonshade.core.phrase import Phrase, plain_text
from noonshade.core.probe import probe
from noonshade.core.readings.fit import Bias, Fit, FittedMultiplier, Residual
from noonshade.core.readings.fit_wording import bias_in_words, describe_fit, in_words, likely_cause
from noonshade.core.readings.reading import Kind, Reading
from noonshade.core.uncertainty.multipliers import Multiplier, multipliers_of
from tests.builders import shipped_plan
from tests.evaluated import evaluate

COOL = (1.0, 0.3, 0.12)


@cache
def enclosure() -> Evaluation:
    return evaluate(shipped_plan("collared-lizard"))


def found(*multipliers: FittedMultiplier) -> Fit:
    return Fit(enclosure().plan, enclosure(), multipliers, (), (), np.zeros((0, 0)), 1.0, 1)


def cause(
    kind: Kind,
    value: float,
    said: float,
    at: tuple[float, float, float] | None = COOL,
    sigma: float = 0.05,
) -> str:
    return plain_text(likely_cause(found(), Residual(Reading("r", kind, value, at), said, said, sigma)))


def test_a_reading_that_agrees_has_no_cause() -> None:
    assert cause("surface", 30.1, 30.0, sigma=1.0) == ""


@pytest.mark.parametrize(
    ("kind", "value", "said", "words"),
    [
        ("uvi_facing", 0.1, 3.0, "is the lamp on"),
        ("uvi_facing", 30.0, 3.0, "decimal point"),
        ("uvi_level", 0.3, 2.9, "Nearly no UV"),
        ("uvi_facing", 6.0, 3.0, "nearer to the lamp"),
        ("uvi_facing", 1.5, 3.0, "farther away"),
        ("humidity", 0.9, 0.4, "quarter of an hour"),
        # 95 °F read where 35 °C is said, and the other way round.
        ("surface", 95.0, 35.0, "the other unit"),
        ("air", -1.0, 30.0, "the other unit"),
        ("room_air", 27.0, 20.0, "in the sun, by a window"),
        ("surface", 60.0, 48.0, "nearer to the middle of the beam"),
        ("air", 21.0, 27.0, "not yet warm"),
    ],
)
def test_what_probably_went_wrong(kind: Kind, value: float, said: float, words: str) -> None:
    assert words in cause(kind, value, said)


def test_a_probe_in_the_beam_and_one_in_the_shade() -> None:
    slab = next(p for p in enclosure().places if p.kind == "basking").position_m
    assert probe(enclosure(), slab).irradiance_w_m2 > 60.0
    assert "hung in the beam" in cause("air", 45.0, 31.0, slab)
    assert "near the lamp, or against" in cause("air", 33.0, 24.0)


def test_a_surface_read_at_the_temperature_of_its_air() -> None:
    slab = next(p for p in enclosure().places if p.kind == "basking").position_m
    air = probe(enclosure(), slab).air_c
    assert "temperature of the air there" in cause("surface", air + 0.5, air + 18.0, slab)
    assert "a wide spot" in cause("surface", air + 8.0, air + 18.0, slab)


def _said(m: Multiplier, value: float) -> str:
    return plain_text(in_words(enclosure().plan, FittedMultiplier(m, value, m.sigma, 0.2 * m.sigma)))


@pytest.mark.parametrize("m", multipliers_of(shipped_plan("collared-lizard")), ids=lambda m: m.id)
def test_a_multiplier_is_worded_either_way_and_unchanged(m: Multiplier) -> None:
    step = 2.0 if m.additive else 0.4
    up, down, same = _said(m, step), _said(m, -step), _said(m, 0.0)
    assert len({up, down, same}) == 3
    if m.additive:
        assert "2.0 °C" in up
        assert "2.0 °C" in down
    elif "the catalogue thought" not in up:
        # exp(0.4) is half as much again, exp(-0.4) a third less.
        assert "49 %" in up
        assert "33 %" in down
        assert "as in the" in same
    assert all(text.endswith(".") and text[0].isupper() for text in (up, down, same))


def test_only_what_the_readings_determined_is_said() -> None:
    m = multipliers_of(enclosure().plan)[0]
    settled = FittedMultiplier(m, 0.3, m.sigma, 0.2 * m.sigma)
    open_ = replace(settled, sigma_after=0.99 * m.sigma)
    assert len(describe_fit(enclosure().plan, found(settled, open_))) == 1


@pytest.mark.parametrize(
    ("bias", "words"),
    [
        (Bias("a", "air probe", 1.5, 0.5, 0.2), "Grey probe seems to read 1.5 °C too high."),
        (Bias("a", "air probe", -1.5, 0.5, 0.2), "Grey probe seems to read 1.5 °C too low."),
        (Bias("a", "UV meter", 0.2, 0.1, 0.05), "Grey probe seems to read 20 % too high."),
        # Small against what such instruments are off by, or not settled by the readings.
        (Bias("a", "air probe", 0.1, 0.5, 0.2), ""),
        (Bias("a", "air probe", 1.5, 0.5, 0.45), ""),
    ],
)
def test_an_instruments_bias(bias: Bias, words: str) -> None:
    said: Phrase = bias_in_words(bias, "grey probe")
    assert plain_text(said) == words
