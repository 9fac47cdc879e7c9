"""Needs: the catalogue, names, weighing sources, stages, the home climate."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from noonshade.core.needs.find import find_species
from noonshade.core.needs.species import (
    GRADES,
    PLAUSIBLE,
    Claim,
    ClaimedNeed,
    HomeClimate,
    Need,
    Species,
    Stage,
)
from noonshade.core.needs.species_errors import (
    ASKED,
    claim_errors,
    home_errors,
    need_errors,
    slip_of_unit,
    species_errors,
)
from noonshade.core.needs.weighing import (
    at_home,
    most_careful,
    needs_for,
    outliers_of,
    overlap_of,
    settle,
)
from tests.builders import CATALOG

SPECIES = list(CATALOG.species.values())


def claim(low: float | None, high: float | None, source: str = "a care sheet") -> Claim:
    return Claim(low, high, "keepers' consensus", source)


def need_of(species_id: str, place: str, quantity: str, **how: object) -> Need:
    needs = needs_for(CATALOG.species[species_id], **how)  # type: ignore[arg-type]
    return next(n for n in needs if (n.place, n.quantity) == (place, quantity))


# -- the catalogue ----------------------------------------------------------------


def test_breadth_of_species() -> None:
    assert len(SPECIES) >= 48
    groups = {s.group for s in SPECIES}
    assert groups == {
        *("lizard", "gecko", "snake", "tortoise", "turtle", "frog", "salamander", "invertebrate"),
    }
    assert {h for s in SPECIES for h in s.habits} >= {"ground", "climbing", "digging", "half aquatic"}
    assert {s.active for s in SPECIES} == {"day", "night", "twilight"}
    assert {s.uv_school for s in SPECIES} == {"sunbeam", "shade", "none"}


@pytest.mark.parametrize("species", SPECIES, ids=lambda s: s.id)
def test_every_entry_is_within_plausible_bounds_and_says_where_it_is_from(species: Species) -> None:
    assert species_errors(species) == []
    for need in species.needs:
        assert need.quantity in ASKED[need.place]
        low, high = PLAUSIBLE[need.quantity]
        for one in need.claims:
            assert one.grade in GRADES
            assert len(one.source) >= 8
            assert all(low <= v <= high for v in (one.low, one.high) if v is not None)
    asked = {(w.place, w.quantity) for w in species.needs}
    if species.habits == ("aquatic",) and species.group == "salamander":
        assert ("water", "water_temperature") in asked
        return
    assert {
        ("warm_end", "air_temperature"),
        ("cool_end", "air_temperature"),
        ("night", "air_temperature"),
        ("cool_end", "humidity"),
        ("night", "humidity"),
        ("uv_refuge", "uvi"),
    } <= asked
    if species.uv_school != "none":
        assert ("basking", "uvi") in asked
        assert ("enclosure", "uv_free_share") in asked
    if species.uv == "needed":
        assert not next(w for w in species.needs if (w.place, w.quantity) == ("basking", "uvi")).offered
    adult, *young = species.stages
    smaller = [s for s in young if s.id in ("young", "hatchling", "larva", "land")]
    assert all(s.body_length_m < adult.body_length_m for s in smaller)
    assert smaller


@pytest.mark.parametrize("species", SPECIES, ids=lambda s: s.id)
def test_ends_nights_and_safety_are_in_order(species: Species) -> None:
    ranges = {(n.place, n.quantity): n for n in needs_for(species)}
    water = ranges.get(("water", "water_temperature"))
    assert water is None or species.lowest_safe_c < water.low < water.high < species.highest_safe_c  # type: ignore[operator]
    if species.habits == ("aquatic",) and species.group == "salamander":
        return
    warm, cool = ranges["warm_end", "air_temperature"], ranges["cool_end", "air_temperature"]
    night = ranges["night", "air_temperature"]
    assert cool.low <= warm.low  # type: ignore[operator]
    assert cool.high < warm.high  # type: ignore[operator]
    assert night.low < cool.high  # type: ignore[operator]
    assert species.lowest_safe_c <= night.low  # type: ignore[operator]
    assert warm.high < species.highest_safe_c  # type: ignore[operator]


def test_no_source_claims_a_measurement_it_cannot_name() -> None:
    """Grades above consensus need a citation; the catalogue has none to give but Ferguson's classes."""
    graded = [c for s in SPECIES for w in s.needs for c in w.claims if c.grade.startswith("published")]
    assert graded == []
    cited = {c.source for s in SPECIES for w in s.needs for c in w.claims if "(20" in c.source}
    assert all("Ferguson et al. 2010" in source for source in cited)


