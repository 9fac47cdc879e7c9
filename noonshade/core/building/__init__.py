"""From a plan to the built enclosure: parts to buy, running cost, set-up order, cautions."""

from noonshade.core.building.cautions import Caution, list_cautions
from noonshade.core.building.ground import Amount, Bags, ground_amounts, moistening_l, sheets
from noonshade.core.building.order import SetupStep, setup_steps
from noonshade.core.building.parts import Part, PartGroup, list_parts
from noonshade.core.building.running import Load, Running, running_cost

__all__ = [
    "Amount",
    "Bags",
    "Caution",
    "Load",
    "Part",
    "PartGroup",
    "Running",
    "SetupStep",
    "ground_amounts",
    "list_cautions",
    "list_parts",
    "moistening_l",
    "running_cost",
    "setup_steps",
    "sheets",
]
