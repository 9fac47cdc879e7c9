"""The sheet a drawing is made on: metres to its own units, and SVG elements."""

from __future__ import annotations

from dataclasses import dataclass
from xml.etree import ElementTree as ET

SVG = "http://www.w3.org/2000/svg"
FONT = "Atkinson Hyperlegible Next, Arial, sans-serif"

# The light palette of the screen, as paper takes it.
INK, SOFT, EDGE, LINE = "#142621", "#44544e", "#7c8a83", "#ccd3cd"
PAPER, AIR = "#ffffff", "#f4f8f5"
STONE, BARK, LEAF, BOARD = "#4e5a60", "#70543e", "#407142", "#c8b498"
FIT, LOW, HIGH, WATER = "#0e5e44", "#1f5596", "#a33810", "#1f5596"
GLOW_UV, GLOW_LIGHT, GLOW_HEAT = "#b58be0", "#f0b04e", "#c96a4a"


@dataclass(frozen=True, slots=True)
class Frame:
    """Where the enclosure lies on the sheet: ``left`` and ``floor`` of its inside, and units per metre."""

    scale: float
    left: float
    floor: float

    def x(self, metres: float) -> float:
        """Across."""
        return round(self.left + self.scale * metres, 2)

    def y(self, metres: float) -> float:
        """Down the sheet, from a height (or a depth, seen from above)."""
        return round(self.floor - self.scale * metres, 2)

    def size(self, metres: float) -> float:
        """A length on the sheet."""
        return round(self.scale * metres, 2)


class Drawing:
    """An SVG picture that grows by one element after another."""

    def __init__(self, width: float, height: float, title: str) -> None:
        ET.register_namespace("", SVG)
        self.width, self.height = width, height
        self.root = ET.Element(
            f"{{{SVG}}}svg",
            {
                "viewBox": f"0 0 {width:g} {height:g}",
                "width": f"{width:g}",
                "height": f"{height:g}",
                "role": "img",
                "font-family": FONT,
                "font-size": "12",
            },
        )
        name = ET.SubElement(self.root, f"{{{SVG}}}title")
        name.text = title

    def add(self, tag: str, text: str = "", /, **attributes: str | float) -> ET.Element:
        """One element; underscores in names stand for hyphens."""
        named = {
            key.rstrip("_").replace("_", "-"): value if isinstance(value, str) else f"{value:g}"
            for key, value in attributes.items()
        }
        element = ET.SubElement(self.root, f"{{{SVG}}}{tag}", named)
        element.text = text or None
        return element

    def rect(self, x: float, y: float, width: float, height: float, **attributes: str | float) -> None:
        """A rectangle from its upper left corner."""
        self.add("rect", "", x=x, y=y, width=max(width, 0.0), height=max(height, 0.0), **attributes)

    def line(self, a: tuple[float, float], b: tuple[float, float], **attributes: str | float) -> None:
        """A straight line."""
        self.add("line", "", x1=a[0], y1=a[1], x2=b[0], y2=b[1], **attributes)

    def label(self, x: float, y: float, text: str, anchor: str = "start", bold: bool = False) -> None:
        """Text with a pale edge, legible on any colour."""
        look: dict[str, str | float] = {
            "x": round(x, 1),
            "y": round(y, 1),
            "dy": "0.35em",
            "text_anchor": anchor,
            "font_weight": "bold" if bold else "normal",
        }
        # Painted twice, since not every reader knows the order of painting.
        edge = self.add("text", text, fill="white", stroke="white", **look)
        edge.set("stroke-width", "3")
        edge.set("stroke-opacity", "0.8")
        self.add("text", text, fill=INK, **look)

    def text(self) -> str:
        """The picture as SVG."""
        return ET.tostring(self.root, encoding="unicode")