def test_home_climates_are_whole_and_used() -> None:
    used = {s.home.id for s in SPECIES}
    assert used <= set(CATALOG.homes)
    for home in CATALOG.homes.values():
        assert len(home.minimum_c) == len(home.sun_h) == 12
        warm, cool = ((6, 7), (0, 1)) if home.latitude_deg > 15 else ((0, 1), (6, 7))
        if abs(home.latitude_deg) > 15:
            assert max(home.maximum_c[i] for i in warm) > max(home.maximum_c[i] for i in cool)


# -- names ----------------------------------------------------------------


def test_scientific_names_synonyms_and_common_names_find_a_species() -> None:
    for text, expected in (
        ("Pogona vitticeps", "pogona-vitticeps"),
        ("pogona  VITTICEPS", "pogona-vitticeps"),
        ("Litoria caerulea", "ranoidea-caerulea"),
        ("Lacerta lepida", "timon-lepidus"),
        ("leopard gecko", "eublepharis-macularius"),
        ("hermann\u2019s tortoise", "testudo-hermanni"),
    ):
        answer = find_species(SPECIES, text)
        assert [hit.species.id for hit in answer.found] == [expected]
        assert not answer.ambiguous


@pytest.mark.parametrize(
    ("text", "several"),
    [
        ("Bearded dragon", {"pogona-vitticeps", "pogona-henrylawsoni"}),
        ("Common boa", {"boa-imperator", "boa-constrictor"}),
        ("Green tree frog", {"ranoidea-caerulea", "dryophytes-cinereus"}),
        ("Water dragon", {"physignathus-cocincinus", "intellagama-lesueurii"}),
        (
            "Mediterranean tortoise",
            {
                *("testudo-hermanni", "testudo-graeca"),
                *("testudo-marginata", "testudo-kleinmanni"),
            },
        ),
        (
            "dart frog",
            {
                *("dendrobates-auratus", "dendrobates-leucomelas", "dendrobates-tinctorius"),
                *("epipedobates-anthonyi", "phyllobates-terribilis", "ranitomeya-imitator"),
            },
        ),
        ("Mexican red-kneed tarantula", {"brachypelma-hamorii", "brachypelma-smithi"}),
    ],
)
def test_shared_common_names_ask(text: str, several: set[str]) -> None:
    answer = find_species(SPECIES, text)
    assert answer.ambiguous
    assert {hit.species.id for hit in answer.found} == several


def test_parts_of_names_find_several_without_asking() -> None:
    answer = find_species(SPECIES, "gecko")
    assert len(answer.found) >= 8
    assert not answer.ambiguous
    assert find_species(SPECIES, "unicorn").found == ()
    assert find_species(SPECIES, "   ").found == ()


# -- weighing ----------------------------------------------------------------


def test_overlap_where_there_is_one() -> None:
    claims = (claim(35, 43), claim(40, 50), claim(38, 45))
    settled = settle("surface_temperature", claims)
    # They share 3 °C, less than can be set and measured.
    assert (settled.low, settled.high) == (39.5, 43.5)
    assert settled.note == "the 3 sources share only 40–43 °C, widened to what can be set and measured"
    wide = settle("surface_temperature", (claim(35, 45), claim(40, 50)))
    assert (wide.low, wide.high, wide.note) == (40, 45, "where all 2 sources agree")


