"""The check that holds the numpydoc form of the core can fail, for each thing it asks for."""

import runpy
from collections.abc import Callable
from pathlib import Path

import pytest

SCRIPT = Path(__file__).parents[1] / "scripts/check_docstrings.py"

GOOD = '''"""A module."""

def sum_of(a: float, *, b: float = 0.0) -> float:
    """Sum of two numbers.

    Parameters
    ----------
    a, b : float
        The numbers, 1.

    Returns
    -------
    float
        Their sum, 1.

    Raises
    ------
    ValueError
        If a is negative.
    """
    if a < 0:
        raise ValueError(a)
    return a + b

def _private(a):
    return a

class Table:
    """Rows."""

    @property
    def rows(self) -> int:
        """How many."""
        return 1
'''


@pytest.fixture(scope="module")
def problems_of() -> Callable[[str], list[str]]:
    found: Callable[[str], list[str]] = runpy.run_path(str(SCRIPT))["problems_of"]
    return found


def test_a_module_in_the_form_has_no_problems(problems_of: Callable[[str], list[str]]) -> None:
    assert problems_of(GOOD) == []


@pytest.mark.parametrize(
    ("written", "instead", "problem"),
    [
        ('"""A module."""', "", "1: the module has no docstring"),
        ('"""Rows."""', "", "28: Table has no docstring"),
        ('"""How many."""', "", "32: rows has no docstring"),
        ("a, b : float", "a : float", "3: sum_of: Parameters are a, not a, b"),
        ("a, b : float", "a, b, c : float", "3: sum_of: Parameters are a, b, c, not a, b"),
        ("        The numbers, 1.\n", "", "3: sum_of: a parameter has no description"),
        (
            "    Returns\n    -------\n    float\n        Their sum, 1.\n",
            "",
            "3: sum_of: returns float, but has neither Returns nor Yields",
        ),
        (
            "    Raises\n    ------\n    ValueError\n        If a is negative.\n",
            "",
            "3: sum_of: raises ValueError, but has no Raises",
        ),
        ("Sum of two numbers.\n", "\n", "3: sum_of: no summary"),
    ],
)
def test_what_is_missing_is_named_with_its_line(
    problems_of: Callable[[str], list[str]], written: str, instead: str, problem: str
) -> None:
    assert written in GOOD
    assert problems_of(GOOD.replace(written, instead)) == [problem]
