"""Keys over HTTP as text: a lane's line, what is copied, and what a text on the clipboard means."""

from typing import Annotated

import numpy as np
from fastapi import APIRouter
from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Identity
from deftarc.core.changes.clip import copied
from deftarc.core.changes.keys import KeyRef, still_there
from deftarc.core.changes.landing import takers
from deftarc.core.document import Layer, Scene
from deftarc.core.document.clip import Clip
from deftarc.core.document.properties import property_named
from deftarc.core.evaluate.clocks import lane_clocks, shown_at
from deftarc.core.words import told_keys
from deftarc.core.words.clip import read_clip, told_clip
from deftarc.web.api.models import Body, ProjectId
from deftarc.web.context import Shop
from deftarc.web.strict import StrictRoute

router = APIRouter(prefix="/api/projects/{project_id}/scenes/{scene_id}", tags=["keys"], route_class=StrictRoute)
SceneId = Annotated[str, "the scene's id"]


class CopyAsked(Body):
    """Some keys, or all keys of some layers."""

    keys: Annotated[tuple[KeyRef, ...], Field(max_length=limits.MAX_KEYS_PER_LANE)] = ()
    layers: Annotated[tuple[Identity, ...], Field(max_length=limits.MAX_LAYERS)] = ()


class Copied(Body):
    """What was copied: how many keys, and the text that goes on the clipboard."""

    count: int
    text: str


class KeysWanted(Body):
    """All keys of some layers, or of all layers where none is named; or those that show at one frame of the scene."""

    layers: Annotated[tuple[Identity, ...], Field(max_length=limits.MAX_LAYERS)] = ()
    frame: Annotated[int, Field(ge=0, le=limits.MAX_SCENE_FRAMES)] | None = None


class LaneKeys(Body):
    """When the keys of a lane stand, in flicks."""

    layer: str
    property: str
    times: list[int]


class KeysFound(Body):
    lanes: list[LaneKeys]


class ClipText(Body):
    """A text from a clipboard; a line of keys alone is of ``property``, the lane of ``layer`` that is pointed at."""

    text: Annotated[str, Field(max_length=limits.MAX_EDIT_BYTES)]
    property: Annotated[str, Field(max_length=80)] | None = None
    layer: Identity | None = None


class ReadClip(Body):
    """What a text means, and the property that was pointed at, where that is another one and takes it."""

    clip: Clip
    count: int
    onto: str | None = None


class LaneText(Body):
    """A lane's keys as a line, and what the lane is called."""

    text: str
    name: str


@router.post("/copied")
def copy(project_id: ProjectId, scene_id: SceneId, asked: CopyAsked, shop: Shop) -> Copied:
    """The text of some keys, to be put on a clipboard. Nothing is changed by it."""
    scene = shop.projects.open(project_id).project.scene(scene_id)
    keys = still_there(scene, asked.keys)
    for name in dict.fromkeys(asked.layers):
        layer = scene.layer(name)
        keys += [KeyRef(layer=name, property=p, time=t) for p in layer.keyed for t in layer.track(p).key_times]
    if not keys:
        raise Refusal("There are no keys to copy: what is selected has none, or they are gone.")
    clip = copied(scene, tuple(keys))
    return Copied(count=clip.count, text=told_clip(clip))


def _with_members(scene: Scene, chosen: set[str]) -> list[Layer]:
    """Some layers and all that is in those that are groups, from the top down; all layers where none is chosen."""
    groups = {name for name in chosen if scene.layer(name).group}
    return [
        layer for layer in scene.layers
        if not chosen or layer.id in chosen or any(above.id in groups for above in scene.ancestors(layer))
    ]  # fmt: skip


@router.post("/keys")
def keys_of(project_id: ProjectId, scene_id: SceneId, wanted: KeysWanted, shop: Shop) -> KeysFound:
    """The keys of layers, the topmost layer's first. Nothing is changed by it."""
    scene = shop.projects.open(project_id).project.scene(scene_id)
    lanes = []
    for layer in _with_members(scene, set(wanted.layers)):
        for name in layer.keyed:
            times = layer.track(name).key_times
            if wanted.frame is not None:
                frames, clocks = np.array([wanted.frame], np.int64), lane_clocks(scene, layer, name)
                found, _ = shown_at(clocks, np.array(times, np.int64), frames, scene.rate.flicks)
                times = [times[k] for k in found.tolist()]
            if times:
                lanes.append(LaneKeys(layer=layer.id, property=name, times=list(times)))
    return KeysFound(lanes=lanes)


@router.post("/clip")
def read(project_id: ProjectId, scene_id: SceneId, given: ClipText, shop: Shop) -> ReadClip:
    """The keys that a text from a clipboard means. Nothing is changed by it."""
    scene = shop.projects.open(project_id).project.scene(scene_id)
    clip = read_clip(given.text, scene.rate, given.property)
    onto = None
    names = {lane.property for lane in clip.lanes}
    layer = scene.by_id.get(given.layer or "")
    if layer is not None and given.property is not None and len(names) == 1 and given.property not in names:
        onto = next((facts.id for facts in takers(layer, clip.lanes) if facts.id == given.property), None)
    return ReadClip(clip=clip, count=clip.count, onto=onto)


@router.get("/layers/{layer_id}/keys/{name:path}")
def lane_text(project_id: ProjectId, scene_id: SceneId, layer_id: str, name: str, shop: Shop) -> LaneText:
    """All keys of a property of a layer as one line; empty where it has none."""
    scene = shop.projects.open(project_id).project.scene(scene_id)
    facts = property_named(name)
    layer = scene.layer(layer_id)
    if facts.id not in layer.properties:
        raise Refusal(f"{layer.name} has no {facts.label}.")
    return LaneText(text=told_keys(layer.track(facts.id), facts, scene.rate), name=facts.label)