def test_sources_that_barely_meet_are_no_target_of_a_degree() -> None:
    leopard = settle("surface_temperature", (claim(30, 34), claim(33, 40)))
    assert (leopard.low, leopard.high) == (31.5, 35.5)
    air = settle("air_temperature", (claim(20, 24.5), claim(24, 28)))
    assert (air.low, air.high) == (23.25, 25.25)
    uvi = settle("uvi", (claim(1, 3.2), claim(3, 6)))
    assert (uvi.low, uvi.high) == pytest.approx((2.6, 3.6))
    damp = settle("humidity", (claim(0.4, 0.6), claim(0.55, 0.9)))
    assert (damp.low, damp.high) == pytest.approx((0.5, 0.65))
    # Never beyond what at least one source allows: what one side cannot take goes to the other.
    nested = settle("surface_temperature", (claim(39, 41), claim(40, 60)))
    assert (nested.low, nested.high) == (39, 43)
    assert settle("surface_temperature", (claim(30, 31.5), claim(31, 32))).high == 32


def test_without_overlap_the_most_careful_is_taken_and_it_is_said() -> None:
    claims = (claim(45, 52, "hot school"), claim(35, 40, "moderate school"))
    settled = settle("surface_temperature", claims)
    assert (settled.low, settled.high) == (35, 40)
    assert settled.source == "moderate school"
    assert settled.note.startswith("the sources share no range, so the most careful of 2 sources")


def test_average_and_careful_schools() -> None:
    claims = (claim(30, 40), claim(40, 50))
    average = settle("surface_temperature", claims, "average")
    assert (average.low, average.high) == (35, 45)
    careful = settle("surface_temperature", claims, "careful")
    assert (careful.low, careful.high) == (30, 40)
    open_ended = settle("uvi", (claim(None, 0.5), claim(0.1, 0.7)), "average")
    assert open_ended.low is None
    assert open_ended.high == pytest.approx(0.6)


def test_careful_means_different_things_for_heat_shade_and_moisture() -> None:
    assert most_careful("uvi", (claim(1, 3), claim(2, 6)))[0].high == 3
    assert most_careful("uv_free_share", (claim(0.2, None), claim(0.5, None)))[0].low == 0.5
    narrow = most_careful("humidity", (claim(0.3, 0.9), claim(0.5, 0.7)))[0]
    assert (narrow.low, narrow.high) == (0.5, 0.7)


def test_nothing_claimed_cannot_be_settled() -> None:
    with pytest.raises(ValueError, match="nothing is claimed"):
        settle("uvi", ())


def test_the_weakest_grade_is_told_for_what_several_sources_make() -> None:
    weak = Claim(20, 30, "estimate", "a guess")
    settled = settle("air_temperature", (claim(22, 32), weak))
    assert settled.grade == "estimate"


@given(
    st.lists(
        st.tuples(st.floats(0, 50), st.floats(0.5, 20)).map(lambda p: claim(p[0], p[0] + p[1])),
        min_size=1,
        max_size=6,
    )
)
def test_an_overlap_lies_in_every_claim_and_order_does_not_matter(claims: list[Claim]) -> None:
    shared = overlap_of(tuple(claims))
    assert shared == overlap_of(tuple(reversed(claims)))
    settled = settle("surface_temperature", tuple(claims))
    assert settled.low is not None
    assert settled.high is not None
    assert settled.low < settled.high
    if shared is not None:
        spread = max(c.high for c in claims) - min(c.low for c in claims)  # type: ignore[operator, type-var]
        wide = settled.high - settled.low >= min(4.0, spread) - 1e-9
        assert wide or (settled.low, settled.high) == shared
        assert settled.low <= shared[0]  # type: ignore[operator]
        assert shared[1] <= settled.high  # type: ignore[operator]
    # Whatever the school, the range is within the spread of the sources.
    for school in ("overlap", "average", "careful"):
        made = settle("surface_temperature", tuple(claims), school)  # type: ignore[arg-type]
        assert made.low >= min(c.low for c in claims) - 1e-9  # type: ignore[operator, type-var]
        assert made.high <= max(c.high for c in claims) + 1e-9  # type: ignore[operator, type-var]


