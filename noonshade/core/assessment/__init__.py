"""Assessing a computed climate: checks with reasons, findings, and fixes that were computed."""
