"""The pair: which curves it shows, and how high its axes reach."""

from deftarc.web.actions.action import Action, add

G = "The pair"
PAIR, CURVE = "pair", "curve"
COLOURS = ("Ink", "Sea", "Pine", "Brick", "Ochre", "Slate", "Violet")
add(
    Action("fit-pair-all", "Fit all", G, ("3",), ((PAIR, "fit"),)),
    Action("fit-pair-selected", "Fit what is selected", G, ("4",), ((PAIR, "fit"),), about="in time and value"),
    Action("fit-pair-range", "Fit the play range", G, (), ((PAIR, "fit"),)),
    Action("fit-pair-off", "Let the axes fit again", G, (), ((PAIR, "fit"),), off="Leave the axes as they are"),
    Action(
        "scales-apart", "Each curve to its own scale", G, (), ((PAIR, "fit"),), off="One scale for what has one unit"
    ),
    Action("key-all-pair", "Key all of it here", G, (), ((PAIR, "curve"),), pointed=True),
    Action("curve-within", "Keep this whole curve within its keys", G, (), ((PAIR, "curve"),)),
    Action("curve-past", "Let this curve go past its keys", G, (), ((PAIR, "curve"),)),
    Action("grow-evenly", "Let it grow evenly", G, (), ((PAIR, "curve"),), off="Let it grow by amount"),
    Action("next-curve", "The next curve is the main one", G, ("v",)),
    Action("curve-alone", "The main curve alone", G, ("x",), about="or the others again"),
    Action("curve-pin", "Pin the main curve, so that it stays", G, ("q",)),
    Action("show-curve", "Lay it over", G, (), ((CURVE, "shown"),), off="Hide it", pointed=True),
    Action("main-curve", "Make it the main curve", G, (), ((CURVE, "shown"),), pointed=True),
    Action("this-curve-alone", "Show it alone", G, (), ((CURVE, "shown"),), off="Show the others again", pointed=True),
    Action(
        "this-curve-pin", "Pin it here", G, (), ((CURVE, "shown"),), off="Let it go with the selection", pointed=True
    ),
    *(
        Action(f"tint-{n}", f"Colour: {name}", G, (), ((CURVE, "colour"),), pointed=True)
        for n, name in enumerate(COLOURS)
    ),
)
