"""An action of the page: what it is called, its strokes, and in which menus it stands.

What it does, and when it can be done, is said by the page's scripts under the same id (``static/js/actions.js``).
"""

from dataclasses import dataclass

from deftarc.core.base.register import Register

#: Keys whose names are not what is printed on them.
TOLD = {
    " ": "Space", ",": ",", ".": ".", "ArrowUp": "↑", "ArrowDown": "↓", "ArrowLeft": "←", "ArrowRight": "→",
    "PageUp": "Page Up", "PageDown": "Page Down",
}  # fmt: skip
#: The sections of the keyboard sheet and of the list of actions, in order.
GROUPS = ("Playing", "Markers", "Keys", "The motion path", "Layers", "The pair", "Looking", "Scenes and files")
#: What each menu's sections are, from the top.
SECTIONS: dict[str, tuple[str, ...]] = {
    "layer": ("itself", "scene", "motion", "follows", "span", "artwork", "effects", "shown", "gone"),
    "ruler": ("range", "loop", "marks"),
    "tie": ("itself", "gone"),
    "marker": ("itself", "time", "colour", "gone"),
    "empty": ("add", "scene"),
    "pair": ("fit", "curve", "beyond"),
    "property": ("key", "motion", "follows", "link", "axes"),
    "segment": ("ease", "shape", "more"),
    "bead": ("copy", "key", "many", "joint", "ease", "beyond", "more"),
    "side": ("type", "joint"),
    "curve": ("shown", "colour"),
    "scene": ("scene",),
    "play": ("play", "range", "loop", "speed"),
    "fit-picture": ("fit",),
    "lanes": ("fold",),
    "align": ("one another", "spread", "frame"),
    "tag": ("colour",),
    "ease": ("css", "kept"),
    "points": ("point", "outline"),
    "path-point": ("joint", "time"),
    "path": ("pace", "shape", "make", "new"),
    "view": ("shown", "snap"),
    "many": ("many", "copy"),
    "push": ("what", "about"),
}


@dataclass(frozen=True)
class Action:
    """``strokes`` are keys as a browser names them, small letters, with ``Ctrl+``, ``Alt+`` and ``Shift+`` before them;
    the first is the one that is shown. ``off`` are its words while what it switches is on. ``menus`` are pairs of a
    menu and a section of it. One that stands only in menus of what is pointed at is ``pointed`` and not found
    by typing.
    """

    id: str
    words: str
    group: str
    strokes: tuple[str, ...] = ()
    menus: tuple[tuple[str, str], ...] = ()
    off: str = ""
    icon: str = ""
    #: What goes without saying where there is room: shown in the keyboard sheet and as a button's title.
    about: str = ""
    pointed: bool = False
    #: What stands beside its words in a menu where it has no stroke of its own: another way to it, or what it is for.
    beside: str = ""

    @property
    def stroke(self) -> str:
        """Its first stroke as it is told; empty where it has none."""
        return told(self.strokes[0]) if self.strokes else ""


def told(stroke: str) -> str:
    """A stroke as people read it: “Ctrl Shift D”."""
    *held, key = stroke.split("+") if stroke != "+" else [stroke]
    return " ".join((*held, TOLD.get(key, key.upper() if len(key) == 1 else key)))


ACTIONS: Register[Action] = Register("actions", lambda action: action.id)


def add(*actions: Action) -> None:
    """Registers actions. ValueError where a stroke has an owner already, or a menu no such section."""
    owners = {stroke: each.id for each in ACTIONS.values() for stroke in each.strokes}
    for action in actions:
        for stroke in action.strokes:
            if stroke in owners:
                raise ValueError(f"{told(stroke)} is the stroke of {owners[stroke]} and of {action.id}.")
            owners[stroke] = action.id
        for menu, section in action.menus:
            if section not in SECTIONS[menu]:
                raise ValueError(f"{action.id}: the menu {menu} has no section {section}.")
        if action.group not in GROUPS:
            raise ValueError(f"{action.id}: there is no group {action.group}.")
        ACTIONS.add(action)
