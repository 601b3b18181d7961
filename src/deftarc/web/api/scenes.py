"""Scenes over HTTP: frames as binary tables, drawings, files brought in, assets, typed moments."""

from hashlib import blake2b
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Form, Path, Query, Response
from starlette.concurrency import run_in_threadpool

from deftarc.app.brought import brought_again, shown_first
from deftarc.app.measured import size_factor
from deftarc.app.stills import only, still_picture
from deftarc.core.arrange.family import led_by, needed_for
from deftarc.core.arrange.merged import Prefer
from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal, unknown
from deftarc.core.base.model import AssetHash
from deftarc.core.base.time import parse_moment, parse_time, timecode
from deftarc.core.document import Scene, new_id
from deftarc.core.document.artwork import ARTWORKS, Artwork, Bursts, Logo, Picture
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.drawing import Drawing
from deftarc.core.document.project import layers_shown
from deftarc.core.edit import EditBase
from deftarc.core.edit.add import AddLayer
from deftarc.core.edit.brought import BringScenes
from deftarc.core.edit.layers import ReplaceArtwork
from deftarc.core.edit.scenes import AddScene
from deftarc.core.edit.takes import in_take, set_named
from deftarc.core.evaluate import delivered, evaluate, frame_times
from deftarc.core.evaluate.seam import stretch_of
from deftarc.core.evaluate.smear import Smearer
from deftarc.formats.materials import reach_in
from deftarc.formats.read import BroughtIn, BroughtScenes, title_of
from deftarc.formats.wire import dots_parts, pack, smear_parts, table_parts
from deftarc.web.api.layers import made
from deftarc.web.api.models import (
    BroughtAgain,
    BroughtInLayer,
    Created,
    Moment,
    NewScene,
    ProjectId,
    SceneSettings,
    Sent,
    SentAs,
    SentOn,
    State,
)
from deftarc.web.bodies import takes
from deftarc.web.context import Shop, Uploads, file_named
from deftarc.web.look import Unit
from deftarc.web.strict import StrictRoute, heavy

router = APIRouter(prefix="/api", tags=["scenes"], route_class=StrictRoute)
BINARY: dict[int | str, dict[str, Any]] = {200: {"content": {"application/octet-stream": {}}}}
SceneId = Annotated[str, "the scene's id"]
TakeId = Annotated[str, Path(max_length=60)]


@router.get("/projects/{project_id}/scenes/{scene_id}/frames", response_class=Response, responses=BINARY)
@heavy
def frames(
    project_id: ProjectId,
    scene_id: SceneId,
    shop: Shop,
    first: Annotated[int, Query(ge=0, le=limits.MAX_SCENE_FRAMES)] = 0,
    count: Annotated[int | None, Query(ge=1, le=limits.MAX_SCENE_FRAMES)] = None,
) -> Response:
    """The FrameTable of some frames, in the wire format of docs/format.md."""
    project = shop.projects.open(project_id).project
    scene = project.scene(scene_id)
    number = scene.frames - first if count is None else count
    if number < 1 or first + number > scene.frames:
        raise Refusal(f"{scene.name} has frames 0 to {scene.frames - 1}; ask for a range within them.")
    if number * max(layers_shown(project, scene), 1) * 7 > limits.MAX_TABLE_NUMBERS:
        raise Refusal("That is more than one table holds. Ask for fewer frames at a time.")
    table = evaluate(scene, frame_times(scene, first, number), shop.materials.shaper.form, scenes=project.by_id)
    head, blobs = table_parts(table, first)
    return Response(pack(head, blobs), media_type="application/octet-stream")


#: Moments of each frame that a page plays at most: more would be seen by nobody, and take it long.
PLAYED = 8


@router.get("/projects/{project_id}/scenes/{scene_id}/smear", response_class=Response, responses=BINARY)
@heavy
def smear(project_id: ProjectId, scene_id: SceneId, shop: Shop) -> Response:
    """What smears as it moves, at all frames, by a few moments each; ``smear`` is null where nothing does."""
    project = shop.projects.open(project_id).project
    scene = delivered(project.scene(scene_id))
    if scene.frames * PLAYED * max(layers_shown(project, scene), 1) * 7 > limits.MAX_TABLE_NUMBERS:
        raise Refusal("This scene is too long to be played with what moves blurred. It is rendered so.")
    reach, text = reach_in(scene, shop.materials), shop.materials.shaper.form
    made = Smearer(text).smear(scene, frame_times(scene), project.by_id, reach, PLAYED)
    head, blobs = smear_parts(made, 3 * limits.MAX_DOTS_SENT) if made is not None else (None, [])
    return Response(pack({"smear": head}, blobs), media_type="application/octet-stream")


