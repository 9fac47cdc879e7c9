"""From a plan to the built box: what to buy, what it draws and costs, what to do when, with what care."""

from noonshade.core.building.cautions import Caution, cautions
from noonshade.core.building.order import Step, order
from noonshade.core.building.parts import Bags, Part, PartGroup, parts, substrate_bags
from noonshade.core.building.running import Load, Running, running

__all__ = [
    "Bags",
    "Caution",
    "Load",
    "Part",
    "PartGroup",
    "Running",
    "Step",
    "cautions",
    "order",
    "parts",
    "running",
    "substrate_bags",
]
