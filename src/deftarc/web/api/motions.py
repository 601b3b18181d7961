"""Saved motions over HTTP: taken off a selection, kept for all projects, as files, and pictured on layers."""

import re
from typing import Annotated, Literal

from fastapi import APIRouter, Query, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import Field

from deftarc.app.library import Entry, Where, across, found
from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Identity, Moment, Name
from deftarc.core.changes.keys import KeyRef, still_there
from deftarc.core.changes.saved import offered, saved
from deftarc.core.document import Project
from deftarc.core.document.motion import Dial, Rest, SavedMotion
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.edit.motions import BringMotions, names_free
from deftarc.core.words.shipped_motions import shipped
from deftarc.formats.motions import MEDIA, SUFFIX, write_motions
from deftarc.web.api.models import Body, ProjectId, Sent, SentAs, SentOn, State
from deftarc.web.bodies import takes
from deftarc.web.context import Shop, Uploads
from deftarc.web.panels.library import MOST, pictures
from deftarc.web.strict import StrictRoute

router = APIRouter(tags=["saved motions"], route_class=StrictRoute)
Layers = Annotated[tuple[Identity, ...], Field(max_length=limits.MAX_LAYERS)]


class Library(Body):
    """The motions there are for all projects; a project's own are in its document."""

    everywhere: list[SavedMotion]
    shipped: list[SavedMotion]


class Told(Body):
    """A motion by where it is kept, and its name."""

    where: Where
    name: Name


class ToKeep(Body):
    motion: SavedMotion
    #: Instead of the one of this name, which has another now.
    was: Name | None = None
    #: Refused where another one of its name would be lost.
    fresh: bool = False


class Number(Body):
    """A number that a motion asks for, or could."""

    dial: Dial
    unit: str
    on: bool


class TakenIn(Body):
    """What an imported file brought: the names it has here, and how many of its motions were here already."""

    names: list[str]
    known: int


class Selected(Body):
    """The keys that are to be saved; where there are none, all keys of the layers."""

    name: Name = "Motion"
    keys: Annotated[tuple[KeyRef, ...], Field(max_length=limits.MAX_KEYS_PER_LANE)] = ()
    layers: Layers = ()
    rest: Rest = "first"
    time: Moment = 0


class Proposed(Body):
    """A motion as it would be saved, the numbers it could ask for with their units, and what is left out of it."""

    motion: SavedMotion
    dials: list[Dial]
    units: list[str]
    left_out: list[str]


class Pictured(Body):
    scene: Identity
    layers: Layers = ()
    time: Moment = 0
    motions: Annotated[list[Told], Field(min_length=1, max_length=MOST)]


@router.get("/api/motions")
def all_motions(shop: Shop) -> Library:
    """The motions kept for all projects, the newest last, and those that ship."""
    return Library(everywhere=shop.motions.all(), shipped=list(shipped()))


@router.post("/api/motions")
def keep_motion(wanted: ToKeep, shop: Shop) -> SavedMotion:
    """Keep a motion for all projects under its name; one of that name is replaced, unless it is to be a fresh one."""
    if wanted.was is not None:
        shop.motions.named([wanted.was])
    shop.motions.keep(wanted.motion, instead_of=wanted.was, fresh=wanted.fresh)
    return wanted.motion


@router.delete("/api/motions/{name}")
def forget_motion(name: Annotated[str, Field(max_length=200)], shop: Shop) -> Library:
    """Forget a motion kept for all projects."""
    shop.motions.forget(name)
    return all_motions(shop)


@router.post("/api/motions/file")
@takes(limits.MAX_MOTIONS_BYTES)
async def take_in(shop: Shop, uploads: Uploads, file: Sent) -> TakenIn:
    """Keep the motions of a file for all projects. Those that are here stay; others of their names get a number."""
    motions: list[SavedMotion] = await uploads.read("motions", file)
    fresh = names_free(motions, shop.motions.all())
    shop.motions.keep(*fresh)
    return TakenIn(names=[motion.name for motion in fresh], known=len(motions) - len(fresh))


class TakenInHere(State, TakenIn):
    """The same of one that was imported into a project."""


@router.post("/api/projects/{project_id}/motions/file")
@takes(limits.MAX_MOTIONS_BYTES)
async def take_in_here(
    project_id: ProjectId, shop: Shop, uploads: Uploads, file: Sent, revision: SentOn, edit_id: SentAs = None
) -> TakenInHere:
    """Keep the motions of a file in a project. Those that are here stay; others of their names get a number."""
    motions: list[SavedMotion] = await uploads.read("motions", file)
    return await run_in_threadpool(_taken_in, shop, project_id, revision, motions, edit_id)


