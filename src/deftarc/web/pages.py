"""The pages and their fragments: start page, workbench, dialogs."""

from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Literal

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from deftarc.app.workshop import Workshop
from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import RATES, timecode
from deftarc.core.document import PRESETS
from deftarc.core.document.artwork import ARTWORKS
from deftarc.core.document.eases import EASES
from deftarc.core.document.find import find_scene
from deftarc.fonts.faces import FACES
from deftarc.formats.read import endings
from deftarc.store.projects import ProjectSummary
from deftarc.store.room import KEPT_DAYS
from deftarc.store.settings import MOST_AT_ONCE, MOST_WORKERS, Settings
from deftarc.store.trouble import StoreTrouble
from deftarc.web.actions import ACTIONS, sheet
from deftarc.web.api.models import NewProject
from deftarc.web.context import Shop, templates
from deftarc.web.served import effect_scripts, page_lists

router = APIRouter(include_in_schema=False, default_response_class=HTMLResponse)


def when(stamp: float) -> str:
    """A moment as people say it."""
    then, now = datetime.fromtimestamp(stamp), datetime.now()
    if then.date() == now.date():
        return f"today, {then:%H:%M}"
    return f"{then.day} {then:%B %Y}" if then.year != now.year else f"{then.day} {then:%B}, {then:%H:%M}"


templates.env.filters["when"] = when


def room(size: int) -> str:
    """Bytes as people say them."""
    if size < 2**20:
        return f"{max(1, round(size / 2**10))} kB" if size else "nothing"
    return f"{size / 2**20:.1f} MB" if size < 2**30 else f"{size / 2**30:.2f} GB"


templates.env.filters["room"] = room


@dataclass(frozen=True)
class Card:
    """A project on the start page. ``trouble`` says what of it cannot be read; ``opens`` whether it can be opened."""

    row: ProjectSummary
    about: str
    trouble: str = ""
    opens: bool = True


def _card(shop: Workshop, row: ProjectSummary) -> Card:
    """Whatever is wrong with one project never takes the page from the others."""
    try:
        seen = shop.projects.glimpse(row)
    except Refusal:
        return Card(row, "", "It is damaged and cannot be opened as it is.", opens=False)
    first, lost = seen.first, seen.lost
    size = f"{first.width} × {first.height} · {first.rate.label()} frames a second"
    more = f"{seen.scenes} scenes" if seen.scenes > 1 else timecode(first.frames, first.rate)
    trouble = f"{lost} of its layers cannot be read." if lost > 1 else "One of its layers cannot be read."
    return Card(row, f"{size} · {more}", trouble if lost else "")


def _list(shop: Workshop) -> dict[str, object]:
    damage = shop.sessions.damage
    try:
        rows, deleted = shop.projects.listed()
    except StoreTrouble as trouble:
        rows, deleted, damage = [], [], damage or str(trouble)
    return {
        "projects": [_card(shop, row) for row in rows], "deleted": deleted, "kept_days": KEPT_DAYS,
        "damage": damage, "file": shop.sessions.file,
    }  # fmt: skip


@router.get("/")
def start(request: Request, shop: Shop) -> Response:
    return templates.TemplateResponse(
        request, "start.html",
        {**_list(shop), "presets": PRESETS, "rates": list(RATES), "new": NewProject(), "whole": shop.room.whole(),
         "guarded": request.scope.get("deftarc.guarded", False),
         "farm": shop.renders.farm, "settings": shop.settings.told(),
         "most_at_once": MOST_AT_ONCE, "most_workers": MOST_WORKERS},
    )  # fmt: skip


@router.get("/parts/deleted")
def deleted(request: Request, shop: Shop) -> Response:
    """The deleted projects, with the room that each gives back."""
    rows, sizes = shop.projects.summaries(deleted=True), shop.room.of_deleted()
    return templates.TemplateResponse(
        request, "parts/deleted.html",
        {"deleted": [(row, sizes.get(row.id, 0)) for row in rows], "all_room": sum(sizes.values()),
         "kept_days": KEPT_DAYS},
    )  # fmt: skip


@router.post("/room")
def give_room_back(request: Request, shop: Shop) -> Response:
    """Removes what no state of any project names any more."""
    told = (
        f"{room(shop.sweep())} came back." if not shop.sessions.damage else "Nothing is removed from what is damaged."
    )
    return templates.TemplateResponse(request, "parts/kept.html", {"sentence": told})


@router.post("/settings")
def settings(
    request: Request,
    shop: Shop,
    renders_at_once: Annotated[str, Form(max_length=20)] = "",
    workers: Annotated[str, Form(max_length=20)] = "",
    farm_lost: Annotated[Literal["here", "wait"] | None, Form()] = None,
) -> Response:
    count = whole(renders_at_once, "number of renders", "")
    if not 1 <= count <= MOST_AT_ONCE:
        raise Refusal(f"Between 1 and {MOST_AT_ONCE} renders can run at once.")
    hands = whole(workers, "number of processes", "") if workers else shop.settings.told().workers
    if not 1 <= hands <= MOST_WORKERS:
        raise Refusal(f"Between 1 and {MOST_WORKERS} processes can paint.")
    lost = farm_lost or shop.settings.told().farm_lost
    shop.settings.keep(Settings(renders_at_once=count, workers=hands, farm_lost=lost))
    shop.renders.wake()
    often = f"{count} renders run at once" if count > 1 else "One render runs at a time"
    who = f"{hands} processes" if hands > 1 else "one process"
    if shop.renders.farm is not None:
        who = f"the farm; while it does not answer {f'by {who}' if lost == 'here' else 'they wait'}"
    told = f"{often}, painted by {who}."
    return templates.TemplateResponse(request, "parts/kept.html", {"sentence": told})


