"""Projects over HTTP: list, make, rename, duplicate, delete, restore, edit, undo, redo, file in and out."""

from typing import Annotated

from fastapi import APIRouter, File, Path, Response, UploadFile
from starlette.concurrency import run_in_threadpool
from starlette.responses import StreamingResponse

from deftarc.app.workshop import Workshop
from deftarc.core.base import limits
from deftarc.core.document import Project
from deftarc.core.document.artwork import Bursts
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.store.projects import OpenProject
from deftarc.web.api.models import (
    Created,
    DrawnIn,
    GoAsked,
    History,
    MadeEdit,
    Named,
    NewProject,
    Progress,
    ProjectId,
    Rename,
    State,
    StateName,
    StepAsked,
    Summary,
)
from deftarc.web.api.stepping import went
from deftarc.web.bodies import takes
from deftarc.web.context import Shop, Uploads
from deftarc.web.strict import StrictRoute, heavy

EditId = Annotated[str, Path(max_length=60)]
HistoryState = Annotated[int, Path(ge=0, le=2**53)]

router = APIRouter(prefix="/api/projects", tags=["projects"], route_class=StrictRoute)


@router.get("")
def projects(shop: Shop) -> list[Summary]:
    """All projects, the last changed first."""
    return [
        Summary(id=p.id, name=p.name, created_at=p.created_at, changed_at=p.changed_at, revision=p.revision)
        for p in shop.projects.summaries()
    ]


@router.post("", status_code=201)
def create(wanted: NewProject, shop: Shop) -> Created:
    """Make a project with one empty scene."""
    return Created(id=shop.projects.create(wanted.project()))


@router.post("/import", status_code=201)
@takes(limits.MAX_ARCHIVE_BYTES)
async def import_file(shop: Shop, uploads: Uploads, file: Annotated[UploadFile, File()]) -> Created:
    """Take a project file in as a new project; an animation (Lottie), too, and a drawing that has a project in it.
    ``notes`` says what of it is not carried.
    """
    async with uploads.folder_for_one() as into:
        name, written, media, notes = await uploads.read_project(file, into)
        return Created(id=await run_in_threadpool(shop.take_read, name, written, media, into), notes=notes)


@router.get("/{project_id}")
def state(project_id: ProjectId, shop: Shop) -> State:
    """A project's revision and what can be undone."""
    return State.of(shop.projects.open(project_id))


@router.get("/{project_id}/document", response_model=Project)
@heavy
def document(project_id: ProjectId, shop: Shop) -> StreamingResponse:
    """The whole document, as in a project file."""
    return StreamingResponse(iter(shop.document(project_id)), media_type="application/json")


@router.get("/{project_id}/drawn")
@heavy
def drawn(project_id: ProjectId, shop: Shop) -> list[DrawnIn]:
    """By scene, the layers that have artwork of their own."""
    return [
        DrawnIn(
            scene=scene.id,
            name=scene.name,
            layers=[
                Named(id=each.id, name=each.name)
                for each in scene.layers
                if not each.artwork.empty and not isinstance(each.artwork, Bursts | SceneShown)
            ],
        )
        for scene in shop.projects.open(project_id).project.scenes
    ]


@router.get("/{project_id}/file", response_class=Response, responses={200: {"content": {"application/zip": {}}}})
@heavy
def file(project_id: ProjectId, shop: Shop, as_it_lies: bool = False) -> Response:
    """The project as a file to keep or hand on; or, read whole or not, what is stored of it."""
    if as_it_lies:
        title, data = shop.as_it_lies(project_id)
        name = f"{file_name(title)}-as-it-lies"
    else:
        data = shop.export(project_id)
        name = file_name(shop.projects.root_of(project_id)[0])
    return Response(data, media_type="application/zip", headers=attachment(f"{name}.deftarc"))


@router.post("/{project_id}/edits")
def edit(project_id: ProjectId, made: MadeEdit, shop: Shop) -> State:
    """Make an edit. It is on disk when this answers."""
    with shop.working(made.edit_id):
        return State.after(shop.commit(project_id, made.revision, made.edit, made.edit_id))


@router.get("/{project_id}/edits/{edit_id}/progress")
def progress(project_id: ProjectId, edit_id: EditId, shop: Shop) -> Progress:
    """How far an edit is that is being worked out; nothing of nothing where none is."""
    work = shop.works.get(edit_id)
    return Progress() if work is None else Progress(share=work.share)


