"""The seam of what loops: looked at, and closed."""

from deftarc.web.actions.action import Action, add

G = "Playing"
LOOP = (("ruler", "loop"), ("play", "loop"))
add(
    Action("seam", "The seam of the loop", G, ("Shift+e",), LOOP, off="Close the list of the seam",
           about="how its end meets its start"),
    Action("close-loop", "Close the loop: all that does not meet", G, (), LOOP),
    Action("fit-loop", "Fit the loop to its cycles", G, (), LOOP, about="their least common length"),
    Action("close-lane", "Close the loop of these lanes", "Keys", (), (("pair", "beyond"), ("bead", "beyond"))),
    Action("close-cycle", "Close the lane’s own cycle", "Keys", (), (("pair", "beyond"), ("bead", "beyond"))),
)  # fmt: skip
