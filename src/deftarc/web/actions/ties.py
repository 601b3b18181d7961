"""Ties: timings that hold together."""

from deftarc.web.actions.action import Action, add

G = "Layers"
add(
    Action("tie-chain", "Tie: each starts when the one before ends", G, ("Shift+i",), (("layer", "span"),)),
    Action("tie-distance", "Tie at the distance they have", G, ("Shift+y",), (("layer", "span"), ("many", "many"),
           ("bead", "many")), about="layers, keys, or either to a selected marker"),
    Action("ties", "The list of ties", G, ("Shift+w",), (("layer", "span"),), off="Close the list of ties"),
    Action("cut-ties", "Cut the ties of what is selected", G, (), (("layer", "span"),)),
    Action("cut-tie", "Cut this tie", G, (), (("tie", "gone"),), pointed=True),
    Action("tie-offset", "Its distance…", G, (), (("tie", "itself"),), pointed=True),
)  # fmt: skip
