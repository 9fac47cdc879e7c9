"""Enclosures with prescribed heat, settled."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from noonshade.core.heat.climate import surroundings_of
from noonshade.core.heat.settling import settle
from noonshade.core.heat.streamed_model import PrescribedHeat, StreamedModel
from noonshade.core.plan import Plan

Floats = NDArray[np.float64]


def settled(plan: Plan, heat: PrescribedHeat) -> tuple[StreamedModel, Floats]:
    around = surroundings_of(plan, "day")
    model = StreamedModel(plan, (), {}, around, None, heat)
    found, _ = settle(
        lambda t: model.network(t, np.zeros(0), around).steady(),
        np.full(model.size, around.room_c + 3.0),
        0.01,
        100,
        0.05,
    )
    return model, found
