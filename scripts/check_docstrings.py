"""Hold the numpydoc form of the core's public functions: the sections that each signature asks for.

Every public module, class and function has a docstring. A public function documents each parameter by its
name, what it returns or yields, and that it raises. Properties need a summary only.
"""

from __future__ import annotations

import ast
import sys
import tomllib
import warnings
from collections.abc import Iterator
from pathlib import Path

from numpydoc.docscrape import NumpyDocString

ROOT = Path(__file__).resolve().parents[1]
Function = ast.FunctionDef | ast.AsyncFunctionDef


def main() -> int:
    """Print what is missing; 1 if anything is."""
    settings = tomllib.loads((ROOT / "pyproject.toml").read_text(encoding="utf-8"))
    exempt = [ROOT / name for name in settings["tool"]["noonshade"]["docstrings"]["exempt"]]
    for name in exempt:
        if not name.exists():
            print(f"pyproject.toml: {name.relative_to(ROOT)} is exempt but does not exist", file=sys.stderr)
            return 1
    found = []
    for path in sorted((ROOT / "noonshade/core").rglob("*.py")):
        if not any(path == e or e in path.parents for e in exempt):
            found += [f"{path.relative_to(ROOT)}:{line}" for line in problems_of(path.read_text("utf-8"))]
    print("\n".join(found), file=sys.stderr)
    return 1 if found else 0


def problems_of(source: str) -> list[str]:
    """What is missing from a module's docstrings, each as ``line: problem``."""
    tree = ast.parse(source)
    found = [] if ast.get_docstring(tree) else ["1: the module has no docstring"]
    return found + list(_of_body(tree.body))


def _of_body(body: list[ast.stmt]) -> Iterator[str]:
    for node in body:
        if not isinstance(node, ast.ClassDef | Function) or node.name.startswith("_"):
            continue
        text = ast.get_docstring(node)
        if text is None:
            yield f"{node.lineno}: {node.name} has no docstring"
        elif isinstance(node, ast.ClassDef):
            yield from _of_body(node.body)
        else:
            yield from (f"{node.lineno}: {node.name}: {p}" for p in _of_function(node, text))


def _of_function(node: Function, text: str) -> Iterator[str]:
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        try:
            doc = NumpyDocString(text)
        except (ValueError, UserWarning) as error:
            yield f"not in numpydoc form: {str(error).splitlines()[0]}"
            return
    if not any(line.strip() for line in doc["Summary"]):
        yield "no summary"
    if _is_property(node):
        return
    arguments = [*node.args.posonlyargs, *node.args.args, *node.args.kwonlyargs]
    wanted = [a.arg for a in arguments if a.arg not in ("self", "cls")]
    named = [name.strip(" *") for p in doc["Parameters"] for name in p.name.split(",")]
    if sorted(named) != sorted(wanted):
        yield f"Parameters are {', '.join(named) or 'none'}, not {', '.join(wanted) or 'none'}"
    if any(not p.desc for p in doc["Parameters"]):
        yield "a parameter has no description"
    returns = "None" if node.returns is None else ast.unparse(node.returns)
    if returns not in ("None", "NoReturn") and not (doc["Returns"] or doc["Yields"]):
        yield f"returns {returns}, but has neither Returns nor Yields"
    raised = {n.exc.func.id for n in ast.walk(node) if _raises_by_name(n)}
    if raised and not doc["Raises"]:
        yield f"raises {', '.join(sorted(raised))}, but has no Raises"


def _raises_by_name(node: ast.AST) -> bool:
    return (
        isinstance(node, ast.Raise)
        and isinstance(node.exc, ast.Call)
        and isinstance(node.exc.func, ast.Name)
    )


def _is_property(node: Function) -> bool:
    names = {d.id for d in node.decorator_list if isinstance(d, ast.Name)}
    return bool(names & {"property", "cached_property"})


if __name__ == "__main__":
    sys.exit(main())
