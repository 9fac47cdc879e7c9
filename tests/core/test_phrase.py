"""Names within sentences."""

from __future__ import annotations

import pytest

from noonshade.core.phrase import one_of


@pytest.mark.parametrize(
    ("name", "within"),
    [
        ("Gargoyle gecko", "a gargoyle gecko"),
        ("Eastern collared lizard", "an eastern collared lizard"),
        ("White's tree frog", "a White's tree frog"),
        ("Asian forest scorpion", "an Asian forest scorpion"),
        ("European pond turtle", "a European pond turtle"),
        ("New Caledonian giant gecko", "a New Caledonian giant gecko"),
    ],
)
def test_species_keep_the_capital_of_persons_and_places_only(name: str, within: str) -> None:
    assert one_of(name) == within
