"""Motion paths and masks over HTTP, where a file or an outline is read first: an edit to commit, or samples to try."""

from typing import Annotated

from fastapi import APIRouter, Depends, File, Form, UploadFile
from starlette.concurrency import run_in_threadpool

from deftarc.app.path_sources import mask_of_layer, mask_of_logo, path_of_layer, path_of_logo
from deftarc.core.base import limits
from deftarc.core.base.model import Identity, Moment
from deftarc.core.document import Layer, Scene
from deftarc.core.edit import EditBase
from deftarc.core.edit.masks import AddMask
from deftarc.core.edit.paths import TakePath
from deftarc.formats.read.samples import Samples
from deftarc.formats.read.svg.reader import ReadLogo
from deftarc.web.api.layers import made
from deftarc.web.api.models import Body, ProjectId, Revision, State
from deftarc.web.bodies import takes
from deftarc.web.context import Shop, Uploads
from deftarc.web.strict import StrictRoute

router = APIRouter(
    prefix="/api/projects/{project_id}/scenes/{scene_id}/layers/{layer_id}", tags=["paths"], route_class=StrictRoute
)
Time = Annotated[int, Form(ge=-limits.FURTHEST, le=limits.FURTHEST)]


def _found(project_id: ProjectId, scene_id: str, layer_id: str, shop: Shop) -> tuple[Scene, Layer]:
    scene = shop.projects.open(project_id).project.scene(scene_id)
    return scene, scene.layer(layer_id)


#: The scene and the layer that the address names.
Aimed = Annotated[tuple[Scene, Layer], Depends(_found)]


class Source(Revision):
    source: Identity
    time: Moment
    end: Moment


class Found(Body):
    edit: TakePath


@router.post("/path-from")
def path_from(project_id: ProjectId, scene_id: str, layer_id: str, wanted: Source, shop: Shop) -> State:
    """Give a layer the outline of another as its path, between two moments or the keys it has."""

    def make() -> EditBase:
        scene = shop.projects.open(project_id).project.scene(scene_id)
        layer, source = scene.layer(layer_id), scene.layer(wanted.source)
        return path_of_layer(scene, shop.materials, layer, source, wanted.time, wanted.end)

    return made(shop, project_id, wanted, make)


class MaskSource(Body):
    source: Identity
    time: Moment


class FoundMask(Body):
    edit: AddMask


@router.post("/mask-from")
def mask_from(aimed: Aimed, wanted: MaskSource, shop: Shop) -> FoundMask:
    """The edit that masks a layer by the outline of another, as that lies at a moment; nothing is changed yet."""
    scene, layer = aimed
    return FoundMask(edit=mask_of_layer(scene, shop.materials, layer, scene.layer(wanted.source), wanted.time))


async def _outlines(_aimed: Aimed, uploads: Uploads, file: Annotated[UploadFile, File()]) -> ReadLogo:
    # After the layer was found, so that nothing is read for one that is not there.
    logo: ReadLogo = await uploads.read("path", file)
    return logo


#: The outlines of the SVG that is brought in.
Outlines = Annotated[ReadLogo, Depends(_outlines)]


@router.post("/mask-file")
@takes(limits.MAX_SVG_BYTES)
async def mask_file(shop: Shop, aimed: Aimed, logo: Outlines) -> FoundMask:
    """The edit that masks a layer by all outlines of an SVG; nothing is changed yet."""
    scene, layer = aimed
    return FoundMask(edit=await run_in_threadpool(mask_of_logo, scene, shop.materials, layer, logo))


@router.post("/path-file")
@takes(limits.MAX_SVG_BYTES)
async def path_file(aimed: Aimed, logo: Outlines, time: Time, end: Time) -> Found:
    """The edit that gives a layer the longest outline of an SVG as its path; nothing is changed yet."""
    scene, layer = aimed
    return Found(edit=await run_in_threadpool(path_of_logo, scene, layer, logo, time, end))


@router.post("/samples")
@takes(limits.MAX_CSV_BYTES)
async def samples(
    aimed: Aimed,
    uploads: Uploads,
    file: Annotated[UploadFile, File()],
    property: Annotated[str, Form(max_length=40)],
    time: Time = 0,
) -> Samples:
    """The samples of a CSV for a property, to be laid on it; nothing is changed yet. See docs/format.md."""
    scene, layer = aimed
    track = layer.track(property)
    found: Samples = await uploads.read("samples", file, scene.rate, track.kind == "path", time)
    return found
