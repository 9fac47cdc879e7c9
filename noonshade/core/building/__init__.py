"""From a plan to the built enclosure: parts to buy, running cost, set-up order, cautions."""

from noonshade.core.building.cautions import Caution, cautions
from noonshade.core.building.order import SetupStep, order
from noonshade.core.building.parts import Bags, Part, PartGroup, parts, substrate_bags
from noonshade.core.building.running import Load, Running, running

__all__ = [
    "Bags",
    "Caution",
    "Load",
    "Part",
    "PartGroup",
    "Running",
    "SetupStep",
    "cautions",
    "order",
    "parts",
    "running",
    "substrate_bags",
]
