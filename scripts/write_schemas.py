"""Write what the two halves share, from the code: OpenAPI, JSON Schemas, units and colour scales.

With ``--check`` nothing is written; the exit status says whether the committed files are current.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

import noonshade.web.app  # noqa: F401  (registers the operations)
from noonshade.core import constants
from noonshade.formats.lamp_document import lamp_schema
from noonshade.formats.plan_document import plan_schema
from noonshade.formats.species_document import species_schema
from noonshade.web.http.openapi import openapi

ROOT = Path(__file__).resolve().parents[1]
SHARED = ROOT / "noonshade/shared"
FRONT = ROOT / "frontend/src/shared"


def units() -> dict[str, float]:
    """Factors between core units and the imperial ones that are shown."""
    return {
        "inch_m": constants.INCH_M,
        "ounce_g": constants.OUNCE_G,
        "quart_l": constants.QUART_L,
        "fahrenheit_per_k": constants.FAHRENHEIT_PER_K,
        "fahrenheit_at_0_c": constants.FAHRENHEIT_AT_0_C,
    }


def main() -> int:
    """Write or check; 1 if a committed file has drifted."""
    texts = {
        path: json.dumps(document, indent=2, ensure_ascii=False) + "\n"
        for path, document in {
            ROOT / "frontend/src/api/openapi.json": openapi(),
            ROOT / "docs/plan-2.schema.json": plan_schema(),
            ROOT / "docs/lamp-1.schema.json": lamp_schema(),
            ROOT / "docs/species-2.schema.json": species_schema(),
            SHARED / "units.json": units(),
        }.items()
    }
    # The front end builds within its own folder, so it has copies.
    texts[FRONT / "units.json"] = texts[SHARED / "units.json"]
    for name in ("scales.json", "silhouettes.json", "glossary.json", "ground.json"):
        texts[FRONT / name] = (SHARED / name).read_text(encoding="utf-8")
    drifted = []
    for path, text in texts.items():
        if "--check" not in sys.argv:
            path.parent.mkdir(exist_ok=True)
            path.write_text(text, encoding="utf-8")
        elif not path.is_file() or path.read_text(encoding="utf-8") != text:
            drifted.append(str(path.relative_to(ROOT)))
    if drifted:
        print(f"{', '.join(drifted)} differ from the code; run 'make schemas'", file=sys.stderr)
    return 1 if drifted else 0


if __name__ == "__main__":
    sys.exit(main())
