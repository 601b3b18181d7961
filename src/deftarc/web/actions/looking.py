"""Tools, views, and how large things are."""

from deftarc.web.actions.action import Action, add

G = "Looking"
SHOWN, SNAP = (("view", "shown"),), (("view", "snap"),)
FIT, LANES = (("fit-picture", "fit"),), (("lanes", "fold"),)
add(
    Action("find-action", "Find an action", G, ("c",), about="by words typed"),
    Action("tool-move", "Move layers", G, ("m",)),
    Action("tool-points", "Edit points", G, ("p",)),
    Action("tool-pen", "Draw with the pen", G, ("n",)),
    Action("tool-line", "Draw a line", G),
    Action("path-shown", "Path of what is selected", G, (), SHOWN),
    Action("dots-shown", "One dot a frame", G, (), SHOWN),
    Action("ghosts", "Ghosts of what is selected", G, ("h",), SHOWN),
    Action("rulers", "Rulers", G, ("r",), SHOWN),
    Action("grid", "Grid", G, ("g",), SHOWN),
    Action("guides-shown", "Guides", G, (), SHOWN),
    Action("motion-blur", "Blur what moves", G, ("~",), SHOWN, about="the scene’s shutter, as it is rendered"),
    Action("motion-blur-all", "Everything is blurred as it moves", G, (), SHOWN),
    Action("motion-blur-plays", "Blur what moves while it plays, too", G, (), SHOWN),
    Action("snap", "Snap while dragging", G, (), SNAP),
    *(Action(f"snap-{what}", f"Snap {words}", G, (), SNAP)
      for what, words in (("layers", "to other layers"), ("frame", "to the frame"), ("guides", "to guides"),
                          ("grid", "to the grid"))),
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
    Action("only-keyed", "Lanes: only with keys", G),
    Action("only-selected", "Lanes: only what is selected", G),
    *(Action(f"lanes-{height}", f"Lanes are {height}", G) for height in ("low", "usual", "tall")),
    *(Action(f"in-{whose}", f"Position in {words} axes", G)
      for whose, words in (("own", "its own"), ("parent", "its parent’s"), ("scene", "the scene’s"))),
    Action("add-guide", "Add a guide…", G),
    Action("clear-guides", "Take all guides away", G),
    Action("lock-guides", "Guides are locked", G),
    *(Action(f"unit-{unit}", f"Times as {words}", G)
      for unit, words in (("timecode", "timecode"), ("drop", "drop-frame timecode"), ("frames", "frames"),
                          ("seconds", "seconds"))),
    Action("theme", "Light or night", G),
    Action("help", "Keyboard", G, ("?",)),
)  # fmt: skip
