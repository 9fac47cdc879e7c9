"""A new animal: quarantine and settling as a list of days with reasons, until it is let into the room.

The days are keepers' consensus, rounded; a veterinarian's word goes before them.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from noonshade.core.needs.species import Group, Species

# Days in quarantine by default, by group. Keepers' consensus; some illnesses take longer to
# show.
QUARANTINE_DAYS: dict[Group, int] = {
    "lizard": 60,
    "gecko": 60,
    "snake": 90,
    "tortoise": 90,
    "turtle": 90,
    "frog": 60,
    "salamander": 60,
    "invertebrate": 30,
}
SHORTEST, LONGEST = 14, 365
RELEASE = "release"


@dataclass(frozen=True, slots=True)
class QuarantineStep:
    """A step on a day after its arrival, and why."""

    key: str
    day: int
    title: str
    why: str


def quarantine_steps(species: Species, days: int) -> tuple[QuarantineStep, ...]:
    """The list for a species, in order of days; without those after the release.

    Parameters
    ----------
    species : Species
        The species.
    days : int
        Days.

    Returns
    -------
    tuple[QuarantineStep, ...]
        The list for a species, in order of days.

    Raises
    ------
    ValueError
        If the quarantine is shorter than two weeks or longer than a year.
    """
    if not SHORTEST <= days <= LONGEST:
        raise ValueError(f"a quarantine lasts {SHORTEST} to {LONGEST} days")
    listed = [s for s in _steps(species) if s.day < days]
    listed.append(
        QuarantineStep(
            RELEASE,
            days,
            "Let it into the room",
            "Only if it eats, keeps its weight, and nothing was found in its droppings; else longer. "
            "Wash, then give it tools of the room.",
        )
    )
    return tuple(sorted(listed, key=lambda s: s.day))


def _steps(species: Species) -> Iterator[QuarantineStep]:
    group = species.group
    spineless, amphibian = group == "invertebrate", group in ("frog", "salamander")
    yield QuarantineStep(
        "inspect",
        0,
        "Look it over before it goes in",
        "Eyes, nose, mouth, skin and folds, legs and toes, vent; mites look like moving dots. Photograph "
        "it. "
        "A burn, swelling, bubbles, open-mouthed breath or limpness: to a veterinarian today.",
    )
    yield QuarantineStep("weigh-0", 0, "Weigh it", "Later weights are compared with this one.")
    yield QuarantineStep(
        "tools",
        0,
        "Give its enclosure its own tools",
        "Tongs, bowl, cloth, sprayer: none of them goes to another enclosure. Plain paper as ground shows "
        "what "
        "it drops. In another room if there is one, and looked after last.",
    )
    yield QuarantineStep(
        "disinfect",
        0,
        "Disinfect hands and tools after this enclosure, each time",
        "Most of what animals bring is carried on by hands (Salmonella to you as well).",
    )
    yield QuarantineStep(
        "alone",
        1,
        "Leave it alone for a week",
        "Water, light and warmth by the plan, the front covered; no food, no hands. It must learn that "
        "nothing "
        "happens here.",
    )
    yield QuarantineStep(
        "look-3", 3, "Look from afar", "Where it sits, whether it drinks, what it drops. Note it."
    )
    first_meal = 10 if group == "snake" else 7 if not spineless else 5
    yield QuarantineStep(
        "meal",
        first_meal,
        "First meal",
        "A small one, before any handling. Refused: take it out, try again in some days; longer than is "
        "usual "
        "for its kind: ask a veterinarian.",
    )
    if not spineless:
        yield QuarantineStep(
            "droppings-1",
            first_meal + 3,
            "First droppings to a laboratory",
            "Fresh, in a clean tube. Worms and coccidia are common in animals that travelled.",
        )
    if amphibian:
        yield QuarantineStep(
            "swab",
            10,
            "Skin swab for chytrid fungus",
            "It kills frogs and salamanders and spreads by water: the water of this enclosure goes down no "
            "drain near "
            "the others, nor outdoors.",
        )
    yield QuarantineStep(
        "vet",
        14,
        "First visit to a veterinarian who knows reptiles",
        "Even if all seems well: teeth, blood, shell and parasites are not seen from outside.",
    )
    yield QuarantineStep(
        "weigh-1", 14, "Weigh it again", "A tenth less than on the first day: to a veterinarian."
    )
    if not (spineless or amphibian):
        yield QuarantineStep(
            "handling",
            21,
            "First handling, a few minutes",
            "After it has eaten twice by itself, and not within two days of a meal.",
        )
    yield QuarantineStep("weigh-2", 30, "Weigh it", "It should be back at its first weight by now.")
    if not spineless:
        yield QuarantineStep(
            "droppings-2",
            35,
            "Second droppings to a laboratory",
            "Parasites are shed on some days only: one sample without any proves little.",
        )
    yield QuarantineStep(
        "measure",
        45,
        "Take a round of readings",
        "Before it moves on, its next enclosure is to be run and measured empty.",
    )
