"""Functions compiled with numba, and where their machine code is stored.

Numba's own cache notices changes only in the file that defines a function, so a function compiled into a
caller in another file would go stale there. Here the cache is a folder named by a hash of every source
file that holds compiled code: a change in any of them starts a new folder. It lies in the user's cache
directory, so a read-only installation works too. Within it, machine code is found by the name of its module
and not by where that is installed: installations of the same sources share it.
"""

from __future__ import annotations

import hashlib
import os
import shutil
import tempfile
from collections.abc import Callable
from importlib.resources import files
from typing import Any, TypeVar, cast

import numba
from numba.core import caching
from platformdirs import user_cache_dir

_F = TypeVar("_F", bound=Callable[..., Any])

# Every file of the core that may use the decorators below, or whose constants go into machine code, as
# paths or folders within the core.
COMPILED_SOURCES = (
    "compiled.py",
    "constants.py",
    "heat/airflow.py",
    "heat/elimination.py",
    "heat/films.py",
    "heat/layered_air.py",
    "heat/openings.py",
    "heat/stepping.py",
    "heat/streams.py",
    "heat/surface_films.py",
    "light/kernel",
    "moisture/humidity.py",
    "moisture/vapour.py",
)
# Folders of other versions that stay, so that two checkouts do not remove each other's.
_FOLDERS_KEPT = 3
_PREFIX = "compiled-"

# NaN and infinity keep their meaning.
_FAST = {"contract", "arcp", "nsz", "afn", "reassoc"}


def sources_hash() -> str:
    """Hash of all sources of compiled code and of numba's version, 16 hexadecimal digits.

    Returns
    -------
    str
        The hash, which names the folder of the compiled cache.
    """
    digest = hashlib.sha256(numba.__version__.encode())
    core = files("noonshade.core")
    for name in COMPILED_SOURCES:
        place = core.joinpath(*name.split("/"))
        for item in sorted(place.iterdir(), key=lambda i: i.name) if place.is_dir() else [place]:
            if item.name.endswith(".py"):
                digest.update(item.name.encode() + b"\0" + item.read_bytes())
    return digest.hexdigest()[:16]


def cache_folder() -> str:
    """The folder of this version's machine code, made if it is not there; old ones are removed.

    Below ``NUMBA_CACHE_DIR`` if that is set, else below the user's cache directory, or the system's
    temporary directory where that cannot be written.

    Returns
    -------
    str
        The folder of this version's machine code, made if it is not there.
    """
    given = os.environ.get("NUMBA_CACHE_DIR")
    own = os.path.join(
        tempfile.gettempdir(), f"noonshade-{os.getuid() if hasattr(os, 'getuid') else 'cache'}"
    )
    for base in (given or user_cache_dir("noonshade", appauthor=False), own):
        folder = os.path.join(base, _PREFIX + sources_hash())
        try:
            os.makedirs(folder, mode=0o700, exist_ok=True)
            os.utime(folder)
        except OSError:
            continue
        if os.access(folder, os.W_OK):
            _remove_old(base, folder)
            return folder
    return tempfile.mkdtemp(prefix="noonshade-")


def _remove_old(base: str, newest: str) -> None:
    folders = [e for e in os.scandir(base) if e.name.startswith(_PREFIX) and e.is_dir()]
    folders.sort(key=lambda e: e.stat().st_mtime, reverse=True)
    for entry in [e for e in folders if e.path != newest][_FOLDERS_KEPT - 1 :]:
        shutil.rmtree(entry.path, ignore_errors=True)


class ByModule(caching._CacheLocator):
    """Where numba finds the machine code of a function of this package, by the name of its module.

    Parameters
    ----------
    function : callable
        The function.
    """

    def __init__(self, function: Callable[..., Any]) -> None:
        self._module = function.__module__
        self._line = function.__code__.co_firstlineno

    def get_cache_path(self) -> str:
        """The folder of the module's machine code.

        Returns
        -------
        str
            The folder.
        """
        return os.path.join(str(numba.config.CACHE_DIR), self._module)  # type: ignore[attr-defined]

    def get_source_stamp(self) -> str:
        """What machine code must be of: the folder's name has it already.

        Returns
        -------
        str
            The hash of all sources.
        """
        return _HASH

    def get_disambiguator(self) -> str:
        """What tells functions of the same name apart.

        Returns
        -------
        str
            The line a function begins in.
        """
        return str(self._line)

    @classmethod
    def from_function(cls, py_func: Callable[..., Any], py_file: str) -> ByModule | None:  # noqa: ARG003
        """A locator for a function of this package, None for others.

        Parameters
        ----------
        py_func : callable
            The function.
        py_file : str
            Its file, which does not matter.

        Returns
        -------
        ByModule or None
            The locator.
        """
        if not py_func.__module__.startswith("noonshade."):
            return None
        made = cls(py_func)
        os.makedirs(made.get_cache_path(), exist_ok=True)
        return made


# Before the first decorator: numba asks for the folder when a function is decorated.
_HASH = sources_hash()
numba.config.CACHE_DIR = cache_folder()  # type: ignore[attr-defined]
numba.config.CACHE_LOCATOR_CLASSES = (  # type: ignore[attr-defined]
    f"{__name__}.{ByModule.__name__},InTreeCacheLocator,UserWideCacheLocator"
)


def _check_source(function: Callable[..., Any]) -> None:
    name = function.__module__.removeprefix("noonshade.core.").replace(".", "/")
    if not any(name + ".py" == source or name.startswith(source + "/") for source in COMPILED_SOURCES):
        raise RuntimeError(f"{function.__module__} holds compiled code: add it to COMPILED_SOURCES")


def compiled(function: _F) -> _F:
    """Compile a function when it is first called; it releases the interpreter's lock while it runs.

    Parameters
    ----------
    function : _F
        The function.

    Returns
    -------
    _F
        Compile a function when it is first called.
    """
    _check_source(function)
    made: Any = numba.njit(cache=True, nogil=True, error_model="numpy", fastmath=_FAST)(function)
    return cast(_F, made)


def inlined(function: _F) -> _F:
    """Compile a function into its callers, without reference counting, which it must not need.

    Parameters
    ----------
    function : _F
        The function.

    Returns
    -------
    _F
        The compiled function.
    """
    _check_source(function)
    options: dict[str, Any] = {"_nrt": False, "forceinline": True}
    made: Any = numba.njit(cache=True, nogil=True, error_model="numpy", fastmath=_FAST, **options)(function)
    return cast(_F, made)


def compiled_exactly(function: _F) -> _F:
    """Compile a function as ``compiled`` does, in the order of operations it is written in.

    Parameters
    ----------
    function : _F
        The function.

    Returns
    -------
    _F
        The compiled function; its sums are not reordered.
    """
    _check_source(function)
    made: Any = numba.njit(cache=True, nogil=True, error_model="numpy")(function)
    return cast(_F, made)
