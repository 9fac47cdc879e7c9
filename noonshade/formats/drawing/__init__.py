"""The drawing of a plan as SVG: the enclosure from the front or from above, to scale, a field over it."""

from noonshade.formats.drawing.scales import FIELD_NAMES, FieldName
from noonshade.formats.drawing.views import above_svg, front_svg

__all__ = ["FIELD_NAMES", "FieldName", "above_svg", "front_svg"]
