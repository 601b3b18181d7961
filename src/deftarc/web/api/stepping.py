"""Where an undo or a redo leads a page: to the scene, the frame and the selection of what it changed."""

from deftarc.core.arrange.difference import Difference, difference, nearest_frame
from deftarc.core.base.time import timecode
from deftarc.core.changes.keys import KeyRef, still_there
from deftarc.core.document import Project, Scene
from deftarc.core.document.artwork import TextShaper
from deftarc.store.projects import OpenProject
from deftarc.web.api.models import StepAsked, Went

#: No more than so many layers or keys are selected for what a step changed.
MOST_SELECTED = 400


def went(opened: OpenProject, at: StepAsked, done: str, shape_text: TextShaper) -> Went:
    """Where a step just taken was, for a page that is somewhere with something selected."""
    words = f"{done}: {opened.stepped}"
    before = opened.came_from
    told = difference(before, opened.project, at.scene) if before is not None else None
    here = _scene(opened.project, at.scene)
    if told is None:
        layers, keys = _kept(here, at)
        return Went(scene=here.id, frame=None, layers=layers, keys=keys, words=f"{words}.")
    scene = told.after
    layers, keys = _selection(told, at)
    frame = nearest_frame(told, at.frame, shape_text, opened.project.by_id)
    moved = scene.id != at.scene
    if moved:
        words += f", in {scene.name}"
    if frame is not None and (moved or frame != at.frame):
        words += f", at {timecode(frame, scene.rate)}"
    return Went(scene=scene.id, frame=frame, layers=layers, keys=keys, words=f"{words}.")


def _scene(project: Project, scene_id: str | None) -> Scene:
    return next((scene for scene in project.scenes if scene.id == scene_id), project.scenes[0])


def _kept(scene: Scene, at: StepAsked) -> tuple[list[str], list[KeyRef]]:
    here = {layer.id for layer in scene.layers}
    return [name for name in at.layers if name in here], still_there(scene, at.keys)


def _selection(told: Difference, at: StepAsked) -> tuple[list[str], list[KeyRef]]:
    """What was selected and still is there, where it has to do with the change; else what was changed."""
    layers, keys = _kept(told.after, at)
    if told.layers and not set(layers) & set(told.layers):
        layers, keys = list(told.layers[:MOST_SELECTED]), []
    if told.keys and (not keys or len(keys) < len(at.keys)):
        # Keys that were selected stand elsewhere now, with those that stayed.
        there = {(key.layer, key.property, key.time) for key in keys}
        keys += [
            key for key in told.keys
            if key.layer in layers and (key.layer, key.property, key.time) not in there
        ][:MOST_SELECTED]  # fmt: skip
    return layers, keys