@router.post("/{project_id}/edits/{edit_id}/stop", status_code=204)
def stop_edit(project_id: ProjectId, edit_id: EditId, shop: Shop) -> None:
    """Stop an edit that is being worked out: nothing is changed by it. One that is done stays done."""
    work = shop.works.get(edit_id)
    if work is not None:
        work.stopped = True


@router.post("/{project_id}/undo")
def undo(project_id: ProjectId, at: StepAsked, shop: Shop) -> State:
    """Take back the newest step."""
    return _stepped(
        shop.announce(shop.projects.undo(project_id, at.revision, at.edit_id, at.count)), at, "Undone", shop
    )


@router.post("/{project_id}/redo")
def redo(project_id: ProjectId, at: StepAsked, shop: Shop) -> State:
    """Make the step again that was taken back last."""
    return _stepped(
        shop.announce(shop.projects.redo(project_id, at.revision, at.edit_id, at.count)), at, "Redone", shop
    )


@router.post("/{project_id}/go")
def go(project_id: ProjectId, to: GoAsked, shop: Shop) -> State:
    """Go to any state of the history, also to what was undone and overwritten."""
    return _stepped(shop.announce(shop.projects.go(project_id, to.revision, to.state, to.edit_id)), to, "After", shop)


@router.get("/{project_id}/states")
def states(project_id: ProjectId, shop: Shop) -> History:
    """All states of the history in the order in which they were made, and which one is the present."""
    return History.of(shop.projects.open(project_id), shop.projects.states(project_id))


@router.put("/{project_id}/states/{state}/name", status_code=204)
def name_state(project_id: ProjectId, state: HistoryState, wanted: StateName, shop: Shop) -> None:
    """Give a state of the history a name, or take it away."""
    shop.projects.name_state(project_id, state, wanted.name.strip())


@router.post("/{project_id}/states/{state}/copy", status_code=201)
def copy_state(project_id: ProjectId, state: HistoryState, shop: Shop) -> Created:
    """Make a state of the history a project of its own."""
    return Created(id=shop.projects.copy_of_state(project_id, state))


def _stepped(opened: OpenProject, at: StepAsked, done: str, shop: Workshop) -> State:
    return State.of(opened).model_copy(update={"went": went(opened, at, done, shop.materials.shaper.form)})


@router.put("/{project_id}/name")
def rename(project_id: ProjectId, wanted: Rename, shop: Shop) -> State:
    """Rename a project; a step of its history like any edit."""
    return State.of(shop.announce(shop.projects.rename(project_id, wanted.name)))


@router.post("/{project_id}/duplicate", status_code=201)
def duplicate(project_id: ProjectId, shop: Shop) -> Created:
    """Copy a project; the copy has a history of its own."""
    return Created(id=shop.projects.duplicate(project_id))


@router.delete("/{project_id}", status_code=204)
def delete(project_id: ProjectId, shop: Shop) -> None:
    """Take a project off the list. It can be restored."""
    shop.delete(project_id)


@router.post("/{project_id}/restore", status_code=204)
def restore(project_id: ProjectId, shop: Shop) -> None:
    """Bring a deleted project back."""
    shop.projects.restore(project_id)


@router.post("/{project_id}/remove", status_code=204)
def remove(project_id: ProjectId, shop: Shop) -> None:
    """Remove a deleted project for good, and give its room back."""
    shop.remove(project_id)


@router.post("/{project_id}/back")
def back(project_id: ProjectId, shop: Shop) -> State:
    """Take a damaged project back to the last state that opens whole."""
    return State.of(shop.announce(shop.projects.back_to_sound(project_id)))


@router.get("/{project_id}/picture", response_class=Response, responses={200: {"content": {"image/png": {}}}})
@heavy
def picture(project_id: ProjectId, shop: Shop) -> Response:
    """A small picture of the first scene."""
    return Response(shop.picture(project_id), media_type="image/png", headers={"Cache-Control": "no-cache"})


def file_name(told: str) -> str:
    """A name that every file system takes."""
    kept = "".join(c if c.isascii() and (c.isalnum() or c in "-_") else "-" for c in told)
    return "-".join(part for part in kept.split("-") if part)[:80] or "deftarc"


def attachment(name: str) -> dict[str, str]:
    return {"Content-Disposition": f'attachment; filename="{name}"'}
