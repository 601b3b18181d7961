"""Scenes, history, and what goes out."""

from deftarc.web.actions.action import Action, add

G = "Scenes and files"
SCENE = (("scene", "scene"),)
add(
    Action("undo", "Undo", G, ("Ctrl+z",)),
    Action("redo", "Redo", G, ("Ctrl+Shift+z", "Ctrl+y")),
    Action(
        "history",
        "The history of this project",
        G,
        ("Shift+h",),
        SCENE,
        off="Close the history",
        about="every step, also what was undone and overwritten",
    ),
    Action("name-state", "Name this state…", G, (), SCENE, about="to be found in the history"),
    Action("render", "Render", G),
    Action("scene-settings", "Settings of this scene…", G, (), (*SCENE, ("empty", "scene")), icon="gear"),
    Action("new-scene", "New scene…", G, (), SCENE, icon="plus-lg"),
    Action("duplicate-scene", "Duplicate this scene", G, (), SCENE, icon="copy"),
    Action("delete-scene", "Delete this scene", G, (), SCENE, icon="trash"),
)
