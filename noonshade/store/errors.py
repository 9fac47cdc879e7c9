"""What every store raises when a record is not there."""

from __future__ import annotations


class NotFoundError(LookupError):
    """There is no record of a kind under an id, or it refers to another record that does not exist.

    ``kind`` is what a keeper calls it ("plan", "reading"), ``key`` the id that was asked for.
    """

    def __init__(self, kind: str, key: str, detail: str | None = None) -> None:
        super().__init__(detail or f"There is no {kind} of the name {key[:80]!r}, or it was deleted.")
        self.kind, self.key = kind, key

    def __reduce__(self) -> tuple[type[NotFoundError], tuple[str, str, str]]:
        # Without this, one from another process could not be made again.
        return type(self), (self.kind, self.key, str(self))
