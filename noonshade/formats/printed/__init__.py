"""A plan on paper: a report of one to three pages as HTML and PDF, and drawings as PNG."""

from noonshade.formats.printed.pages import PrintError, pdf_of, png_of
from noonshade.formats.printed.report import Edition, report_html

__all__ = ["Edition", "PrintError", "pdf_of", "png_of", "report_html"]