def _taken_in(
    shop: Shop, project_id: str, revision: int, motions: list[SavedMotion], edit_id: str | None
) -> TakenInHere:
    # Sent again, it has been done: what the file has is what it brought.
    opened, fresh = shop.projects.made_before(project_id, edit_id), motions
    if opened is None:
        opened = shop.projects.open(project_id)
        fresh = names_free(motions, opened.project.motions)
        if fresh:
            opened = shop.commit(project_id, revision, BringMotions(motions=tuple(fresh)), edit_id)
    names = [motion.name for motion in fresh]
    return TakenInHere(**State.after(opened).model_dump(), names=names, known=len(motions) - len(fresh))


@router.get("/api/motions/file", response_class=Response)
def as_file(
    shop: Shop,
    project: Annotated[str | None, Query(max_length=60)] = None,
    where: Where | Literal["all"] = "all",
    name: Annotated[str | None, Query(max_length=200)] = None,
) -> Response:
    """Saved motions as a file: one by where it is and its name, else all of one's own."""
    opened = shop.projects.open(project).project if project is not None else None
    if name is not None and where != "all":
        motions = [found(opened, shop.motions.all(), where, name)]
    else:
        motions = _own(opened, shop.motions.all())
    if not motions:
        raise Refusal("There are no motions of your own to export yet. Save one first.")
    title = motions[0].name if len(motions) == 1 else "Saved motions"
    safe = re.sub(r"[^A-Za-z0-9 _-]+", "", title).strip() or "motions"
    headers = {"content-disposition": f'attachment; filename="{safe}{SUFFIX}"'}
    return Response(write_motions(motions), media_type=MEDIA, headers=headers)


def _own(project: Project | None, everywhere: list[SavedMotion]) -> list[SavedMotion]:
    """All of a project's own and those for all projects; where two have one name, the project's."""
    named = {motion.name: motion for motion in (*everywhere, *(project.motions if project is not None else ()))}
    return list(named.values())


@router.post("/api/motions/numbers")
def numbers(wanted: ToKeep) -> list[Number]:
    """The numbers a motion asks for, and those it could ask for besides. Nothing is kept by it."""
    motion = wanted.motion
    out = [Number(dial=dial, unit=motion.unit_of(dial), on=True) for dial in motion.dials]
    asked = {(dial.kind, motion.about_lanes(dial)) for dial in motion.dials}
    taken = {dial.id for dial in motion.dials}
    for dial in offered(motion):
        if (dial.kind, motion.about_lanes(dial)) not in asked:
            name, n = dial.id, 0
            while name in taken:
                name, n = f"{dial.id}{n}x", n + 1
            out.append(Number(dial=dial.changed(id=name), unit=motion.unit_of(dial), on=False))
    return out


@router.get("/api/projects/{project_id}/motions")
def own_motions(project_id: ProjectId, shop: Shop) -> list[SavedMotion]:
    """The motions kept in a project, the newest last."""
    return list(shop.projects.open(project_id).project.motions)


@router.post("/api/projects/{project_id}/scenes/{scene_id}/motion")
def propose(project_id: ProjectId, scene_id: Identity, wanted: Selected, shop: Shop) -> Proposed:
    """A selection as a motion that could be saved. Nothing is changed by it."""
    scene = shop.projects.open(project_id).project.scene(scene_id)
    keys = still_there(scene, wanted.keys)
    if not keys:
        for name in dict.fromkeys(wanted.layers):
            layer = scene.layer(name)
            keys += [KeyRef(layer=name, property=p, time=t) for p in layer.keyed for t in layer.track(p).key_times]
    some = {ref.layer for ref in keys}
    layers = [layer for layer in scene.layers if layer.id in some]
    sizes = [across(scene, layer, wanted.time, shop.materials) for layer in layers]
    motion = saved(scene, wanted.name, tuple(keys), wanted.rest, sizes if all(sizes) else ())
    dials = offered(motion)
    left = [
        f"{PROPERTIES[name].label} of {scene.layer(each).name} follows another motion: make keys of it first."
        for each in dict.fromkeys((*wanted.layers, *some)) for name in scene.layer(each).links
    ]  # fmt: skip
    return Proposed(motion=motion, dials=dials, units=[motion.unit_of(dial) for dial in dials], left_out=left)


@router.post("/api/projects/{project_id}/motion-pictures", response_class=Response)
def motion_pictures(project_id: ProjectId, wanted: Pictured, shop: Shop) -> Response:
    """Motions as they would be on layers, packed as docs/format.md says, each with its edit. Nothing is changed."""
    project = shop.projects.open(project_id).project
    everywhere = shop.motions.all()
    entries = [Entry(each.where, found(project, everywhere, each.where, each.name)) for each in wanted.motions]
    body = pictures(project, wanted.scene, wanted.layers, wanted.time, entries, shop.materials)
    return Response(body, media_type="application/octet-stream")
