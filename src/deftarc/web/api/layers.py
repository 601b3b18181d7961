"""Layers over HTTP, where an edit needs the server to measure first: align, size, take apart, take back, fonts."""

from collections.abc import Callable
from typing import Annotated

from fastapi import APIRouter, Response
from pydantic import Field
from starlette.concurrency import run_in_threadpool

from deftarc.app.keyed import take_back
from deftarc.app.measured import align, outlined, resize, taken_apart
from deftarc.core.arrange.axes import Axes
from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Identity, Moment
from deftarc.core.document import UserFont
from deftarc.core.edit import EditBase
from deftarc.core.edit.scenes import AddFont
from deftarc.formats.read import Asset
from deftarc.web.api.models import MadeFont, ProjectId, Revision, Sent, SentAs, SentOn, State
from deftarc.web.bodies import takes
from deftarc.web.context import Shop, Uploads
from deftarc.web.strict import StrictRoute

router = APIRouter(prefix="/api/projects/{project_id}", tags=["layers"], route_class=StrictRoute)


class Arranged(Revision):
    layers: Annotated[list[Identity], Field(min_length=1, max_length=limits.MAX_LAYERS)]
    time: Moment = 0
    keying: bool = False
    axes: Axes = "parent"


class Aligned(Arranged):
    """``how``: left, centre, right, top, middle, bottom, across, down."""

    how: Annotated[str, Field(max_length=20)]
    to_frame: bool = False


class Sized(Arranged):
    """``how``: fit, fill, full."""

    how: Annotated[str, Field(max_length=20)]


class Since(Revision):
    #: The step of the history at which *Keying changes* was switched on.
    since: Annotated[int, Field(ge=0, le=2**53)]


def made(shop: Shop, project_id: str, at: Revision, make: Callable[[], EditBase]) -> State:
    """The state after an edit that is worked out first; one that was made already is neither worked out nor made."""
    before = shop.projects.made_before(project_id, at.edit_id)
    return State.after(before or shop.commit(project_id, at.revision, make(), at.edit_id))


@router.post("/scenes/{scene_id}/align")
def align_layers(project_id: ProjectId, scene_id: str, wanted: Aligned, shop: Shop) -> State:
    """Align or distribute layers by their bounds at a time."""

    def make() -> EditBase:
        scene = shop.projects.open(project_id).project.scene(scene_id)
        return align(scene, shop.materials, wanted.layers, wanted.how, wanted.to_frame, wanted.time, wanted.keying)

    return made(shop, project_id, wanted, make)


@router.post("/scenes/{scene_id}/size")
def size_layer(project_id: ProjectId, scene_id: str, wanted: Sized, shop: Shop) -> State:
    """Scale a layer so that it fits the frame, fills it, or stands at 100 %."""

    def make() -> EditBase:
        scene = shop.projects.open(project_id).project.scene(scene_id)
        return resize(scene, shop.materials, scene.layer(wanted.layers[0]), wanted.how, wanted.time, wanted.keying)

    return made(shop, project_id, wanted, make)


@router.post("/scenes/{scene_id}/layers/{layer_id}/apart")
def take_apart(project_id: ProjectId, scene_id: str, layer_id: str, at: Revision, shop: Shop) -> State:
    """Make layers of a logo's parts."""

    def make() -> EditBase:
        scene = shop.projects.open(project_id).project.scene(scene_id)
        edit, assets = taken_apart(scene, shop.materials, scene.layer(layer_id))
        shop.assets.put(assets)
        return edit

    with shop.receiving:
        return made(shop, project_id, at, make)


class Outlined(Revision):
    #: Each letter a layer of its own, instead of all as one path.
    letters: bool = False


@router.post("/scenes/{scene_id}/layers/{layer_id}/outlines")
def outline_text(project_id: ProjectId, scene_id: str, layer_id: str, wanted: Outlined, shop: Shop) -> State:
    """Turn a text into outlines: one free path, or a layer for each letter in a group that moves as it did."""

    def make() -> EditBase:
        scene = shop.projects.open(project_id).project.scene(scene_id)
        return outlined(scene, shop.materials, scene.layer(layer_id), wanted.letters)

    return made(shop, project_id, wanted, make)


@router.post("/scenes/{scene_id}/take-back")
def take_back_keyed(project_id: ProjectId, scene_id: str, wanted: Since, shop: Shop) -> State:
    """Take back what *Keying changes* has keyed since it was switched on; one step, which can be undone."""
    return made(shop, project_id, wanted, lambda: take_back(shop.projects, project_id, scene_id, wanted.since))


@router.post("/fonts", status_code=201)
@takes(limits.MAX_FONT_BYTES)
async def bring_in_font(
    project_id: ProjectId,
    shop: Shop,
    uploads: Uploads,
    file: Sent,
    revision: SentOn,
    edit_id: SentAs = None,
) -> MadeFont:
    """Bring in a TTF, OTF or WOFF2 for this project's texts."""
    await run_in_threadpool(shop.projects.open, project_id)
    plain, label = await uploads.read("font", file)
    asset = Asset(plain, "font/otf")
    font = UserFont(asset=asset.hash, label=label)
    edit = AddFont(font=font)
    opened = await run_in_threadpool(shop.bring_in, project_id, revision, [asset], edit, edit_id)
    return MadeFont(**State.after(opened).model_dump(), font=font.id, label=font.label)


@router.get(
    "/shelf/{index}/picture", response_class=Response, responses={200: {"content": {"image/png": {}}}}
)  # fmt: skip
def shelf_picture(project_id: ProjectId, index: int, shop: Shop) -> Response:
    """A small picture of artwork that was kept from a deleted layer."""
    shelf = shop.projects.open(project_id).project.shelf
    if not 0 <= index < len(shelf):
        raise Refusal("This is on the shelf no more.")
    return Response(shop.shelf_picture(shelf[index].artwork), media_type="image/png")
