"""Takes: versions of the timing of what is selected."""

from deftarc.web.actions.action import Action, add

G = "Keys"
add(
    Action("takes", "Takes of what is selected", G, ("Shift+c",), (("layer", "motion"),), off="Close the list of takes",
           about="versions of its timing, compared"),
    Action("new-take", "Begin another take", G, ("Shift+n",), (("layer", "motion"),)),
    Action("next-take", "Show the next take", G, ("Shift+a",), (("layer", "motion"),), about="also while it plays"),
    Action("take-ghost", "Lay another take over this one", G, ("Shift+d",), (("layer", "motion"),),
           off="Take the other take away"),
)  # fmt: skip
