"""The command that serves the application."""

from __future__ import annotations

import argparse
import errno
import logging
import os
import socket
import sys
import threading
from datetime import date
from functools import partial
from pathlib import Path
from typing import TextIO

from noonshade.cli.inputs import (
    DATA_FILE,
    OK,
    BadInput,
)

BACKLOG = 1024  # connections that wait to be accepted; as many as the server itself allows


def run_server(options: argparse.Namespace) -> int:
    """Serve the application until it is stopped."""
    import waitress

    from noonshade.demo import seed, seed_room
    from noonshade.demo.history import seed_history
    from noonshade.store.backups import keep_backing_up
    from noonshade.web import AppSettings, create_app
    from noonshade.web.backups.routes import LARGEST_ARCHIVE, backup_policy
    from noonshade.web.http.security import LOOPBACK, is_loopback

    if not 1 <= options.port <= 65535:
        raise BadInput(f"--port {options.port}: must be 1 to 65535")
    local = is_loopback(options.host)
    passphrase = _passphrase(options.passphrase_file)
    if not local and not passphrase:
        raise BadInput(
            f"--host {options.host} opens the program to the network: set a passphrase with "
            "--passphrase-file or NOONSHADE_PASSPHRASE first"
        )
    listener = _bound(options.host, options.port)
    folder = options.data or Path("demo-data" if options.demo else "data")
    app = create_app(
        AppSettings(
            data_file=folder / DATA_FILE,
            demo=options.demo,
            allowed_hosts=LOOPBACK if local else None,
            passphrase=None if local else passphrase,
            backups=options.backups,
        )
    )
    if options.demo:
        held, today = app.extensions, date.today()
        seed(held["plans"], today)
        seed_room(held["settings"])
        seed_history(held["logbook"], held["tasks"], held["installations"], held["readings"], today)
    stop = threading.Event()
    threading.Thread(
        target=keep_backing_up,
        args=(app.extensions["backups"], partial(backup_policy, app.extensions["settings"]), stop),
        daemon=True,
    ).start()
    address = f"http://{'[' + options.host + ']' if ':' in options.host else options.host}:{options.port}/"
    _announce(sys.stdout, address, folder, options.demo)
    # The application answers oversized requests itself, with a problem document; far larger ones are
    # cut off before they fill the disk.
    waitress.serve(
        app,
        sockets=[listener],
        threads=4,
        ident=None,
        max_request_body_size=2 * LARGEST_ARCHIVE,
    )
    # What is still being worked out for pages that are gone breaks off as the process ends.
    logging.disable()
    return OK


def _announce(out: TextIO, address: str, folder: Path, demo: bool) -> None:
    print(f"Noon Shade {'demo ' if demo else ''}is ready at {address}", file=out)
    print(f"Data: {folder.resolve()}   Stop with Ctrl-C", file=out, flush=True)


def _passphrase(path: Path | None) -> str | None:
    if path is None:
        return os.environ.get("NOONSHADE_PASSPHRASE") or None
    try:
        text = path.read_text(encoding="utf-8").strip()
    except (OSError, UnicodeDecodeError) as error:
        raise BadInput(f"the passphrase file {path} cannot be read: {error}") from error
    if len(text) < 8:
        raise BadInput(f"the passphrase in {path} must have at least 8 characters")
    return text


def _bound(host: str, port: int) -> socket.socket:
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    listener = socket.socket(family, socket.SOCK_STREAM)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind((host, port))
        # From here on connections wait for the server, so that none is refused once it says it is ready.
        listener.listen(BACKLOG)
    except OSError as error:
        listener.close()
        if error.errno == errno.EADDRINUSE:
            raise BadInput(
                f"port {port} is in use by another program; choose another with --port "
                f"(make demo PORT={port + 1})"
            ) from error
        raise BadInput(f"cannot listen on {host}, port {port}: {error.strerror or error}") from error
    return listener
