"""What *Keying changes* has keyed since it was switched on: listed, and taken back at once."""

from dataclasses import dataclass

from pydantic import ValidationError

from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import time_label
from deftarc.core.document import Project
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack
from deftarc.core.edit import EDIT, EditBase
from deftarc.core.edit.keys import RestoreKeys
from deftarc.store.projects import ProjectStore


@dataclass(frozen=True)
class Keyed:
    """One lane, as it was then, and the times of its keys that are new or changed."""

    scene: str
    layer: str
    property: str
    before: AnyTrack
    times: tuple[int, ...]


def keyed_since(projects: ProjectStore, project_id: str, step: int) -> list[Keyed]:
    """The lanes that edits with *Keying changes* on have changed since a step of the history."""
    opened = projects.open(project_id)
    if not 0 <= step < opened.cursor:
        return []
    before = projects.document_at(project_id, step)
    lanes: set[tuple[str, str, str]] = set()
    for row in projects.history(project_id):
        if not step < row.number <= opened.cursor or '"keying":true' not in row.edit:
            continue
        try:
            edit = EDIT.validate_json(row.edit)
        except ValidationError:
            # Made by an edit that there is none of any more: what it keyed cannot be told.
            continue
        scene = getattr(edit, "scene", "")
        lanes.update((scene, *lane) for lane in edit.keyed())
    return [found for lane in sorted(lanes) if (found := _changed(before, opened.project, *lane)) is not None]


def _changed(before: Project, now: Project, scene_id: str, layer_id: str, name: str) -> Keyed | None:
    try:
        old, new = (p.scene(scene_id).layer(layer_id) for p in (before, now))
    except Refusal:
        return None
    if name not in old.properties or name not in new.properties:
        return None
    then, track = old.track(name), new.track(name)
    if then is track:
        return None
    known = {key.time: value for key, value in zip(then.keys, _values(then), strict=True)}
    times = [key.time for key, value in zip(track.keys, _values(track), strict=True) if known.get(key.time) != value]
    return Keyed(scene_id, layer_id, name, then, tuple(times)) if times else None


def _values(track: AnyTrack) -> list[tuple[float, ...]]:
    return [tuple(float(x) for x in track.at(key.time)) for key in track.keys]


def described(project: Project, found: list[Keyed], unit: str) -> list[str]:
    """Each key in a few words, in order of time."""
    out: list[tuple[int, str]] = []
    for lane in found:
        scene = project.scene(lane.scene)
        for time in lane.times:
            when = time_label(time, scene.rate, unit)
            out.append((time, f"{scene.layer(lane.layer).name} · {PROPERTIES[lane.property].label} · {when}"))
    return [words for _, words in sorted(out)]


def take_back(projects: ProjectStore, project_id: str, scene_id: str, step: int) -> EditBase:
    """The edit that puts those lanes of a scene back to what they were."""
    found = [lane for lane in keyed_since(projects, project_id, step) if lane.scene == scene_id]
    if not found:
        raise Refusal("Nothing was keyed since Keying changes was switched on.")
    scene = projects.open(project_id).project.scene(scene_id)
    layers = {lane.layer: scene.layer(lane.layer) for lane in found}
    for lane in found:
        layers[lane.layer] = layers[lane.layer].with_track(lane.property, lane.before)
    title = "Take back what Keying changes keyed"
    return RestoreKeys(scene=scene_id, layers=tuple(layers.values()), title=title)
