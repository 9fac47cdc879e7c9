"""The folder of the compiled functions' machine code."""

import os
import shutil
from collections.abc import Callable
from pathlib import Path

import pytest

from noonshade.core import compiled


@pytest.fixture
def sources(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """A copy of the core's sources, hashed in place of the real ones."""
    copy = tmp_path / "core"
    shutil.copytree(Path(compiled.__file__).parent, copy, ignore=shutil.ignore_patterns("__pycache__"))
    monkeypatch.setattr(compiled, "files", lambda _: copy)
    return copy


@pytest.mark.parametrize("changed", compiled.COMPILED_SOURCES)
def test_a_change_in_any_compiled_source_names_another_folder(sources: Path, changed: str) -> None:
    place = sources / changed
    file = max(place.glob("*.py")) if place.is_dir() else place
    before = compiled.sources_hash()
    assert before == compiled.sources_hash()
    file.write_text(file.read_text(encoding="utf-8") + "# changed\n", encoding="utf-8")
    assert compiled.sources_hash() != before


def test_a_change_elsewhere_names_the_same_folder(sources: Path) -> None:
    before = compiled.sources_hash()
    (sources / "evaluate.py").write_text("", encoding="utf-8")
    assert compiled.sources_hash() == before


def test_older_folders_are_removed_and_other_files_are_not(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    for age in range(1, 6):
        old = tmp_path / f"compiled-{age}"
        old.mkdir()
        os.utime(old, (1_000_000 - age, 1_000_000 - age))
    (tmp_path / "other").mkdir()
    monkeypatch.setenv("NUMBA_CACHE_DIR", str(tmp_path))
    newest = Path(compiled.cache_folder())
    assert newest.parent == tmp_path
    assert {p.name for p in tmp_path.iterdir()} == {newest.name, "compiled-1", "compiled-2", "other"}


def test_where_the_cache_directory_cannot_be_written_the_temporary_directory_is_used(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    no_folder = tmp_path / "a file"
    no_folder.write_text("", encoding="utf-8")
    temporary = tmp_path / "temporary"
    temporary.mkdir()
    monkeypatch.setenv("NUMBA_CACHE_DIR", str(no_folder))
    monkeypatch.setattr(compiled.tempfile, "gettempdir", lambda: str(temporary))
    folder = Path(compiled.cache_folder())
    assert temporary in folder.parents
    assert folder.is_dir()


@pytest.mark.parametrize("decorator", [compiled.compiled, compiled.inlined, compiled.compiled_exactly])
def test_a_compiled_function_in_an_undeclared_file_is_refused(decorator: Callable[..., object]) -> None:
    def double(x: float) -> float:
        return 2 * x

    double.__module__ = "noonshade.core.heat.network"
    with pytest.raises(RuntimeError, match="add it to COMPILED_SOURCES"):
        decorator(double)


def test_installations_of_the_same_sources_share_their_machine_code() -> None:
    def double(x: float) -> float:
        return 2 * x

    assert compiled.ByModule.from_function(double, __file__) is None
    double.__module__ = "noonshade.core.heat.stepping"
    here, there = (compiled.ByModule.from_function(double, f"/{place}/stepping.py") for place in "ab")
    assert here is not None
    assert there is not None
    assert here.get_cache_path() == there.get_cache_path()
    assert Path(here.get_cache_path()).parent == Path(str(compiled.numba.config.CACHE_DIR))
    assert here.get_source_stamp() == compiled.sources_hash()
