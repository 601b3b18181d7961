"""Scenes shown within others: which of their frames is seen when, and what lies around them."""

from typing import Annotated

from fastapi import APIRouter, Query, Response

from deftarc.app.around import around, inner_frames, shown_scene
from deftarc.core.base import limits
from deftarc.core.base.model import Frozen, Identity
from deftarc.web.api.models import ProjectId
from deftarc.web.context import Shop

router = APIRouter(prefix="/api", tags=["scenes"])
FrameNumber = Annotated[int, Query(ge=0, le=limits.MAX_SCENE_FRAMES)]


class Entered(Frozen):
    """The scene a layer shows, and which frame of it is seen; None where nothing of it is."""

    scene: Identity
    frame: int | None


@router.get("/projects/{project_id}/scenes/{scene_id}/layers/{layer_id}/within")
def within(project_id: ProjectId, scene_id: str, layer_id: str, shop: Shop, frame: FrameNumber = 0) -> Entered:
    """Which frame of the scene that a layer shows is seen at a frame."""
    project = shop.projects.open(project_id).project
    scene = project.scene(scene_id)
    inner = shown_scene(project, scene, layer_id)
    seen = inner_frames(project, scene, layer_id)[min(frame, scene.frames - 1)]
    return Entered(scene=inner.id, frame=None if seen != seen else min(round(float(seen)), inner.frames - 1))


@router.get(
    "/projects/{project_id}/scenes/{scene_id}/layers/{layer_id}/around",
    response_class=Response,
    responses={200: {"content": {"image/png": {}}}},
)
def seen_around(
    project_id: ProjectId, scene_id: str, layer_id: str, shop: Shop, frame: FrameNumber = 0, near: FrameNumber = 0
) -> Response:
    """The scene around one that it shows, as that sees it at one of its frames, as PNG; ``X-Box`` has what it fills."""
    project = shop.projects.open(project_id).project
    picture, box = around(project, project.scene(scene_id), layer_id, frame, near, shop.materials)
    told = " ".join(f"{number:g}" for number in box)
    return Response(picture, media_type="image/png", headers={"X-Box": told})