@router.get("/parts/farm")
def farm(request: Request, shop: Shop) -> Response:
    """Whether the farm answers, as it is now."""
    told = shop.renders.farm.told() if shop.renders.farm is not None else "There is none."
    return templates.TemplateResponse(request, "parts/kept.html", {"sentence": told})


@router.post("/log-out-everywhere")
def log_out_everywhere(request: Request, shop: Shop) -> Response:
    """Ends all logins: whoever comes next, here too, shows the token."""
    guarded = request.scope.get("deftarc.guarded", False)
    if guarded:
        shop.logins.end_all()
    told = "Everybody is logged out." if guarded else "Nobody has to log in here."
    return templates.TemplateResponse(request, "parts/kept.html", {"sentence": told})


@router.get("/parts/projects")
def projects(request: Request, shop: Shop, gone: str = "") -> Response:
    """The list alone, after something in it changed."""
    name = next((row.name for row in shop.projects.summaries(deleted=True) if row.id == gone), "")
    return templates.TemplateResponse(request, "parts/projects.html", {**_list(shop), "gone": gone, "gone_name": name})


@router.post("/projects")
def create(
    request: Request,
    shop: Shop,
    name: Annotated[str, Form()] = "",
    preset: Annotated[str, Form()] = "wide",
    width: Annotated[str, Form()] = "",
    height: Annotated[str, Form()] = "",
    rate: Annotated[str, Form()] = "25",
    length: Annotated[str, Form()] = "5s",
    background: Annotated[str, Form()] = "#fffdf7",
    transparent: Annotated[bool, Form()] = False,
) -> Response:
    """Make a project from the form; nothing typed is lost when it is refused."""
    try:
        wanted = NewProject(
            name=named(name), preset=preset, rate=rate, length=length[:40],
            width=whole(width, "width") if preset == "free" else None,
            height=whole(height, "height") if preset == "free" else None,
            background="none" if transparent else background,
        )  # fmt: skip
        created = shop.projects.create(wanted.project())
    except ValueError as error:
        told = str(error) if isinstance(error, Refusal) else "The name or the background cannot be used like this."
        return templates.TemplateResponse(request, "parts/sentence.html", {"sentence": told}, 200)
    return Response(status_code=204, headers={"HX-Redirect": f"/projects/{created}"})


def named(told: str) -> str:
    name = told.strip() or "Untitled"
    if len(name) > 120:
        raise Refusal("A name has at most 120 letters.")
    return name


def whole(told: str, what: str, of: str = " of px, like 1080") -> int:
    if not (told.strip().isascii() and told.strip().isdigit()):
        raise Refusal(f"The {what} is a whole number{of}.")
    return int(told[:9])


@router.post("/projects/{project_id}/rename")
def rename(request: Request, project_id: str, shop: Shop, name: Annotated[str, Form()] = "") -> Response:
    shop.announce(shop.projects.rename(project_id, named(name)))
    return projects(request, shop)


@router.post("/projects/{project_id}/duplicate")
def duplicate(request: Request, project_id: str, shop: Shop) -> Response:
    shop.projects.duplicate(project_id)
    return projects(request, shop)


@router.post("/projects/{project_id}/delete")
def delete(request: Request, project_id: str, shop: Shop) -> Response:
    shop.delete(project_id)
    return projects(request, shop, project_id)


@router.post("/projects/{project_id}/remove")
def remove(request: Request, project_id: str, shop: Shop) -> Response:
    """Removes a deleted project for good."""
    shop.remove(project_id)
    return projects(request, shop)


@router.post("/projects/{project_id}/back")
def back(request: Request, project_id: str, shop: Shop) -> Response:
    """Takes a damaged project back to the last state that opens whole."""
    shop.announce(shop.projects.back_to_sound(project_id))
    return projects(request, shop)


@router.post("/projects/{project_id}/restore")
def restore(request: Request, project_id: str, shop: Shop) -> Response:
    shop.projects.restore(project_id)
    return projects(request, shop)


@router.get("/projects/{project_id}")
def workbench(request: Request, project_id: str, shop: Shop, scene: str | None = None) -> Response:
    opened = shop.projects.open(project_id)
    shown = find_scene(opened.project, scene)
    return templates.TemplateResponse(
        request,
        "workbench.html",
        {
            "opened": opened, "project": opened.project, "scene": shown,
            "faces": FACES.values(), "eases": EASES.values(),
            "artworks": {name: kind for name, kind in ARTWORKS.items() if kind.icon},
            "lists": page_lists(), "endings": endings(), "sheet": sheet(), "actions": ACTIONS,
            "effect_scripts": effect_scripts(),
        },
    )  # fmt: skip


@router.get("/projects/{project_id}/parts/{part}")
def part(request: Request, project_id: str, part: str, shop: Shop, scene: str | None = None) -> Response:
    """A dialog's contents as they are now: scene settings, the shelf, the fonts."""
    if part not in ("scene", "new-scene", "shelf", "fonts", "scenes"):
        raise Refusal("There is no such part of the page.")
    project = shop.projects.open(project_id).project
    if part != "scene" and scene is not None and all(each.id != scene for each in project.scenes):
        # The page asks as soon as it hears of a change, and the scene it showed may be gone by then.
        scene = None
    return templates.TemplateResponse(
        request, f"parts/dialog_{part.replace('-', '_')}.html",
        {"project": project, "project_id": project_id, "scene": find_scene(project, scene), "presets": PRESETS,
         "rates": list(RATES), "faces": FACES.values(), "timecode": timecode,
         "sizes": [size[1:] for size in PRESETS.values()]},
    )  # fmt: skip


@router.get("/favicon.ico")
def favicon() -> Response:
    return RedirectResponse("/static/mark.svg")
