"""Writes types/models.d.ts: looks, edits and answers, as the page's scripts have them.

From the Pydantic models, by way of JSON Schema. ``--check`` says whether the file is as it would be written.
"""

import json
import subprocess
import sys
import tempfile
from pathlib import Path

from pydantic import TypeAdapter

from deftarc.core.edit import EDITS
from deftarc.web.api import models
from deftarc.web.look import Look

ROOT = Path(__file__).parents[1]
OUT = ROOT / "types" / "models.d.ts"
ANSWERS = ("State", "BroughtInLayer", "MadeFont", "Went", "Moment", "RenderState", "Refused")


def schema() -> dict:
    """One schema with all of them as definitions."""
    wanted = {
        **{kind.__name__: TypeAdapter(kind) for kind in EDITS.values()},
        "Look": TypeAdapter(Look),
        **{name: TypeAdapter(getattr(models, name)) for name in ANSWERS},
    }
    _, whole = TypeAdapter.json_schemas([(name, "validation", adapter) for name, adapter in wanted.items()])
    definitions = whole["$defs"]
    for each in definitions.values():
        _plain(each)
    return {
        "$defs": definitions,
        "title": "Told",
        "type": "object",
        "properties": {
            "edit": {"oneOf": [{"$ref": f"#/$defs/{kind.__name__}"} for kind in EDITS.values()]},
            **{name: {"$ref": f"#/$defs/{name}"} for name in ("Look", *ANSWERS)},
        },
    }


def _plain(told: object) -> None:
    """Bounds and patterns say nothing to a type, and rows of a limited length would be written out one by one."""
    if isinstance(told, dict):
        for name in ("maxItems", "minItems", "maxLength", "minLength", "pattern", "discriminator", "title"):
            if not isinstance(told.get(name), dict):
                told.pop(name, None)
        for each in told.values():
            _plain(each)
    elif isinstance(told, list):
        for each in told:
            _plain(each)


def written() -> str:
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / "told.json"
        source.write_text(json.dumps(schema()))
        command = ["npx", "json2ts", "-i", str(source), "--additionalProperties", "false", "--unreachableDefinitions",
                   "--bannerComment", "// Made by `make types` from the models of Python."]  # fmt: skip
        done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=True)
    return done.stdout + '\nexport type Edit = NonNullable<Told["edit"]>;\n'


def main() -> None:
    made = written()
    if "--check" in sys.argv:
        if not OUT.exists() or OUT.read_text() != made:
            raise SystemExit("types/models.d.ts is not what the models say: run `make types`.")
        return
    OUT.parent.mkdir(exist_ok=True)
    OUT.write_text(made)


if __name__ == "__main__":
    main()
