"""What an animal's weights say."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

TrendId = Literal["too_few", "losing", "falling", "steady", "growing"]

# A loss that wants a look, and one that wants a veterinarian, as shares of the weight before. Estimates:
# what keepers take as normal between meals, and as a warning.
FALLING_SHARE = 0.05
LOSING_SHARE = 0.10
GROWING_SHARE = 0.05
# How far back the earlier weight may lie. Estimate.
WINDOW = timedelta(days=60)


@dataclass(frozen=True, slots=True)
class Trend:
    """What the last weight is against the highest of the weeks before: 10 % more is a ``share`` of 0.1."""

    id: TrendId
    share: float
    text: str


def weight_trend(weights: Sequence[tuple[date, float]], resting: bool = False) -> Trend:
    """Assess weights in g by day, in any order.

    The last is compared with the highest of the 60 days before it. ``resting`` animals in their winter rest
    may lose a little; the limits stay the same, the words differ.

    Parameters
    ----------
    weights : Sequence[tuple[date, float]]
        Days and weights, g.
    resting : bool
        Whether the animal is in brumation.

    Returns
    -------
    Trend
        The trend, the relative change, and what it means in words.

    Raises
    ------
    ValueError
        If a weight is not above 0.
    """
    if any(not grams > 0 for _, grams in weights):
        raise ValueError("a weight must be above 0 g")
    rising = sorted(weights)
    before = [grams for day, grams in rising[:-1] if rising[-1][0] - day <= WINDOW]
    if not before:
        return Trend("too_few", 0.0, "Weigh it at least twice within two months to see where it goes.")
    last, best = rising[-1][1], max(before)
    share = last / best - 1.0
    percent = f"{abs(100 * share):.0f} %"
    if share <= -LOSING_SHARE:
        text = (
            f"It weighs {percent} less than within the last 60 days: see a veterinarian who knows reptiles."
        )
        if resting:
            text = (
                f"It has lost {percent} in its rest, more than a healthy animal does: end the rest and "
                "see a veterinarian who knows reptiles."
            )
        return Trend("losing", share, text)
    if share <= -FALLING_SHARE:
        return Trend(
            "falling", share, f"It weighs {percent} less than within the last 60 days: weigh it every week."
        )
    first = before[0]
    if last >= first * (1.0 + GROWING_SHARE):
        return Trend("growing", share, f"It gains weight: {100 * (last / first - 1):.0f} % in two months.")
    return Trend("steady", share, "Its weight is steady.")
