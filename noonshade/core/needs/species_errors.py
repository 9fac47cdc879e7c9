"""Checks of species and home climates, of the catalogue and of the keeper's own alike."""

from __future__ import annotations

from typing import get_args

from noonshade.core.needs.species import (
    GRADES,
    PLAUSIBLE,
    SHARES,
    STAGES,
    Active,
    Claim,
    ClaimedNeed,
    CompanyRule,
    Diet,
    EnclosureSize,
    Group,
    Habit,
    HintKind,
    HomeClimate,
    LayingPlace,
    PlaceKind,
    Quantity,
    Species,
    UvSchool,
    Wanted,
)

# Which quantities can be asked for at which kind of place.
ASKED: dict[PlaceKind, tuple[Quantity, ...]] = {
    "basking": ("surface_temperature", "air_temperature", "uvi"),
    "warm_end": ("air_temperature", "humidity"),
    "cool_end": ("air_temperature", "humidity"),
    "burrow": ("air_temperature",),
    "water": ("water_temperature",),
    "uv_refuge": ("uvi", "humidity"),
    "moist_hide": ("humidity",),
    "night": ("air_temperature", "humidity"),
    "enclosure": ("uv_free_share",),
}
_UNITS: dict[Quantity, str] = {
    "surface_temperature": " °C",
    "air_temperature": " °C",
    "water_temperature": " °C",
    "gradient": " °C",
    "uvi": "",
    "humidity": "",
    "uv_free_share": "",
}


def claim_errors(quantity: Quantity, claim: Claim) -> list[str]:
    """What is wrong with a claim, each as a sentence; a slip of unit is named as one.

    Parameters
    ----------
    quantity : Quantity
        Which quantity.
    claim : Claim
        The claim.

    Returns
    -------
    list[str]
        What is wrong with a claim, each as a sentence.
    """
    found = []
    if claim.low is None and claim.high is None:
        found.append("a claim has at least one limit")
    if claim.low is not None and claim.high is not None and claim.low >= claim.high:
        found.append("the lower limit must be below the upper one")
    least, most = PLAUSIBLE[quantity]
    for value in (claim.low, claim.high):
        if value is None or least <= value <= most:
            continue
        found.append(
            f"{value:g}{_UNITS[quantity]} cannot be: must be {least:g} to {most:g}{_UNITS[quantity]}"
            + slip_of_unit(quantity, value)
        )
    if claim.grade not in GRADES:
        found.append(f"the grade must be one of: {', '.join(GRADES)}")
    if len(claim.source.strip()) < 4:
        found.append("a claim says where it is from")
    return found


def slip_of_unit(quantity: Quantity, value: float) -> str:
    """The unit a value outside the plausible range was probably meant in, as the end of a sentence.

    Parameters
    ----------
    quantity : Quantity
        Which quantity.
    value : float
        The value, in core units.

    Returns
    -------
    str
        Words such as "; was °F meant?", empty if no unit fits.
    """
    least, most = PLAUSIBLE[quantity]
    if quantity in ("surface_temperature", "air_temperature") and least <= (value - 32) / 1.8 <= most:
        return f"; was {value:g} °F meant, {(value - 32) / 1.8:.1f} °C?"
    if quantity in SHARES and 1 < value <= 100:
        return f"; was {value:g} % meant?"
    return ""


def need_errors(need: ClaimedNeed) -> list[str]:
    """What is wrong with a need and its claims.

    Parameters
    ----------
    need : ClaimedNeed
        The need.

    Returns
    -------
    list[str]
        Sentences, empty if nothing is wrong.
    """
    name = f"{need.place} {need.quantity}"
    if need.place not in ASKED or need.quantity not in ASKED[need.place]:
        known = "; ".join(f"{place}: {', '.join(q)}" for place, q in ASKED.items())
        return [f"need {name}: not a figure that is assessed; known are {known}"]
    found = [f"need {name}: {e}" for claim in need.claims for e in claim_errors(need.quantity, claim)]
    if not need.claims:
        found.append(f"need {name}: has no claim")
    if need.stage is not None and need.stage not in STAGES:
        found.append(f"need {name}: stage must be one of {', '.join(STAGES)}")
    return found


