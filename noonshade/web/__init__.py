"""The HTTP interface: Flask application, documented by OpenAPI made from the code."""

from noonshade.web.app import Settings, create_app, open_data

__all__ = ["Settings", "create_app", "open_data"]
