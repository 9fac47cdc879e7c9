"""From a plan to the built enclosure: parts to buy, running cost, set-up order, cautions."""

from noonshade.core.building.cautions import Caution, list_cautions
from noonshade.core.building.order import SetupStep, setup_steps
from noonshade.core.building.parts import Bags, Part, PartGroup, list_parts, substrate_bags
from noonshade.core.building.running import Load, Running, running_cost

__all__ = [
    "Bags",
    "Caution",
    "Load",
    "Part",
    "PartGroup",
    "Running",
    "SetupStep",
    "list_cautions",
    "list_parts",
    "running_cost",
    "setup_steps",
    "substrate_bags",
]
