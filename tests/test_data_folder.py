"""The data folder: one program at a time, readable by its owner only."""

from __future__ import annotations

import os
import stat
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from noonshade.cli import main
from noonshade.services.application import DATA_FILE, open_services
from noonshade.store.data_folder import FolderInUseError, can_write, lock_folder, prepare_folder
from noonshade.web import AppSettings, create_app
from tests.shared import seeded

ROOT = Path(__file__).parents[1]


@pytest.fixture(autouse=True)
def usual_umask() -> Iterator[None]:
    before = os.umask(0o022)
    yield
    os.umask(before)


def others_may(path: Path) -> int:
    return stat.S_IMODE(path.stat().st_mode) & 0o077


def test_data_and_backups_are_readable_by_their_owner_only(tmp_path: Path) -> None:
    folder = tmp_path / "data"
    prepare_folder(folder, DATA_FILE)
    services = open_services(folder / DATA_FILE)
    services.designs.workers.close()
    written = [folder, *folder.rglob("*")]
    assert folder / DATA_FILE in written
    assert [p for p in written if others_may(p)] == []


def test_an_older_folder_of_ours_is_closed_and_another_is_left_alone(tmp_path: Path) -> None:
    older = tmp_path / "data"
    older.mkdir(mode=0o755)
    (older / DATA_FILE).touch()
    other = tmp_path / "home"
    other.mkdir(mode=0o755)
    (other / "letters").touch()
    prepare_folder(older, DATA_FILE)
    prepare_folder(other, DATA_FILE)
    assert not others_may(older)
    assert stat.S_IMODE(other.stat().st_mode) == 0o755


def test_a_folder_is_used_by_one_program_at_a_time(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    held = lock_folder(tmp_path)
    assert held is not None
    with pytest.raises(FolderInUseError, match=rf"process {os.getpid()}\) uses the folder"):
        lock_folder(tmp_path)
    assert main(["restore", "none.zip", "--data", str(tmp_path)]) == 2
    assert "another Noon Shade" in capsys.readouterr().err
    held.close()
    again = lock_folder(tmp_path)
    assert again is not None
    again.close()


def test_a_second_server_on_an_empty_folder_says_who_has_it(tmp_path: Path) -> None:
    command = [sys.executable, "-m", "noonshade", "serve", "--port", "0", "--data", str(tmp_path / "new")]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, cwd=ROOT) as first:
        try:
            assert first.stdout is not None
            assert "ready at" in first.stdout.readline()
            second = subprocess.run(
                command, capture_output=True, text=True, cwd=ROOT, timeout=60, check=False
            )
            assert second.returncode == 2
            assert f"another Noon Shade (process {first.pid}) uses the folder" in second.stderr
        finally:
            first.terminate()
            first.wait(30)


def test_a_folder_that_may_only_be_read_is_read(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    data_file = seeded(tmp_path / "data" / "noonshade.db")
    before = sorted(p.name for p in data_file.parent.iterdir())
    monkeypatch.setattr(os, "access", lambda path, mode: not mode & os.W_OK)
    assert not can_write(data_file.parent, data_file.name)
    services = open_services(data_file, reads_only=True)
    app = create_app(AppSettings(data_file=data_file), services)
    with app.test_client() as client:
        assert client.get("/api/health").get_json()["reads_only"] is True
        assert client.get("/api/plans/corn-snake").status_code == 200
        refused = client.delete("/api/plans/corn-snake")
        assert (refused.status_code, refused.get_json()["type"]) == (503, "/problems/read-only")
        assert client.get("/api/plans/corn-snake").status_code == 200
    # Not even the files SQLite puts beside its own.
    assert sorted(p.name for p in data_file.parent.iterdir()) == before


def test_a_folder_that_may_be_written_says_so(tmp_path: Path) -> None:
    data_file = seeded(tmp_path / "data" / "noonshade.db")
    assert can_write(data_file.parent, data_file.name)
    with create_app(AppSettings(data_file=data_file)).test_client() as client:
        assert client.get("/api/health").get_json()["reads_only"] is False
