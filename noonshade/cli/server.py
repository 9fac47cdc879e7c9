"""The command that serves the application."""

from __future__ import annotations

import argparse
import errno
import os
import socket
import sys
import threading
from datetime import date
from functools import partial
from pathlib import Path
from typing import TextIO

from noonshade.cli.inputs import OK, BadInput

# Connections that wait to be accepted; as many as the server itself allows.
BACKLOG = 1024
# A passphrase from a file or from the environment is no shorter.
LEAST_PASSPHRASE = 8


def run_server(options: argparse.Namespace) -> int:
    """Serve the application until SIGINT or SIGTERM."""
    from noonshade.cli.guarded import make_server
    from noonshade.cli.serving import serve_until_stopped
    from noonshade.demo import seed, seed_room
    from noonshade.demo.history import seed_history
    from noonshade.services.application import DATA_FILE, open_services
    from noonshade.services.background_results import BackgroundResults
    from noonshade.services.backups import backup_policy
    from noonshade.services.plans import read_documents
    from noonshade.store.backups import keep_backing_up
    from noonshade.store.data_folder import can_write, lock_folder, prepare_folder
    from noonshade.web import AppSettings, create_app
    from noonshade.web.http.admission import admits_to, largest_body, refuse_too_large
    from noonshade.web.http.delegation import Delegate
    from noonshade.web.http.security import LOOPBACK, is_loopback

    if not 0 <= options.port <= 65535:
        raise BadInput(f"--port {options.port}: must be 0 (any free port) to 65535")
    local = is_loopback(options.host)
    passphrase = _passphrase(options.passphrase_file)
    if not local and not passphrase:
        raise BadInput(
            f"--host {options.host} opens the program to the network: set a passphrase with "
            "--passphrase-file or NOONSHADE_PASSPHRASE first"
        )
    listener = _bound(options.host, options.port)
    folder = options.data or Path("demo-data" if options.demo else "data")
    prepare_folder(folder, DATA_FILE)
    lock = lock_folder(folder)
    reads_only = not can_write(folder, DATA_FILE)
    services = open_services(folder / DATA_FILE, options.backups, reads_only=reads_only)
    app = create_app(
        AppSettings(
            data_file=folder / DATA_FILE,
            demo=options.demo,
            allowed_hosts=LOOPBACK if local else None,
            passphrase=None if local else passphrase,
        ),
        services,
    )
    delegate = app.delegate = Delegate(app.settings)
    services.designs.workers = delegate.pools["heavy"]
    services.computing.elsewhere = lambda function, arguments: delegate.compute(
        function, arguments, services.library.generation
    )
    if options.demo and not reads_only:
        today = date.today()
        seed(services.plans, today)
        seed_room(services.settings)
        seed_history(services.logbook, services.tasks, services.installations, services.readings, today)
    background = BackgroundResults(
        services.results,
        lambda wanted, gone: delegate.compute_behind(wanted, gone, services.library.generation),
        # One process is left for what a keeper waits for, where there are several.
        at_a_time=max(1, delegate.pools["heavy"].count - 1),
    )
    # Before the processes load, which takes all of a small machine: then the room opens at once.
    read_documents(services)
    services.results.now().known()
    delegate.start()
    background.start()

    def stopping() -> None:
        """What is being computed is given up; it is computed again after the next start."""
        background.close()
        delegate.close()

    stop = threading.Event()
    backing_up = threading.Thread(
        target=keep_backing_up,
        args=(services.backups, partial(backup_policy, services.settings), stop),
        daemon=True,
    )
    if not reads_only:
        backing_up.start()
    server = make_server(app, listener, admits_to(app), largest_body, refuse_too_large)
    port = listener.getsockname()[1]
    host = f"[{options.host}]" if ":" in options.host else options.host
    serve_until_stopped(
        server,
        ready=lambda: _announce(sys.stdout, f"http://{host}:{port}/", folder, options.demo),
        stopping=stopping,
    )
    stop.set()
    if not reads_only:
        backing_up.join(timeout=5.0)
    if lock is not None:
        lock.close()
    return OK


def _announce(out: TextIO, address: str, folder: Path, demo: bool) -> None:
    print(f"Noon Shade {'demo ' if demo else ''}is ready at {address}", file=out)
    print(f"Data: {folder.resolve()}   Stop with Ctrl-C", file=out, flush=True)


def _passphrase(path: Path | None) -> str | None:
    where = "NOONSHADE_PASSPHRASE" if path is None else str(path)
    if path is None:
        text = os.environ.get("NOONSHADE_PASSPHRASE", "").strip()
        if not text:
            return None
    else:
        try:
            text = path.read_text(encoding="utf-8").strip()
        except (OSError, UnicodeDecodeError) as error:
            raise BadInput(f"the passphrase file {path} cannot be read: {error}") from error
    if len(text) < LEAST_PASSPHRASE:
        raise BadInput(f"the passphrase in {where} must have at least {LEAST_PASSPHRASE} characters")
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
