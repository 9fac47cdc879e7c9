"""Commands that back everything up and bring it back."""

from __future__ import annotations

import argparse

from noonshade.cli.inputs import (
    DATA_FILE,
    OK,
    PHOTO_FOLDER,
    BadInput,
)


def back_up(options: argparse.Namespace) -> int:
    """Everything to one archive."""
    from noonshade.store.archive import write_archive
    from noonshade.store.database import Database
    from noonshade.store.photo_files import PhotoFiles

    source = options.data / DATA_FILE
    if not source.is_file():
        raise BadInput(f"no data file at {source}; name its folder with --data")
    files = PhotoFiles(options.data / PHOTO_FOLDER)
    made = write_archive(Database.open(source), files, options.file)
    print(
        f"{source} backed up to {options.file}: {sum(made.rows.values())} rows, {made.photos} photographs, "
        f"{made.bytes / 1e6:.1f} MB; restored beside and checked"
    )
    if made.missing_photos:
        print(f"{made.missing_photos} photographs were lost or damaged before and are not in it")
    return OK


def restore(options: argparse.Namespace) -> int:
    """Everything back from an archive."""
    import zipfile

    from noonshade.store.archive import restore_archive
    from noonshade.store.data_folder import lock_folder, prepare_folder
    from noonshade.store.database import Database
    from noonshade.store.photo_files import PhotoFiles

    prepare_folder(options.data, DATA_FILE)
    # A program that runs would write on into what is replaced.
    lock = lock_folder(options.data)
    target = Database.open(options.data / DATA_FILE)
    if options.file.is_file() and not zipfile.is_zipfile(options.file):
        # A copy of the data file alone, as is made before its schema changes.
        safety = target.restore(options.file)
    else:
        safety = restore_archive(target, PhotoFiles(options.data / PHOTO_FOLDER), options.file)
    if lock is not None:
        lock.close()
    print(f"{target.path} is now as in {options.file}; what was there before is in {safety}")
    return OK
