"""Judging a computed climate: verdicts with reasons, findings, and mends that were computed."""
