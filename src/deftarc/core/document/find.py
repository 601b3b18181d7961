"""Scenes and layers found by what a person types: an id or a name."""

from deftarc.core.base.errors import Refusal
from deftarc.core.document import Layer, Project, Scene


def find_layer(scene: Scene, told: str) -> Layer:
    """A layer by id or by name; names may be shared, then the topmost."""
    for layer in scene.layers:
        if layer.id == told:
            return layer
    for layer in scene.layers:
        if layer.name.casefold() == told.casefold():
            return layer
    names = ", ".join(layer.name for layer in scene.layers[:12]) or "none"
    raise Refusal(f"{scene.name} has no layer “{told[:40]}”. It has: {names}.")


def find_scene(project: Project, told: str | None) -> Scene:
    """A scene by id or by name; the first when nothing was told."""
    if told is None:
        return project.scenes[0]
    for scene in project.scenes:
        if told in (scene.id, scene.name) or scene.name.casefold() == told.casefold():
            return scene
    raise Refusal(f"There is no scene “{told[:40]}”. There are: {', '.join(s.name for s in project.scenes)}.")
