"""Keys over HTTP as text: a lane's line, what is copied, and what a text on the clipboard means."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Identity
from deftarc.core.changes.clip import copied
from deftarc.core.changes.keys import KeyRef, still_there
from deftarc.core.document.clip import Clip
from deftarc.core.document.properties import property_named
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


class ClipText(Body):
    """A text from a clipboard; a line of keys alone is of ``property``."""

    text: Annotated[str, Field(max_length=limits.MAX_EDIT_BYTES)]
    property: Annotated[str, Field(max_length=80)] | None = None


class ReadClip(Body):
    clip: Clip
    count: int


class LaneText(Body):
    text: str


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


@router.post("/clip")
def read(project_id: ProjectId, scene_id: SceneId, told: ClipText, shop: Shop) -> ReadClip:
    """The keys that a text from a clipboard means. Nothing is changed by it."""
    scene = shop.projects.open(project_id).project.scene(scene_id)
    clip = read_clip(told.text, scene.rate, told.property)
    return ReadClip(clip=clip, count=clip.count)


@router.get("/layers/{layer_id}/keys/{name:path}")
def lane_text(project_id: ProjectId, scene_id: SceneId, layer_id: str, name: str, shop: Shop) -> LaneText:
    """All keys of a property of a layer as one line; empty where it has none."""
    scene = shop.projects.open(project_id).project.scene(scene_id)
    facts = property_named(name)
    layer = scene.layer(layer_id)
    if facts.id not in layer.properties:
        raise Refusal(f"{layer.name} has no {facts.label}.")
    return LaneText(text=told_keys(layer.track(facts.id), facts, scene.rate))
