"""What the page is given with itself: lists that Python has and no script keeps a copy of, and the scripts it loads."""

from importlib import import_module
from pathlib import Path
from typing import Any

from deftarc.core.base.register import more
from deftarc.core.document import TAGS
from deftarc.core.document.artwork import ARTWORKS
from deftarc.core.document.eases import EASES
from deftarc.core.document.effects import EFFECTS
from deftarc.core.document.properties import GROWING, PROPERTIES
from deftarc.web.actions import actions_told

SCRIPTS = Path(__file__).parent / "static" / "js"


def page_lists() -> dict[str, Any]:
    """For the page's scripts: tags, artworks that can be added by a word, eases, and facts about properties."""
    return {
        "tags": list(TAGS),
        "artworks": [
            {"kind": name, "label": kind.label, "icon": kind.icon} for name, kind in ARTWORKS.items() if kind.icon
        ],
        "eases": [ease.id for ease in EASES.values()],
        "growing": sorted(GROWING),
        "effects": list(EFFECTS),
        "actions": actions_told(),
        "properties": {
            facts.id: {"label": facts.label, "unit": facts.unit, "kind": facts.kind} for facts in PROPERTIES.values()
        },
    }


def more_folders() -> dict[str, Path]:
    """By package that adds to Deft Arc, the folder of scripts and styles it brings along."""
    out = {}
    for name in more():
        where = import_module(name).__file__
        folder = Path(where).parent / "static" if where else None
        if folder is not None and folder.is_dir():
            out[name] = folder
    return out


def effect_scripts() -> list[str]:
    """The addresses of the scripts that paint effects on the canvas, and of those that packages bring along."""
    own = [f"/static/js/effects/{file.name}" for file in sorted((SCRIPTS / "effects").glob("*.js"))]
    brought = [
        f"/static/more/{name}/{file.name}"
        for name, folder in more_folders().items()
        for file in sorted(folder.glob("*.js"))
    ]
    return [*own, *brought]
