"""A toy action, with a stroke of its own, in the menu of a layer."""

from deftarc.web.actions.action import Action, add

add(Action("water", "Water it", "Layers", ("Ctrl+Shift+w",), (("layer", "motion"),)))
