"""What applications of one test process share: nothing need be worked out twice."""

from __future__ import annotations

from noonshade.web.service import Changes, Judgements, Memory, Sensitivities

MEMORY = Memory(most=40)
_SENSITIVITIES = Sensitivities(most=10)
SHARED = {
    "sensitivities": _SENSITIVITIES,
    "judgements": Judgements(_SENSITIVITIES, most=30),
    "changes": Changes(most=100),
}
