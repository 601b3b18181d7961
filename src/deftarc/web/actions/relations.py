"""What follows what: links, carriers followed late, stretch."""

from deftarc.web.actions.action import Action, add

G = "Layers"
MENU = (("layer", "follows"),)
PROPERTY = (("property", "follows"),)
add(
    Action("follow", "Let it follow…", G, ("Shift+q",), (*MENU, *PROPERTY), off="Close what can be followed",
           about="the lane in the pair, of what is selected"),
    Action("follow-later", "The same, later, for all that is selected…", G, ("Shift+z",), (*MENU, *PROPERTY),
           about="the first selected leads, each of the others comes a step later"),
    Action("counter-turn", "Turn against what carries it: it stays put", G, (), MENU),
    Action("links-keys", "Make keys of what it follows", G, (), (*MENU, *PROPERTY)),
    Action("cut-links", "Follow nothing any more", G, (), (*MENU, *PROPERTY)),
    Action("carry-later", "Carried later…", G, (), MENU, about="it comes after its carrier, as hair and tails do"),
    Action("later-keys", "Make keys of how late it is carried", G, (), MENU),
    Action("tail", "A tail: each carried by the one before, later…", G, (), MENU),
    Action("stretch-with-speed", "Stretch with its speed", G, (), MENU, off="Stretch no more"),
    Action("stretch-keys-of", "Make keys of its stretch", G, (), MENU),
    Action("react", "Let it answer a motion…", G, ("Ctrl+Shift+a",), (*MENU, *PROPERTY),
           off="Close what can be answered",
           about="a pulse at each contact, peak or stop; the lane in the pair, of what is selected"),
    Action("squash", "Squash at its contacts", G, (), MENU, about="flat from the side that hits, its area kept"),
    Action("reactions-keys", "Leave what it answers as keys", G, (), (*MENU, *PROPERTY)),
    Action("end-reactions", "Answer nothing any more", G, (), (*MENU, *PROPERTY)),
    Action("motions", "Saved motions…", G, ("Ctrl+Shift+l",), (("layer", "motion"), ("empty", "scene")),
           off="Close the saved motions",
           about="each plays on what is selected, and is tried on it in place"),
    Action("save-motion", "Save this motion…", G, ("Ctrl+Shift+s",), (("layer", "motion"), ("bead", "copy"),
           ("many", "copy")), about="the selected keys, else all of the selected layers, for use elsewhere"),
    Action("motion-again", "Change the motion laid last…", G, (), (("layer", "motion"),),
           about="it is taken back, and tried again as it was told"),
    Action("page-relations", "Figures: relations", G, (), MENU, about="carrier, links, stretch, ties, clock"),
)  # fmt: skip