def test_outliers_meet_none_of_the_others() -> None:
    claims = (claim(30, 36), claim(33, 38), claim(34, 40), claim(50, 55))
    assert outliers_of(claims) == (3,)
    assert outliers_of(claims[:3]) == ()
    # Two against two is a quarrel, not an outlier.
    assert outliers_of((claim(1, 2), claim(10, 12))) == ()


def test_a_slip_of_unit_is_named() -> None:
    assert "was 95 °F meant, 35.0 °C" in slip_of_unit("surface_temperature", 95)
    assert "was 60 % meant" in slip_of_unit("humidity", 60)
    assert slip_of_unit("uvi", 40) == ""


GOOD = CATALOG.species["crotaphytus-collaris"]
ADULT = GOOD.stage("adult")
SPOILED_SPECIES: dict[str, dict[str, object]] = {
    "group: must be one of lizard": {"group": "dragon"},
    "active: must be one of": {"active": "always"},
    "diet: must be one of": {"diet": "flies"},
    "not 'flying'": {"habits": ("flying",)},
    "habits: at least one": {"habits": ()},
    "common_names: at least one": {"common_names": ()},
    "size_source: says where": {"size_source": "  "},
    "exposure_class must be 1 to 4": {"exposure_class": 5},
    "lowest_safe_c must be below": {"lowest_safe_c": 60.0},
    "most_uvi must be above 0": {"most_uvi": 40.0},
    "the adult comes first": {"stages": (Stage("young", 0.05, 0.01), ADULT)},
    "not 'pupa'": {"stages": (ADULT, Stage("pupa", 0.05, 0.01))},  # type: ignore[arg-type]
    "a body of 0.5 cm to 4 m": {"stages": (replace(ADULT, body_length_m=40.0),)},
    "sides must be 0.1 to 10 m": {"enclosure": replace(GOOD.enclosure, length_m=120.0)},
    "listed twice": {"needs": (*GOOD.needs, GOOD.needs[0])},
    "above highest_safe_c": {"highest_safe_c": 20.0, "lowest_safe_c": 5.0},
}


@pytest.mark.parametrize("words", SPOILED_SPECIES)
def test_what_cannot_be_in_a_species_is_named(words: str) -> None:
    errors = species_errors(replace(GOOD, **SPOILED_SPECIES[words]))  # type: ignore[arg-type]
    assert any(words in e for e in errors), errors


@pytest.mark.parametrize(
    ("made", "words"),
    [
        (Claim(None, None, "estimate", "a care sheet"), "at least one limit"),
        (claim(30, 30), "the lower limit must be below"),
        (claim(95, 104), "was 95 °F meant, 35.0 °C?"),
        (Claim(30, 35, "hearsay", "a care sheet"), "the grade must be one of"),  # type: ignore[arg-type]
        (claim(30, 35, " - "), "says where it is from"),
    ],
)
def test_what_cannot_be_in_a_claim_is_named(made: Claim, words: str) -> None:
    assert any(words in e for e in claim_errors("surface_temperature", made))
    need = ClaimedNeed("basking", "surface_temperature", (made,))
    assert all(e.startswith("need basking surface_temperature: ") for e in need_errors(need))


def test_a_want_is_of_a_figure_that_is_judged_and_of_a_stage_there_is() -> None:
    good = (claim(30, 35),)
    (odd,) = need_errors(ClaimedNeed("night", "uvi", good))
    assert "not a figure that is assessed" in odd
    assert "night: air_temperature, humidity" in odd
    (bare,) = need_errors(ClaimedNeed("basking", "surface_temperature", ()))
    assert bare.endswith("has no claim")
    (stage,) = need_errors(ClaimedNeed("basking", "surface_temperature", good, "egg"))  # type: ignore[arg-type]
    assert "stage must be one of" in stage


