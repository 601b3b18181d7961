"""Tools, views, and how large things are."""

from deftarc.web.actions.action import Action, add

G = "Looking"
FIT, LANES = (("fit-picture", "fit"),), (("lanes", "fold"),)
add(
    Action("find-action", "Find an action", G, ("c",), about="by words typed"),
    Action("tool-move", "Move layers", G, ("m",)),
    Action("tool-points", "Edit points", G, ("p",)),
    Action("tool-pen", "Draw with the pen", G, ("n",)),
    Action("tool-line", "Draw a line", G),
    Action("ghosts", "Ghosts of what is selected", G, ("h",), off="No ghosts"),
    Action("grid", "Grid", G, ("g",), off="No grid"),
    Action("rulers", "Rulers", G, ("r",), off="No rulers"),
    Action("fit", "Fit the picture", G, ("0",), FIT),
    Action("full-size", "100 %", G, ("1",), FIT),
    Action("fit-selected", "Fit what is selected in the picture", G, ("2",), FIT),
    Action("fit-time", "Fit the time axis", G, ("Shift+0",)),
    Action("fit-keys", "Fit the time axis to the keys", G),
    Action("room-picture", "Room for the picture", G, ("(",), about="again to go back"),
    Action("room-pair", "Room for the pair", G, (")",), about="again to go back"),
    Action("find", "Find a layer or a lane", G, ("/",)),
    Action("open-keyed", "Open the keyed lanes of what is selected", G, ("d",), LANES),
    Action("unfold-all", "Unfold all", G, (), LANES),
    Action("fold-all", "Fold all", G, (), LANES),
    Action("add-guide", "Add a guide…", G),
    Action("clear-guides", "Take all guides away", G),
    Action("lock-guides", "Guides are locked", G, off="Unlock the guides"),
    Action("help", "Keyboard", G, ("?",)),
)
