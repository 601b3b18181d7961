"""The motion path, its points, and the ways a path is made."""

from deftarc.web.actions.action import Action, add

G = "The motion path"


def path(section: str) -> tuple[tuple[str, str], ...]:
    return (("path", section),)


def point(section: str) -> tuple[tuple[str, str], ...]:
    return (("path-point", section),)


add(
    Action("tool-path", "Its motion path", G, ("e",), (("layer", "artwork"),), about="bend, draw, record it"),
    Action("path-draw", "Draw a motion path by clicks", G),
    Action("path-record", "Record a motion path by hand", G),
    Action("segments", "Times by segment", G, ("y",)),
    Action("path-along", "Turn it along its path", G, off="Turn it no longer along its path"),
    Action("path-add-point", "Add a point here", G, (), point("joint"), pointed=True, beside="double click"),
    Action("path-straight", "Straight here", G, (), point("joint")),
    Action("path-corner", "Corner, each handle its own", G, (), point("joint")),
    Action("path-smooth", "Smooth", G, (), point("joint")),
    Action("path-automatic", "Automatic", G, (), point("joint")),
    Action("path-point-time", "Set the time it has now", G, (), point("time"), pointed=True),
    Action("path-point-float", "Let it float", G, (), point("time"), pointed=True),
    Action("path-point-release", "Release from its point, to be a pace key", G, (), point("time"), pointed=True),
    Action("path-point-delete", "Delete this point", G, (), point("time"), pointed=True, beside="Delete"),
    Action("path-even-speed", "One speed all the way", G, (), path("pace")),
    Action("path-even-distances", "Keys at even distances", G, (), path("pace")),
    Action("path-times", "Set the times of all floating points", G, (), path("pace")),
    Action("path-float", "Let all keys between float", G, (), path("pace")),
    Action("path-spread", "Insert points evenly…", G, (), path("pace")),
    Action("path-close", "Close the motion path", G, (), path("shape"), off="Open the path"),
    Action("path-turn", "Turn the path round", G, (), path("shape")),
    Action("path-lean", "Lean into its curves…", G, (), path("shape")),
    Action("path-split", "Split into x and y…", G, (), path("make")),
    Action("path-combine", "Combine x and y as a path…", G),
    Action("path-reduce", "Fewer keys on its path…", G, (), path("make")),
    Action("path-from-layer", "Take the path of another layer…", G, (), path("make")),
    Action("path-from-file", "Take the path of an SVG file…", G, (), path("make")),
    Action("paths-rounded", "New paths are rounded", G, (), path("new"), off="✓ New paths are rounded",
           beside="in this project"),
    Action("paths-straight", "New paths are straight", G, (), path("new"), off="✓ New paths are straight",
           beside="in this project"),
)  # fmt: skip
