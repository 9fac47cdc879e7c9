"""Shipped reference data and its loader."""

from noonshade.catalog.loader import Catalog, CatalogError, load_catalog

__all__ = ["Catalog", "CatalogError", "load_catalog"]
