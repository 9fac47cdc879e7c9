"""Sentences for keepers hold no names of the code: what a rename by machine leaves behind."""

import ast
import re
from collections.abc import Iterator
from pathlib import Path

import pytest

from noonshade.core.phrase import named, named_first, uncapitalized

ROOT = Path(__file__).resolve().parents[1]
NAME_OF_CODE = re.compile(r"\b[a-z]{2,}[A-Z]\w*|\b[A-Z][a-z]+[A-Z]\w*|\b[a-z]+_[a-z_]+\b")


def sentences_of_front_end(source: str) -> list[str]:
    """Strings with a blank that begin with a capital, labels, and text between tags."""
    bare = re.sub(r"/\*.*?\*/|//[^\n]*", "", source, flags=re.S)
    return [
        *re.findall(r'"([A-Z][^"\n]* [^"\n]*)"', bare),
        *(re.sub(r"\$\{[^}]*\}", "", text) for text in re.findall(r"`([A-Z][^`]*)`", bare)),
        *re.findall(r'(?:label|title|word)[=:]\s*"([^"]+)"', bare),
        *re.findall(r">\s*([A-Z][^<>{}=;()]* [^<>{}=;()]*)\s*[<{]", bare),
    ]


def sentences_of_python(source: str) -> Iterator[str]:
    """Strings with a blank that begin like a sentence; docstrings may name code."""
    tree = ast.parse(source)
    documented = (ast.Module, ast.ClassDef, ast.FunctionDef)
    docstrings = {
        id(node.body[0].value)
        for node in ast.walk(tree)
        if isinstance(node, documented) and node.body and isinstance(node.body[0], ast.Expr)
    }
    for node in ast.walk(tree):
        if not isinstance(node, ast.Constant) or id(node) in docstrings:
            continue
        text = node.value
        if isinstance(text, str) and re.match(r"[A-Z][a-z]|[A-Z] ", text) and " " in text:
            yield text


@pytest.mark.parametrize(
    ("source", "found"),
    [
        ('<SelectField label="RackLayout against" />', True),
        ('{ value: "left", label: "Against the left side" }', False),
        ("<h3>CheckPanel of it</h3>", True),
        ("// CheckPanel of it\nconst a = `Undo ${lastChange}`;", False),
    ],
)
def test_names_in_the_front_end_are_found(source: str, found: bool) -> None:
    assert any(NAME_OF_CODE.search(text) for text in sentences_of_front_end(source)) == found


def test_names_in_python_are_found() -> None:
    source = '"""Of a code_name."""\nA = "There is no such code_name"\nB = "There is no such plan"'
    assert [bool(NAME_OF_CODE.search(s)) for s in sentences_of_python(source)] == [True, False]


def test_sentences_of_the_front_end_hold_no_names_of_code() -> None:
    files = [p for p in (ROOT / "frontend/src").rglob("*.ts*") if ".test." not in p.name]
    texts = [
        f"{path.name}: {text}"
        for path in files
        if path.name != "schema.ts"
        for text in sentences_of_front_end(path.read_text(encoding="utf-8"))
        if NAME_OF_CODE.search(text)
    ]
    assert [t for t in texts if not re.search(r"M hvhZ", t)] == []  # The path of an outline.


def test_sentences_of_python_hold_no_names_of_code() -> None:
    texts = [
        f"{path.name}: {text}"
        for path in (ROOT / "noonshade").rglob("*.py")
        for text in sentences_of_python(path.read_text(encoding="utf-8"))
        if NAME_OF_CODE.search(text)
    ]
    assert texts == []


@pytest.mark.parametrize(
    ("label", "within"),
    [
        ("Basking spot", "basking spot"),
        ("UV refuge", "UV refuge"),
        ("T5 tube, strong", "T5 tube, strong"),
        ("LED spot", "LED spot"),
        ("A", "a"),
    ],
)
def test_a_label_within_a_sentence_keeps_its_abbreviations(label: str, within: str) -> None:
    assert uncapitalized(label) == within


@pytest.mark.parametrize(
    ("label", "within"),
    [
        ("Basking lamp", "the basking lamp"),
        ("UV tube", "the UV tube"),
        ("T5 tube", "the T5 tube"),
        ("Thermostat", "the thermostat"),
        ("Lamp 2", "lamp 2"),
        ("Slate slab 3", "slate slab 3"),
        # Names the keeper gave.
        ("Bert", "“Bert”"),
        ("Bert's lamp", "“Bert's lamp”"),
        ("Tube by the race window", "“Tube by the race window”"),
        ("UV tube (copy)", "“UV tube (copy)”"),
        ("2", "“2”"),
    ],
)
def test_things_have_an_article_and_names_are_in_quotes(label: str, within: str) -> None:
    assert named(label) == within
    assert named_first(label)[0] in f"“{within[0].upper()}"
    assert named_first(label).lower() == within.lower()
