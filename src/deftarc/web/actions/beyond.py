"""What goes on before a lane's first key and after its last."""

from deftarc.web.actions.action import Action, add

G = "Keys"
WAYS = {
    "hold": "hold", "rest": "rest at a value…", "repeat": "repeat", "alternate": "alternate",
    "accumulate": "accumulate", "continue": "continue at its speed",
}  # fmt: skip
PLACES = (("pair", "beyond"), ("bead", "beyond"))
add(
    Action("cycle", "Repeat for ever, before and after", G, ("Shift+o",), PLACES,
           about="its keys over and over; again to hold"),
    *(Action(f"after-{how}", f"After its keys: {words}", G, (), (("pair", "beyond"),))
      for how, words in WAYS.items()),
    *(Action(f"before-{how}", f"Before its keys: {words}", G) for how, words in WAYS.items()),
    Action("cycle-part", "Repeat only from this key on", G, (), (("bead", "beyond"),)),
    Action("how-often", "How often in all…", G, (), PLACES),
    Action("phase", "Where in its cycle it begins…", G, (), PLACES, about="its phase, in per cent"),
    Action("bake", "Make keys of what goes on", G, (), PLACES),
)  # fmt: skip
