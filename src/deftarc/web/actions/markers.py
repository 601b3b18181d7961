"""Markers: set, gone to, listed, and what is done with them."""

from deftarc.core.document.tags import TAGS
from deftarc.web.actions.action import Action, add

G = "Markers"
ITSELF = (("marker", "itself"),)
add(
    Action("mark", "Set a marker here", G, ("'",), (("ruler", "marks"),), about="also while it plays: tap along"),
    Action("mark-layer", "Set a marker on the selected layer", G, ('"',), (("ruler", "marks"), ("layer", "motion"))),
    Action("previous-mark", "To the marker before", G, ("Ctrl+,",)),
    Action("next-mark", "To the marker after", G, ("Ctrl+.",)),
    Action("markers", "The list of markers", G, ("Shift+p",), (("ruler", "marks"),), off="Close the list of markers"),
    Action("mark-tempo", "Mark the beats of a tempo…", G, (), (("ruler", "marks"),)),
    Action("play-between", "Play between the markers around the playhead", G, ("Shift+b",),
           (("ruler", "marks"), ("marker", "time"))),
    Action("keys-to-marks", "Bring keys to the nearest markers", G, ("Shift+j",), (("many", "many"), ("bead", "many")),
           about="the selected ones, else all of the selected layers"),
    Action("name-mark", "Name…", G, (), ITSELF, pointed=True),
    *(Action(f"mark-in-{tag}", tag.capitalize(), G, (), (("marker", "colour"),), pointed=True) for tag in TAGS),
    Action("delete-marks", "Delete", G, (), (("marker", "gone"),), pointed=True),
)  # fmt: skip
