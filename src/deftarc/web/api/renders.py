"""Renders over HTTP: start, follow, stop, fetch."""

from typing import Any, Literal

from fastapi import APIRouter, Response
from fastapi.responses import FileResponse

from deftarc.app.workshop import Workshop
from deftarc.paint.output import output_for
from deftarc.store.tables import JobRow
from deftarc.web.api.models import NewRender, ProjectId, RenderState
from deftarc.web.api.projects import attachment, file_name
from deftarc.web.context import Shop
from deftarc.web.strict import StrictRoute

router = APIRouter(prefix="/api", tags=["renders"], route_class=StrictRoute)


Wish = Literal["stop", "pause", "go", "first"]


def told(row: JobRow, shop: Workshop) -> RenderState:
    rate, left = shop.renders.pace(row.id)
    return RenderState(
        id=row.id, title=row.title, state=row.state, done=row.done, total=row.total, message=row.message,
        revision=row.revision, rate=rate, left=left,
    )  # fmt: skip


def told_to(wanted: NewRender) -> dict[str, Any]:
    return {"frame": wanted.frame, "ground": wanted.ground, **wanted.options}


@router.post("/projects/{project_id}/renders", status_code=202)
def start(project_id: ProjectId, wanted: NewRender, shop: Shop) -> RenderState:
    """Start rendering a scene to a movie, or one frame of it to a picture, in the background."""
    return told(shop.jobs.get(shop.render(project_id, wanted.scene, wanted.kind, told_to(wanted))), shop)


@router.get("/projects/{project_id}/renders")
def renders(project_id: ProjectId, shop: Shop) -> list[RenderState]:
    """A project's renders, the newest first."""
    shop.projects.open(project_id)
    return [told(row, shop) for row in shop.jobs.of_project(project_id)]


@router.get("/renders/{job_id}")
def state(job_id: str, shop: Shop) -> RenderState:
    """How far a render is."""
    return told(shop.jobs.get(job_id), shop)


@router.post("/renders/{job_id}/again", status_code=202)
def again(job_id: str, shop: Shop) -> RenderState:
    """Make a render once more, of the project as it is by now."""
    return told(shop.jobs.get(shop.render_again(job_id)), shop)


@router.post("/renders/{job_id}/{wish}")
def wished(job_id: str, wish: Wish, shop: Shop) -> RenderState:
    """Stop a render, let it lie, go on with it, or put it before all others."""
    renders = shop.renders
    {"stop": renders.stop, "pause": renders.pause, "go": renders.go_on, "first": renders.first}[wish](job_id)
    return told(shop.jobs.get(job_id), shop)


@router.get("/renders/{job_id}/file", response_class=Response)
def file(job_id: str, shop: Shop) -> Response:
    """The finished file."""
    row = shop.jobs.get(job_id)
    path = shop.renders.finished(row)
    media = output_for(path).media
    return FileResponse(path, media_type=media, headers=attachment(f"{file_name(row.title)}{path.suffix}"))
