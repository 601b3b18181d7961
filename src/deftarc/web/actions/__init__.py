"""The page's actions, collected from a file for each group of them; and what a hand does that is no action."""

from typing import Any

from deftarc.core.base.register import collect
from deftarc.web.actions.action import ACTIONS, GROUPS, SECTIONS, Action, add, told

collect(__name__, __path__, ("action",))


def actions_told() -> dict[str, Any]:
    """For the page's scripts."""
    return {
        "list": [
            {"id": each.id, "words": each.words, "off": each.off, "strokes": each.strokes, "stroke": each.stroke,
             "group": each.group, "about": each.about, "beside": each.beside, "pointed": each.pointed,
             "menus": [list(m) for m in each.menus]}
            for each in ACTIONS.values()
        ],
        "sections": SECTIONS,
    }  # fmt: skip


def sheet() -> list[tuple[str, list[tuple[str, str]]]]:
    """The keyboard sheet: by group, strokes with what they do, then what a hand does with a key held."""
    from deftarc.web.actions.gestures import GESTURES

    out = []
    for group in GROUPS:
        rows = [
            (" or ".join(map(told, each.strokes[:2])), each.words + (f": {each.about}" if each.about else ""))
            for each in ACTIONS.values() if each.group == group and each.strokes
        ]  # fmt: skip
        out.append((group, [*rows, *GESTURES.get(group, ())]))
    out.append(("Numbers", list(GESTURES["Numbers"])))
    return [(group, rows) for group, rows in out if rows]


__all__ = ["ACTIONS", "GROUPS", "Action", "actions_told", "add", "sheet"]
