"""The motion path."""

from deftarc.web.actions.action import Action, add

G = "The motion path"
add(
    Action("tool-path", "Its motion path", G, ("e",), (("layer", "artwork"),), about="bend, draw, record it"),
    Action("segments", "Times by segment", G, ("y",)),
)
