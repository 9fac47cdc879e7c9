"""Plans that are being changed, each with where its heat settled last."""

from __future__ import annotations

import threading
from collections import OrderedDict

from noonshade.core.live import LivePlan

# Plans that are changed at a time in one process.
MOST = 8


class LivePlans:
    """The plans that were changed last, by who changes them."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._plans: OrderedDict[str, LivePlan] = OrderedDict()

    def of(self, who: str) -> LivePlan:
        """The plan of one page; another once it is no longer among the latest."""
        with self._lock:
            found = self._plans.pop(who, None) or LivePlan()
            self._plans[who] = found
            while len(self._plans) > MOST:
                self._plans.popitem(last=False)
        return found