@pytest.mark.parametrize(
    ("spoiled", "words"),
    [
        ({"rain_mm": (1.0,) * 11}, "rain_mm must have twelve values"),
        ({"latitude_deg": 80.0}, "between the polar circles"),
        ({"minimum_c": (40.0,) * 12}, "minimum_c must be below maximum_c"),
        ({"maximum_c": (95.0,) * 12}, "temperatures must be -40 to 50"),
        ({"rain_mm": (-1.0,) * 12}, "rain_mm must be 0 to 2000"),
        ({"sun_h": (25.0,) * 12}, "sun_h must be 0 to 20"),
    ],
)
def test_what_cannot_be_in_a_home_climate_is_named(spoiled: dict[str, object], words: str) -> None:
    assert home_errors(GOOD.home) == []
    assert any(words in e for e in home_errors(replace(GOOD.home, **spoiled)))  # type: ignore[arg-type]


# -- stages, schools and the home ----------------------------------------------------------------


def test_young_ones_have_a_warmer_night_floor() -> None:
    adult = need_of("testudo-hermanni", "night", "air_temperature")
    young = need_of("testudo-hermanni", "night", "air_temperature", stage="young")
    assert young.low == adult.low + 2  # type: ignore[operator]
    damp = need_of("testudo-hermanni", "cool_end", "humidity", stage="young")
    assert damp.low > need_of("testudo-hermanni", "cool_end", "humidity").low  # type: ignore[operator]


def test_contested_figures_carry_their_claims() -> None:
    contested = need_of("pogona-vitticeps", "basking", "surface_temperature")
    assert len(contested.claims) == 2
    assert (contested.low, contested.high) == (39.5, 43.5)
    assert {c.about for c in contested.claims} == {"surface under the lamp, adults", "stone under the lamp"}
    careful = need_of("pogona-vitticeps", "basking", "surface_temperature", school="careful")
    assert (careful.low, careful.high) == (36, 43)


def test_low_pigment_halves_the_uv_wanted() -> None:
    usual = need_of("crotaphytus-collaris", "basking", "uvi")
    pale = need_of("crotaphytus-collaris", "basking", "uvi", low_pigment=True)
    assert pale.high == pytest.approx(usual.high / 2)  # type: ignore[operator]
    assert "low pigment" in pale.note
    assert need_of("crotaphytus-collaris", "uv_refuge", "uvi", low_pigment=True).high == 0.5


def test_the_wild_climate_speaks_of_air_only() -> None:
    home = CATALOG.species["crotaphytus-collaris"].home
    nights = at_home(home, "night", "air_temperature")
    assert nights is not None
    # Months whose days stay below 15 °C are not active ones: December to February here.
    active = [i for i in range(12) if home.maximum_c[i] >= 15]
    assert (nights.low, nights.high) == (
        min(home.minimum_c[i] for i in active),
        max(home.minimum_c[i] for i in active),
    )
    assert at_home(home, "basking", "surface_temperature") is None
    wild = need_of("crotaphytus-collaris", "night", "air_temperature", school="home")
    assert wild.note.startswith("the wild climate: nightly lowest air")
    surface = need_of("crotaphytus-collaris", "basking", "surface_temperature", school="home")
    assert (surface.low, surface.high) == (43, 52)


def test_a_steady_climate_gives_a_range_wide_enough_to_keep() -> None:
    flat = HomeClimate("x", "x", 0.0, (22.0,) * 12, (30.0,) * 12, (100.0,) * 12, (5.0,) * 12, "made up")
    settled = at_home(flat, "warm_end", "air_temperature")
    assert settled is not None
    assert (settled.low, settled.high) == (29, 31)
    cold = replace(flat, maximum_c=(10.0,) * 12, minimum_c=(0.0,) * 12)
    assert at_home(cold, "warm_end", "air_temperature") is None
