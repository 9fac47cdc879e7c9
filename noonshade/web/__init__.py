"""The HTTP interface: Flask application, documented by OpenAPI made from the code."""

from noonshade.web.app import AppSettings, create_app

__all__ = ["AppSettings", "create_app"]