def home_errors(home: HomeClimate) -> list[str]:
    """What is wrong with a home climate.

    Parameters
    ----------
    home : HomeClimate
        The climate of the species' home.

    Returns
    -------
    list[str]
        Sentences, empty if nothing is wrong.
    """
    months = ("minimum_c", "maximum_c", "rain_mm", "sun_h")
    short = [name for name in months if len(getattr(home, name)) != 12]
    if short:
        return [f"{name} must have twelve values, January first" for name in short]
    found = []
    if not -66.5 <= home.latitude_deg <= 66.5:
        found.append("latitude_deg must be between the polar circles, -66.5 to 66.5")
    if any(low >= high for low, high in zip(home.minimum_c, home.maximum_c, strict=True)):
        found.append("minimum_c must be below maximum_c in every month")
    if not all(-40 <= v <= 50 for v in (*home.minimum_c, *home.maximum_c)):
        found.append("temperatures must be -40 to 50 °C")
    if not all(0 <= v <= 2000 for v in home.rain_mm):
        found.append("rain_mm must be 0 to 2000 mm a month")
    if not all(0 <= v <= 20 for v in home.sun_h):
        found.append("sun_h must be 0 to 20 hours a day")
    return found


def _enclosure_errors(enclosure: EnclosureSize) -> list[str]:
    sides = (enclosure.length_m, enclosure.depth_m, enclosure.height_m)
    return [] if all(0.1 <= side <= 10 for side in sides) else ["enclosure: sides must be 0.1 to 10 m"]


def species_errors(species: Species) -> list[str]:
    """What is wrong with a species, each as a sentence.

    Parameters
    ----------
    species : Species
        The species.

    Returns
    -------
    list[str]
        The sentences, empty if nothing is wrong.
    """
    found = []
    choices = (
        ("group", species.group, get_args(Group)),
        ("active", species.active, get_args(Active)),
        ("uv_school", species.uv_school, get_args(UvSchool)),
        ("heat", species.heat, get_args(Wanted)),
        ("uv", species.uv, get_args(Wanted)),
        ("light", species.light, get_args(Wanted)),
        ("diet", species.diet, (*get_args(Diet), None)),
        *(("habits", habit, get_args(Habit)) for habit in species.habits),
        *(("habits", habit, get_args(Habit)) for stage in species.stages for habit in stage.habits),
    )
    for name, value, allowed in choices:
        if value not in allowed:
            found.append(f"{name}: must be one of {', '.join(str(a) for a in allowed)}, not {value!r}")
    if not species.common_names:
        found.append("common_names: at least one")
    if len(species.size_source.strip()) < 4:
        found.append("size_source: says where sizes are from")
    if not species.habits:
        found.append("habits: at least one")
    if not 1 <= species.exposure_class <= 4:
        found.append("exposure_class must be 1 to 4")
    if species.lowest_safe_c >= species.highest_safe_c:
        found.append("lowest_safe_c must be below highest_safe_c")
    if species.most_uvi is not None and not 0 < species.most_uvi <= 12:
        found.append("most_uvi must be above 0 and at most 12")
    if [s.id for s in species.stages][:1] != ["adult"]:
        found.append("stages: the adult comes first")
    for stage in species.stages:
        if stage.id not in STAGES:
            found.append(f"stages: must be one of {', '.join(STAGES)}, not {stage.id!r}")
        if not (0.005 <= stage.body_length_m <= 4 and 0.002 <= stage.back_height_m <= 1):
            found.append(f"stage {stage.id}: a body of 0.5 cm to 4 m, its back 0.2 cm to 1 m high")
    found += _enclosure_errors(species.enclosure)
    if species.company is not None and species.company.rule not in get_args(CompanyRule):
        found.append(f"company: rule must be one of {', '.join(get_args(CompanyRule))}")
    for hint in species.hints:
        if hint.kind not in get_args(HintKind):
            found.append(f"hints: kind must be one of {', '.join(get_args(HintKind))}, not {hint.kind!r}")
    if species.ground is not None and not 0 < species.ground.depth_m <= 2:
        found.append("ground: depth_m must be above 0 and at most 2")
    if species.laying is not None:
        if species.laying.place not in get_args(LayingPlace):
            found.append(f"laying: place must be one of {', '.join(get_args(LayingPlace))}")
        if not 0 <= species.laying.depth_m <= 1 or (
            species.laying.place == "ground" and species.laying.depth_m < 0.01
        ):
            found.append("laying: depth_m must be 1 cm to 1 m where she lays in the ground")
    if species.ceiling_c is not None and not 10 <= species.ceiling_c <= 70:
        found.append("ceiling_c must be 10 to 70 °C")
    seen = set()
    for need in species.needs:
        key = (need.place, need.quantity, need.stage)
        if key in seen:
            found.append(
                f"need {need.place} {need.quantity}: listed twice; put several claims into one need"
            )
        seen.add(key)
        found += need_errors(need)
        for claim in need.claims:
            top = claim.high if need.quantity == "air_temperature" else None
            if top is not None and top > species.highest_safe_c and need.place != "basking":
                found.append(f"need {need.place} {need.quantity}: above highest_safe_c")
    return found
