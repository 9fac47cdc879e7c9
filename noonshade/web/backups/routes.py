"""Backups made by one press or by themselves, handed out, and gone back to."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import Annotated

from flask import Blueprint, Response, request, send_from_directory
from pydantic import Field

from noonshade.formats.document import Model
from noonshade.services.application import Services
from noonshade.services.backups import LARGEST_ARCHIVE, BackupSchedule, backup_policy
from noonshade.services.backups import set_backup_schedule as store_schedule
from noonshade.store.archive import Contents, check_archive, restore_archive
from noonshade.store.backups import Archive
from noonshade.web.http.routing import operation

backup_api = Blueprint("backups", __name__, url_prefix="/api")


class ArchiveModel(Model):
    """A backup in the folder."""

    name: str
    made_at: str
    bytes: int


class BackupList(Model):
    """Backups, the newest first, where they lie, and why the last one failed if it did."""

    folder: str
    schedule: BackupSchedule
    archives: list[ArchiveModel]
    failure: str | None


class CheckedModel(Model):
    """A backup that was restored beside and looked through: what it holds."""

    archive: ArchiveModel
    rows: Annotated[int, Field(description="of all tables")]
    plans: int
    entries: int
    photos: int
    missing_photos: int


class RestoredModel(Model):
    """That the data were replaced, and where those from before are."""

    safety_copy: str


@operation(backup_api, "GET", "/backups", response=BackupList, problems=(503,))
def list_backups(services: Services) -> BackupList:
    """Backups in the folder, and when they are made by themselves."""
    backups, policy = services.backups, backup_policy(services.settings)
    return BackupList(
        folder=str(backups.folder.resolve()),
        schedule=BackupSchedule(
            every=policy.every, newest=policy.newest, weeks=policy.weeks, months=policy.months
        ),
        archives=[_archive(a) for a in backups.all()],
        failure=backups.failure,
    )


@operation(
    backup_api,
    "PUT",
    "/backups/schedule",
    request_model=BackupSchedule,
    response=BackupSchedule,
    problems=(503, 507),
)
def set_backup_schedule(services: Services, body: BackupSchedule) -> BackupSchedule:
    """Set how often backups are made by themselves, and how many stay."""
    store_schedule(services, body)
    return body


@operation(backup_api, "POST", "/backups", response=CheckedModel, status=201, problems=(503, 507))
def make_backup(services: Services) -> CheckedModel:
    """Back up everything, photographs included, and check it by restoring it beside."""
    archive, contents = services.backups.make(backup_policy(services.settings))
    return _checked(archive, contents)


@operation(
    backup_api,
    "GET",
    "/backups/<name>",
    response=None,
    media="application/zip",
    problems=(404, 503),
)
def get_backup(services: Services, name: str) -> Response:
    """A backup as a file."""
    path = services.backups.path(name)
    return send_from_directory(
        path.parent.resolve(), path.name, mimetype="application/zip", as_attachment=True
    )


@operation(backup_api, "POST", "/backups/<name>/check", response=CheckedModel, problems=(404, 422, 503))
def check_backup(services: Services, name: str) -> CheckedModel:
    """Restore a backup beside and look through all of it; nothing of the data is touched."""
    path = services.backups.path(name)
    archive = next(a for a in services.backups.all() if a.name == name)
    return _checked(archive, check_archive(path))


@operation(
    backup_api,
    "POST",
    "/backups/<name>/restore",
    response=RestoredModel,
    problems=(404, 422, 503, 507),
)
def restore_backup(services: Services, name: str) -> RestoredModel:
    """Go back to a backup of the folder."""
    return _restored(services, services.backups.path(name))


@operation(
    backup_api,
    "POST",
    "/restore",
    response=RestoredModel,
    problems=(413, 422, 503, 507),
    largest=LARGEST_ARCHIVE,
    takes="application/zip",
)
def restore_file(services: Services) -> RestoredModel:
    """Go back to a backup that is sent."""
    beside = services.backups.database.path.parent
    with tempfile.TemporaryDirectory(prefix=".noonshade-", dir=beside) as folder:
        path = Path(folder) / "the backup"
        with open(path, "wb") as out:
            while piece := request.stream.read(1 << 20):
                out.write(piece)
        return _restored(services, path)


def _restored(services: Services, path: Path) -> RestoredModel:
    backups = services.backups
    safety = restore_archive(backups.database, backups.files, path)
    services.forget()
    return RestoredModel(safety_copy=str(safety))


def _archive(archive: Archive) -> ArchiveModel:
    return ArchiveModel(name=archive.name, made_at=archive.made_at.isoformat(), bytes=archive.bytes)


def _checked(archive: Archive, contents: Contents) -> CheckedModel:
    return CheckedModel(
        archive=_archive(archive),
        rows=sum(contents.rows.values()),
        plans=contents.rows.get("plans", 0),
        entries=contents.rows.get("entries", 0),
        photos=contents.photos,
        missing_photos=contents.missing_photos,
    )
