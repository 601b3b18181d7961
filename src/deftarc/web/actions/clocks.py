"""Clocks: a layer's own time, over the scene's."""

from deftarc.web.actions.action import Action, add

G = "Layers"
MENU = (("layer", "motion"),)
add(
    Action("clock-own", "Give it a clock of its own", G, ("Shift+g",), MENU, about="shown time over the scene’s"),
    Action("clock-rate", "Let its clock run at a rate…", G, (), MENU, about="50 %, or -100 % for backwards"),
    Action("freeze", "Freeze it here…", G, ("Shift+f",), MENU, about="its clock stands still for so long"),
    Action("bake-clock", "Make keys of its clock", G, (), MENU),
    Action("take-clock", "Take its clock away", G, (), MENU),
)  # fmt: skip