#: Px of the page, on its screen.
Px = Annotated[int, Query(ge=1, le=limits.MAX_SIDE)]
Place = Annotated[float, Query(ge=-limits.MAX_NUMBER, le=limits.MAX_NUMBER, allow_inf_nan=False)]


@router.get(
    "/projects/{project_id}/scenes/{scene_id}/still",
    response_class=Response,
    responses={200: {"content": {"image/png": {}}}},
)
@heavy
def still(
    project_id: ProjectId,
    scene_id: SceneId,
    shop: Shop,
    width: Px,
    height: Px,
    frame: Annotated[int, Query(ge=0, le=limits.MAX_SCENE_FRAMES)] = 0,
    zoom: Annotated[float, Query(gt=0, le=64, allow_inf_nan=False)] = 1,
    left: Place = 0,
    top: Place = 0,
    alone: Annotated[list[str], Query(max_length=limits.MAX_LAYERS)] = [],  # noqa: B006
) -> Response:
    """A frame as it is rendered, on a stage of so many px: enlarged by ``zoom`` and put there; of some layers, if
    ``alone`` names them.
    """
    project = shop.projects.open(project_id).project
    scene = project.scene(scene_id)
    if frame >= scene.frames:
        raise Refusal(f"{scene.name} has frames 0 to {scene.frames - 1}; ask for one of them.")
    if width * height > limits.MAX_STAGE:
        raise Refusal(f"A stage has at most {limits.MAX_STAGE:,} pixels.")
    shown = only(scene, set(alone))
    picture = still_picture(project, shown, frame, (zoom, left, top), (width, height), shop.materials)
    return Response(picture, media_type="image/png", headers={"Cache-Control": "no-store"})


#: Frames that are looked at for a stretch of rings and particles.
LOOKED_AT = 600


@router.get("/projects/{project_id}/scenes/{scene_id}/dots", response_class=Response, responses=BINARY)
@heavy
def dots(
    project_id: ProjectId,
    scene_id: SceneId,
    shop: Shop,
    frame: Annotated[int, Query(ge=0, le=limits.MAX_SCENE_FRAMES)],
    back: Annotated[int, Query(ge=0, le=LOOKED_AT)] = 0,
) -> Response:
    """A scene's rings and particles from a frame on, and of some frames before it, as far as they are sent at once."""
    opened = shop.projects.open(project_id)
    scene = opened.project.scene(scene_id)
    if frame >= scene.frames:
        raise Refusal(f"{scene.name} has frames 0 to {scene.frames - 1}; ask for one of them.")
    first = max(0, frame - back)
    times = frame_times(scene, first, min(LOOKED_AT, scene.frames - first))
    needed = needed_for(scene, [x.id for x in scene.layers if isinstance(x.artwork, Bursts | SceneShown)])
    part = scene.changed(layers=tuple(x for x in scene.layers if x.id in needed))
    table = evaluate(part, times, shop.materials.shaper.form, scenes=opened.project.by_id)
    told, blobs = dots_parts(table, first, frame - first)
    return Response(pack({"revision": opened.revision, "dots": told}, blobs), media_type="application/octet-stream")


@router.get("/projects/{project_id}/scenes/{scene_id}/seam", response_class=Response, responses=BINARY)
def seam_pictures(project_id: ProjectId, scene_id: SceneId, shop: Shop) -> Response:
    """The two pictures of a loop's seam as one table: where it starts, and what its end comes to."""
    project = shop.projects.open(project_id).project
    scene = delivered(project.scene(scene_id))
    start, end = stretch_of(scene)
    within = {name: delivered(each) for name, each in project.by_id.items()}
    head, blobs = table_parts(evaluate(scene, [start, end - 1], shop.materials.shaper.form, scenes=within), 0)
    told = {"width": scene.width, "height": scene.height, "background": scene.background}
    return Response(pack({**told, "candidates": [{"table": head}]}, blobs), media_type="application/octet-stream")


