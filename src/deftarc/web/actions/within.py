"""Scenes in scenes."""

from deftarc.web.actions.action import Action, add

G = "Scenes and files"
MENU = (("layer", "scene"),)
add(
    Action("show-scene", "Show a scene in this one…", G, ("Ctrl+Shift+x",), (("empty", "scene"),),
           off="Close the list of scenes"),
    Action("make-scene", "Make a scene of these…", G, ("Shift+x",), MENU, about="the picture stays as it is"),
    Action("enter-scene", "Work inside the scene it shows", G, ("Ctrl+Enter",), MENU, beside="double click"),
    Action("bring-again", "Bring its file in again…", G, (), (*MENU, ("scene", "scene")),
           about="after it changed; what was done here is kept"),
    Action("leave-scene", "Back to the scene around this one", G, ("Ctrl+Shift+Enter",), (("empty", "scene"),)),
    Action("around-shown", "The scene around this one, faintly", G, (), (("view", "shown"),)),
)  # fmt: skip
