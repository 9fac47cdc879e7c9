"""From HTML to PDF, and from SVG to PNG, with the font that ships."""

from __future__ import annotations

import base64
import io
from functools import cache
from importlib.resources import files
from xml.etree import ElementTree as ET

import pypdfium2

PACKAGE = "noonshade.formats.printed"
_CSS_PX_PER_PT = 96.0 / 72.0
# The widest picture made, px.
WIDEST_PX = 6000


class PrintError(RuntimeError):
    """Pages cannot be set here; the message says what is missing."""


def pdf_of(html: str) -> bytes:
    """Set a page of HTML as PDF; it may use the font that ships.

    Raises
    ------
    PrintError
        If the libraries that set text are not installed.
    """
    try:
        import weasyprint
        from weasyprint.text.fonts import FontConfiguration
        from weasyprint.urls import URLFetcher
    except OSError as error:
        raise PrintError(
            "Setting pages needs the Pango library, which is not installed here: "
            "apt-get install libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0. "
            "Until then, open the report and print it from the browser."
        ) from error
    fonts = FontConfiguration()
    # Nothing is fetched: what a page shows is in it.
    fetch = URLFetcher(allowed_protocols=("data",))
    face = weasyprint.CSS(string=font_face(_font_data()), font_config=fonts, url_fetcher=fetch)
    made = weasyprint.HTML(string=html, url_fetcher=fetch).write_pdf(stylesheets=[face], font_config=fonts)
    assert isinstance(made, bytes)
    return made


def font_face(address: str) -> str:
    """The style rule that brings the shipped font from an address."""
    return (
        "@font-face { font-family: 'Atkinson Hyperlegible Next'; font-weight: 200 800; "
        f"src: url('{address}') format('woff2'); }}"
    )


@cache
def _font_data() -> str:
    font = (files(PACKAGE) / "fonts" / "text.woff2").read_bytes()
    return "data:font/woff2;base64," + base64.b64encode(font).decode()


def png_of(svg: str, width_px: int) -> bytes:
    """Draw an SVG picture as PNG, ``width_px`` wide.

    Raises
    ------
    PrintError
        If the libraries that set text are not installed.
    ValueError
        If the width is not between 1 and ``WIDEST_PX``.
    """
    if not 1 <= width_px <= WIDEST_PX:
        raise ValueError(f"a picture is 1 to {WIDEST_PX} px wide")
    root = ET.fromstring(svg)  # noqa: S314
    wide, tall = float(root.attrib["width"]), float(root.attrib["height"])
    style = (
        f"@page {{ size: {wide:g}px {tall:g}px; margin: 0 }} body {{ margin: 0 }} svg {{ display: block }}"
    )
    pdf = pypdfium2.PdfDocument(pdf_of(f"<style>{style}</style>{svg}"))
    try:
        image = pdf[0].render(scale=width_px / wide * _CSS_PX_PER_PT).to_pil()
    finally:
        pdf.close()
    stream = io.BytesIO()
    image.save(stream, "PNG", optimize=True)
    return stream.getvalue()