@router.get(
    "/projects/{project_id}/scenes/{scene_id}/takes/{set_id}/{take_id}", response_class=Response, responses=BINARY
)
def take_frames(project_id: ProjectId, scene_id: SceneId, set_id: TakeId, take_id: TakeId, shop: Shop) -> Response:
    """The layers of a take, and what they carry, as they would show in it: one table over the whole scene."""
    project = shop.projects.open(project_id).project
    scene = project.scene(scene_id)
    told = set_named(scene, set_id)
    other = in_take(scene, set_id, take_id)
    wanted = led_by(other, told.layers)
    if other.frames * max(len(wanted), 1) * 7 > limits.MAX_TABLE_NUMBERS:
        raise Refusal("This scene has more frames times layers than a page can play. Make it shorter.")
    table = evaluate(other, frame_times(other), shop.materials.shaper.form, scenes=project.by_id)
    head, blobs = table_parts(table, 0, wanted)
    return Response(pack({"candidates": [{"table": head}]}, blobs), media_type="application/octet-stream")


@router.get("/artworks/{kind}")
def first_artwork(kind: str, side: Annotated[float, Query(ge=1, le=limits.MAX_SIDE)] = 300) -> dict[str, Any]:
    """Artwork of a kind that is good to begin with, about so many px large."""
    made = ARTWORKS[kind].first(round(side)) if kind in ARTWORKS else None
    if made is None:
        raise unknown("artwork to begin with", kind)
    return {"name": made.label, "artwork": made.model_dump(mode="json", exclude_defaults=True)}


@router.get("/projects/{project_id}/scenes/{scene_id}/layers/{layer_id}/drawing")
def drawing(project_id: ProjectId, scene_id: SceneId, layer_id: str, shop: Shop) -> Drawing:
    """What a layer looks like before it is moved."""
    scene = shop.projects.open(project_id).project.scene(scene_id)
    return shop.materials.of_layer(scene.layer(layer_id))


@router.post("/projects/{project_id}/scenes/{scene_id}/files", status_code=201)
@takes(limits.MAX_UPLOAD_BYTES)
async def bring_in(
    project_id: ProjectId,
    scene_id: SceneId,
    shop: Shop,
    uploads: Uploads,
    file: Sent,
    revision: SentOn,
    x: Annotated[float | None, Form(ge=-limits.MAX_NUMBER, le=limits.MAX_NUMBER)] = None,
    y: Annotated[float | None, Form(ge=-limits.MAX_NUMBER, le=limits.MAX_NUMBER)] = None,
    size: Annotated[Literal["fit", "fill", "full"], Form()] = "full",
    replace: Annotated[str | None, Form(max_length=60)] = None,
    place: Annotated[Literal["whole", "on_top", "insert", "overwrite"], Form()] = "whole",
    time: Annotated[int, Form(ge=0, le=limits.FURTHEST)] = 0,
    length: Annotated[int | None, Form(gt=0, le=limits.FURTHEST)] = None,
    edit_id: SentAs = None,
) -> BroughtInLayer:
    """Bring in an SVG, PNG, JPEG or WebP as a new layer, its middle at (x, y) scene px, or a Lottie animation, as
    scenes that a new layer shows; or in place of the artwork of the layer ``replace``, which keeps its motion.
    """
    scene = (await run_in_threadpool(shop.projects.open, project_id)).project.scene(scene_id)
    if replace is not None:
        scene.layer(replace)
    name = file_named(file)
    # Sent again, it is the same layer that is told of, and the same scenes.
    fresh = blake2b(edit_id.encode(), digest_size=5).hexdigest() if edit_id else new_id()
    brought: BroughtIn | BroughtScenes = await uploads.read("brought in", file, name, fresh)
    scenes: tuple[Scene, ...] = ()
    if isinstance(brought, BroughtScenes):
        scenes = brought.scenes
        art: Artwork = await run_in_threadpool(shown_first, scenes, shop.materials.shaper.form)
    else:
        art = brought.artwork
    at = (x, y) if x is not None and y is not None else None
    layer = replace or fresh
    edit: EditBase
    if replace is not None:
        if scenes:
            raise Refusal(f"{name} is a motion, with layers of its own. Bring it in as a new layer.")
        edit = ReplaceArtwork(scene=scene.id, layer=replace, artwork=art)
    else:
        assert isinstance(art, Picture | Logo | SceneShown)
        told: dict[str, Any] = {
            "scene": scene.id, "id": layer, "name": title_of(name), "artwork": art, "at": at, "place": place,
            "time": time, "length": length,
            "scale": min(max(size_factor(scene, art.width, art.height, size), 1e-4), 1e4),
        }  # fmt: skip
        edit = BringScenes(**told, scenes=scenes) if scenes else AddLayer(**told)
    opened = await run_in_threadpool(shop.bring_in, project_id, revision, brought.assets, edit, edit_id)
    return BroughtInLayer(**State.after(opened).model_dump(), layer=layer, missing=list(brought.notes))


