"""Layers as wholes."""

from deftarc.core.document import TAGS
from deftarc.core.document.artwork import ARTWORKS
from deftarc.core.document.effects import EFFECTS
from deftarc.web.actions.action import Action, add

G = "Layers"
#: What is aligned, and how it is said.
SIDES = {
    "left": "left", "centre": "centre across", "right": "right", "top": "top", "middle": "centre down",
    "bottom": "bottom",
}  # fmt: skip
WAYS = ("across", "down")


def layer(section: str) -> tuple[tuple[str, str], ...]:
    return (("layer", section),)


add(
    Action("rename", "Rename", G, (), layer("itself")),
    Action("duplicate", "Duplicate", G, ("Ctrl+d",), layer("itself")),
    Action("linked-copy", "Make a linked copy", G, ("Ctrl+Shift+d",), layer("itself")),
    Action("copies", "Copies in a row, or round…", G, ("*",), layer("itself"),
           about="turned, moved and out of step, tried in place"),
    Action("unlink", "Unlink from its copies", G, (), layer("itself")),
    Action("group", "Group", G, ("Ctrl+g",), layer("itself")),
    Action("ungroup", "Ungroup", G, ("Ctrl+Shift+g",), layer("itself")),
    Action("as-one", "Paint it as one", G, (), layer("itself"), off="Paint it layer by layer"),
    Action("free-of-parent", "Free of its parent", G, (), layer("itself")),
    Action("layer-above", "Select the layer above", G, ("PageUp",)),
    Action("layer-below", "Select the layer below", G, ("PageDown",)),
    Action("order-up", "Move the layer up in the list", G, ("Ctrl+ArrowUp",)),
    Action("order-down", "Move the layer down in the list", G, ("Ctrl+ArrowDown",)),
    Action("span-start", "Start its span here", G, ("Ctrl+[",), layer("span")),
    Action("span-end", "End its span here", G, ("Ctrl+]",), layer("span")),
    Action("span-here", "Move it to the playhead, with its keys", G, (), layer("span")),
    Action("span-alone-here", "Move its span here, leaving its keys", G, (), layer("span")),
    Action("stretch-span", "Give a length with keys in proportion…", G, (), layer("span")),
    Action("align", "Align…", G, (), layer("artwork"), pointed=True),
    *(Action(f"align-{how}", f"Align to one another: {words}", G, (), (("align", "one another"),))
      for how, words in SIDES.items()),
    *(Action(f"spread-{how}", f"Distribute {how}", G, (), (("align", "spread"),)) for how in WAYS),
    *(Action(f"frame-{how}", f"Align to the frame: {words}", G, (), (("align", "frame"),))
      for how, words in SIDES.items()),
    *(Action(f"frame-spread-{how}", f"Distribute {how} the frame", G, (), (("align", "frame"),)) for how in WAYS),
    Action("size-fit", "Fit the frame", G, (), layer("artwork")),
    Action("size-fill", "Fill the frame", G, (), layer("artwork")),
    Action("size-full", "At 100 %", G, (), layer("artwork")),
    Action("replace-artwork", "Replace its artwork by a file…", G, (), layer("artwork")),
    Action("to-outlines", "Turn into outlines", G, (), layer("artwork")),
    Action("letters-apart", "Letters apart, as outlines", G, (), layer("artwork")),
    Action("take-apart", "Take apart into layers, or a free path", G, (), layer("artwork")),
    Action("edit-words", "Edit its words", G, (), layer("artwork")),
    Action("edit-points", "Edit its points", G, (), layer("artwork")),
    Action("point-round", "Corner or smooth", G, (), (("points", "point"),), pointed=True),
    Action("points-delete", "Delete", G, (), (("points", "point"),), pointed=True, beside="Delete"),
    Action("outline-close", "Close the path", G, (), (("points", "outline"),)),
    Action("outline-open", "Open the path", G, (), (("points", "outline"),)),
    *(
        Action(f"effect-{kind}", f"Add an effect: {each.label}", G, (), layer("effects"))
        for kind, each in EFFECTS.items()
    ),
    Action("smears", "Blur it as it moves", G, (), layer("effects"), off="Do not blur it as it moves"),
    Action("mask-rectangle", "Mask: a rectangle", G, (), layer("effects")),
    Action("mask-ellipse", "Mask: an ellipse", G, (), layer("effects")),
    Action("mask-draw", "Mask: drawn point by point", G, (), layer("effects")),
    Action("mask-file", "Mask: from an SVG file…", G, (), layer("effects")),
    Action("draw-on", "Draw its outline on…", G, (), layer("artwork"), about="and then fill it, tried in place"),
    Action("close-bars", "Bars closing in…", G, (), (("empty", "add"),), about="letterbox bars, tried in place"),
    Action("look-page", "Show how it looks", G),
    Action("hide", "Hide", G, (), layer("shown"), off="Show"),
    Action("lock", "Lock", G, (), layer("shown"), off="Unlock"),
    Action("isolate", "Isolate, or show all again", G, ("i",), layer("shown")),
    Action("reference", "Make it a reference: it never renders", G, (), layer("shown"), off="Let it render again"),
    Action("tag", "Tag…", G, (), layer("shown"), pointed=True),
    *(Action(f"tag-{tag}", f"Tag: {tag}", G, (), (("tag", "colour"),)) for tag in TAGS),
    Action("hand-opacity", "Hand on its opacity to what it carries", G, (), layer("shown"),
           off="Keep its opacity to itself"),
    Action("add-rectangle", "Add a rectangle", G, (), (("empty", "add"),)),
    *(Action(f"add-{kind}", f"Add: {each.label}", G) for kind, each in ARTWORKS.items()
      if each.icon and kind != "rectangle"),
    Action("add-text", "Add text…", G, (), (("empty", "add"),)),
    Action("add-file", "Bring in a logo, a picture or a motion…", G, (), (("empty", "add"),)),
    Action("add-shelf", "Add from the shelf…", G),
    Action("bring-font", "Bring in a font…", G),
    Action("keep", "Clicks on the picture keep the selection", G, ("s",), off="Clicks on the picture select"),
)  # fmt: skip
