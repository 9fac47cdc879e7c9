"""The package, built and installed into an empty environment away from the checkout, runs there."""

from __future__ import annotations

import ast
import json
import os
import re
import shutil
import signal
import subprocess
import sys
import urllib.request
import venv
import zipfile
from pathlib import Path
from typing import Any

import numba
import pytest

from noonshade.version import __version__

ROOT = Path(__file__).resolve().parents[1]


@pytest.fixture(scope="module")
def wheel(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The wheel of this checkout, built from a copy so that nothing is left in it."""
    source = tmp_path_factory.mktemp("source")
    for name in ("pyproject.toml", "MANIFEST.in", "README.md", "CHANGELOG.md", "LICENSE"):
        shutil.copy(ROOT / name, source)
    shutil.copytree(
        ROOT / "noonshade", source / "noonshade", ignore=shutil.ignore_patterns("__pycache__", "*.nb?")
    )
    out = tmp_path_factory.mktemp("dist")
    command = [sys.executable, "-m", "pip", "wheel", "--quiet", "--no-deps", "--wheel-dir", str(out), "."]
    subprocess.run(command, cwd=source, check=True, timeout=150)
    return next(out.glob("*.whl"))


def test_the_wheel_holds_the_front_end_the_data_and_its_types(wheel: Path) -> None:
    names = set(zipfile.ZipFile(wheel).namelist())
    assert f"noonshade-{__version__}-" in wheel.name
    for name in (
        "noonshade/py.typed",
        "noonshade/web/static/index.html",
        "noonshade/shared/scales.json",
        "noonshade/store/migrations/0001_plans.sql",
        "noonshade/catalog/data/species/lizards.toml",
        "noonshade/demo/collared-lizard.json",
        "noonshade/formats/printed/fonts/text.woff2",
    ):
        assert name in names, name
    assert any(re.fullmatch(r"noonshade/web/static/assets/.*\.js", n) for n in names)
    assert not [n for n in names if n.startswith(("tests/", "frontend/"))]


def test_every_imported_distribution_is_declared() -> None:
    text = (ROOT / "pyproject.toml").read_text(encoding="utf-8")
    declared = set(re.findall(r'^  "([a-z0-9-]+)>=', text, re.M))
    called = {"PIL": "pillow", "dateutil": "python-dateutil"}
    imported = set()
    for path in (ROOT / "noonshade").rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            names = [a.name for a in node.names] if isinstance(node, ast.Import) else []
            if isinstance(node, ast.ImportFrom) and node.module:
                names = [node.module]
            roots = {name.split(".")[0] for name in names} - {"noonshade", "_typeshed"}
            imported |= {called.get(r, r) for r in roots - set(sys.stdlib_module_names)}
    assert imported <= declared
    # Time zones are data, which nothing imports.
    assert declared - imported == {"tzdata"}


@pytest.mark.timeout(600)
def test_the_installed_package_serves_the_demo_and_evaluates_a_plan(wheel: Path, tmp_path: Path) -> None:
    venv.create(tmp_path / "env", with_pip=False)
    # Of thousands of modules few are used: they are compiled to bytecode when they are.
    install = [sys.executable, "-m", "pip", "--python", str(tmp_path / "env"), "install", "--no-compile"]
    quietly = ["--quiet", "--disable-pip-version-check", "-c", str(ROOT / "requirements.txt")]
    subprocess.run([*install, *quietly, str(wheel)], check=True, timeout=400, cwd=tmp_path)
    environment = {
        "PATH": str(tmp_path / "env" / "bin"),
        "HOME": str(tmp_path),
        "OPENBLAS_NUM_THREADS": "1",
        # Same sources, so the machine code of the checkout serves; to compile anew takes minutes.
        "NUMBA_CACHE_DIR": str(Path(str(numba.config.CACHE_DIR)).parent),
        **{k: v for k, v in os.environ.items() if k.startswith("OPENBLAS_")},
    }
    command = ["noonshade", "serve", "--demo", "--port", "0", "--data", "rooms"]
    with subprocess.Popen(
        command, stdout=subprocess.PIPE, text=True, cwd=tmp_path, env=environment
    ) as server:
        try:
            assert server.stdout is not None
            ready = re.search(r"http://127\.0\.0\.1:\d+/", server.stdout.readline())
            assert ready is not None
            address = ready.group()
            page = _read(address).decode()
            script = re.search(r'src="/(assets/[^"]+\.js)"', page)
            assert script is not None
            assert len(_read(address + script.group(1))) > 100_000
            plan = json.loads(_read(address + "api/plans/collared-lizard"))
            body = json.dumps({"document": plan["document"]}).encode()
            found = json.loads(_read(address + "api/evaluate", body))
            assert {c["id"] for c in found["checks"]} >= {"basking:uvi", "night:air_temperature"}
        finally:
            server.send_signal(signal.SIGTERM)
            assert server.wait(timeout=30) == 0


def _read(address: str, body: bytes | None = None) -> bytes:
    request = urllib.request.Request(address, body, {"Content-Type": "application/json"})
    with urllib.request.urlopen(request, timeout=300) as answer:
        data: Any = answer.read()
    return bytes(data)