@router.post("/projects/{project_id}/scenes/{scene_id}/again")
@takes(limits.MAX_UPLOAD_BYTES)
async def bring_again(
    project_id: ProjectId,
    scene_id: SceneId,
    shop: Shop,
    uploads: Uploads,
    file: Sent,
    revision: SentOn,
    prefer: Annotated[Prefer, Form()] = "here",
    edit_id: SentAs = None,
) -> BroughtAgain:
    """Bring a scene that came of a file in again, which has changed since: what was done here is kept. ``kept`` says
    what both changed, and stays as it is here unless ``prefer`` is *file*.
    """
    before = await run_in_threadpool(shop.projects.made_before, project_id, edit_id)
    if before is not None:
        return BroughtAgain(**State.after(before).model_dump())
    project = (await run_in_threadpool(shop.projects.open, project_id)).project
    scene = project.scene(scene_id)
    name = file_named(file)
    brought = await uploads.read("brought in", file, name, "new")
    again = await run_in_threadpool(brought_again, project, scene, shop.assets.read, brought, name, prefer)
    opened = await run_in_threadpool(shop.bring_in, project_id, revision, again.assets, again.edit, edit_id)
    return BroughtAgain(**State.after(opened).model_dump(), kept=list(again.kept), missing=list(brought.notes))


@router.post("/projects/{project_id}/scenes", status_code=201)
def add_scene(project_id: ProjectId, wanted: NewScene, shop: Shop) -> Created:
    """Make another scene in a project."""
    scene = wanted.scene()
    shop.commit(project_id, shop.projects.open(project_id).revision, AddScene(scene=scene))
    return Created(id=scene.id)


@router.put("/projects/{project_id}/scenes/{scene_id}")
def change_scene(project_id: ProjectId, scene_id: SceneId, wanted: SceneSettings, shop: Shop) -> State:
    """Change a scene's settings, the typed ones as they were typed."""
    return made(shop, project_id, wanted, lambda: wanted.edit(shop.projects.open(project_id).project.scene(scene_id)))


@router.get("/assets/{name}", response_class=Response, responses=BINARY)
def asset(name: AssetHash, shop: Shop) -> Response:
    """A picture's bytes. Assets never change, so they may be kept for good."""
    found = shop.assets.get(name)
    media = found.media if found.media in ("image/png", "image/jpeg", "image/webp") else "application/octet-stream"
    return Response(found.data, media_type=media, headers={"Cache-Control": "private, max-age=31536000, immutable"})


@router.get("/projects/{project_id}/scenes/{scene_id}/moment")
def moment(
    project_id: ProjectId,
    scene_id: SceneId,
    shop: Shop,
    text: Annotated[str, Query(max_length=60)],
    anywhere: bool = False,
    unit: Unit = "timecode",
) -> Moment:
    """The frame meant by a typed frame, timecode or seconds; ``anywhere``: keys may lie outside the scene.

    In a unit of seconds a bare number is seconds.
    """
    scene = shop.projects.open(project_id).project.scene(scene_id)
    plain = text.strip()
    typed = f"{plain}s" if unit == "seconds" and "." in plain and plain[-1:].isdigit() else text
    if anywhere:
        time = parse_time(typed, scene.rate)
        frame = scene.rate.nearest(time)
        return Moment(frame=frame, time=time, timecode=timecode(frame, scene.rate))
    frame = parse_moment(typed, scene.rate)
    if not 0 <= frame < scene.frames:
        last = scene.frames - 1
        raise Refusal(
            f"{scene.name} runs from frame 0 to {last} ({timecode(last, scene.rate)}); {text.strip()} lies beyond."
        )
    return Moment(frame=frame, time=scene.rate.time_of(frame), timecode=timecode(frame, scene.rate))
