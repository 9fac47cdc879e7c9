"""Write the OpenAPI document and the plan's JSON Schema from the code.

With ``--check`` nothing is written; the exit status says whether the committed files are current.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

import noonshade.web.app  # noqa: F401  (registers the operations)
from noonshade.formats.lamp_document import lamp_schema
from noonshade.formats.plan_document import plan_schema
from noonshade.formats.species_document import species_schema
from noonshade.web.http.routing import openapi

ROOT = Path(__file__).resolve().parents[1]


def main() -> int:
    """Write or check; 1 if a committed file has drifted."""
    documents = {
        ROOT / "frontend/src/api/openapi.json": openapi(),
        ROOT / "docs/plan-2.schema.json": plan_schema(),
        ROOT / "docs/lamp-1.schema.json": lamp_schema(),
        ROOT / "docs/species-2.schema.json": species_schema(),
    }
    drifted = []
    for path, document in documents.items():
        text = json.dumps(document, indent=2, ensure_ascii=False) + "\n"
        if "--check" not in sys.argv:
            path.write_text(text, encoding="utf-8")
        elif not path.is_file() or path.read_text(encoding="utf-8") != text:
            drifted.append(str(path.relative_to(ROOT)))
    if drifted:
        print(f"{', '.join(drifted)} differ from the code; run 'make schemas'", file=sys.stderr)
    return 1 if drifted else 0


if __name__ == "__main__":
    sys.exit(main())
