"""The dialog in which a scene is delivered: where it goes, as what, how, what arrives; and the queue below."""

from dataclasses import dataclass
from functools import lru_cache
from threading import Lock
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import HTMLResponse, PlainTextResponse, Response

from deftarc.app.workshop import Workshop
from deftarc.core.base.errors import Refusal
from deftarc.core.document import Scene
from deftarc.paint.output import OUTPUTS, Job, Output
from deftarc.paint.output.painted import Size
from deftarc.paint.output.purposes import PURPOSES, Purpose, purpose_named
from deftarc.paint.output.told import Small, about_size, in_bytes, small_picture
from deftarc.web.context import Shop, templates

router = APIRouter(include_in_schema=False, default_response_class=HTMLResponse)

Told = Annotated[str, Query(max_length=400)]
#: How what becomes of things is called, in the order it is told.
HOW = {
    "kept": ("Arrives as it is", "check-lg"), "changed": ("Arrives changed", "circle-half"),
    "baked": ("Arrives as plain keys", "record-circle"), "picture": ("Arrives as pictures", "image"),
    "disputed": ("Not in every player", "question-lg"), "left": ("Stays here", "dash-lg"),
}  # fmt: skip


#: What is shown of a delivery stands by itself: it reaches for nothing, and only this page frames it.
ALONE = {
    "content-security-policy": "sandbox allow-same-origin; default-src 'none'; style-src 'unsafe-inline'; "
    "img-src data:; font-src data:; frame-ancestors 'self'",
    "x-frame-options": "SAMEORIGIN",
}


@dataclass(frozen=True)
class Choice:
    """An option as a form shows it."""

    name: str
    label: str
    about: str
    #: select, check, colour, share, number or text.
    shown: str
    value: Any
    words: dict[str, str]
    least: float | None = None
    most: float | None = None


def offered() -> list[Output[Any]]:
    """The outputs a page can make."""
    return [each for each in OUTPUTS.values() if each.icon and each.suffix]


def choices(output: Output[Any], told: dict[str, Any], scene: Scene) -> list[Choice]:
    """The options of an output as a person chooses them; which frame it is goes without asking."""
    schema = output.options.model_json_schema()["properties"]
    out = []
    for name, facts in schema.items():
        if name == "frame" or (name == "part" and scene.play_range is None):
            continue
        words = facts.get("words", {})
        shown = (
            "select" if words else "check" if facts.get("type") == "boolean" else "colour" if facts.get("colour")
            else "share" if name == "scale" else "number" if facts.get("type") in ("integer", "number") else "text"
        )  # fmt: skip
        value = told.get(name, facts.get("default"))
        if shown == "share":
            value = f"{float(value) * 100:g}"
        out.append(Choice(name, facts["title"], facts.get("description", ""), shown, value, words,
                          facts.get("minimum"), facts.get("maximum")))  # fmt: skip
    return out


def from_form(output: Output[Any], told: dict[str, str]) -> dict[str, Any]:
    """What a form said of an output's options; Refusal where a number is none."""
    out: dict[str, Any] = {}
    for name, facts in output.options.model_json_schema()["properties"].items():
        if facts.get("type") == "boolean":
            out[name] = told.get(name) not in (None, "", "false")
        elif name not in told:
            continue
        elif name == "scale":
            out[name] = _number(told[name].strip().removesuffix("%"), facts["title"]) / 100
        elif facts.get("type") in ("integer", "number"):
            out[name] = _number(told[name], facts["title"])
        else:
            out[name] = told[name]
    return out


def _number(told: str, what: str) -> float:
    try:
        value = float(told)
    except ValueError:
        raise Refusal(f"{what}: “{told[:20]}” is no number.") from None
    if value != value or abs(value) > 1e9:
        raise Refusal(f"{what}: “{told[:20]}” is no number that can be used.")
    return int(value) if value == int(value) else value


def _wanted(shop: Workshop, project: str, told: dict[str, str]) -> tuple[Job, Output[Any], Any]:
    """What a form's words ask for."""
    job = shop.deliverable(project, told.get("scene", ""))
    output = OUTPUTS[told["output"]] if told.get("output") in OUTPUTS else None
    if output is None:
        raise Refusal("Choose as what it is to be delivered.")
    _, options = shop.wanted(job.scene, output.id, from_form(output, told))
    return job, output, options


@router.get("/projects/{project_id}/deliver")
def deliver(
    request: Request, project_id: str, shop: Shop, scene: Told, frame: int = 0, output: Told = "", to: Told = ""
) -> Response:
    """The dialog: as it was used last, or for where a motion goes, or with another output chosen."""
    job = shop.deliverable(project_id, scene)
    known = shop.choices.of(project_id)
    there = {each.id: each for each in offered()}
    purpose = purpose_named(to)
    if purpose is not None:
        name, told = purpose.chosen(job.scene)
    else:
        name = output if output in there else next((each for each in known if each in there), next(iter(there)))
        told = known.get(name, {})
    if job.scene.play_range is not None and "part" not in told:
        told = {**told, "part": "range"}
    chosen = there[name]
    return templates.TemplateResponse(
        request, "parts/deliver.html",
        {"scene": job.scene, "project_id": project_id, "frame": frame, "outputs": offered(), "output": chosen,
         "purposes": PURPOSES, "purpose": purpose or _purpose_of(job.scene, name, told),
         "choices": choices(chosen, told, job.scene)},
    )  # fmt: skip


def _purpose_of(scene: Scene, output: str, told: dict[str, Any]) -> Purpose | None:
    """For where the options are those one chooses for it."""
    for each in PURPOSES:
        name, wanted = each.chosen(scene)
        if name == output and told and all(told.get(key) == value for key, value in wanted.items()):
            return each
    return None


@router.get("/projects/{project_id}/deliver/told")
def told(request: Request, project_id: str, shop: Shop) -> Response:
    """What of the scene arrives, as the form says it now; its picture and size are asked for by themselves."""
    asked = dict(request.query_params)
    try:
        job, output, options = _wanted(shop, project_id, asked)
        carried = output.carried(job, options)
        frames = output.total(job.scene, options)
    except Refusal as error:
        return templates.TemplateResponse(request, "parts/deliver_told.html", {"sentence": str(error)})
    scene = job.scene
    size = Size.of(scene, getattr(options, "scale", 1.0))
    seconds = float(frames * scene.rate.denominator / scene.rate.numerator)
    kinds = [(how, *HOW[how], [each for each in carried if each.how == how]) for how in HOW]
    return templates.TemplateResponse(
        request, "parts/deliver_told.html",
        {"output": output, "shown": OUTPUTS[output.previewed or output.id], "project_id": project_id,
         "kinds": [each for each in kinds if each[3]],
         "query": str(request.query_params), "size": size, "frames": frames, "seconds": seconds,
         "moves": output.of == "scene"},
    )  # fmt: skip


#: Small pictures and sizes are worked out one at a time: they take a second of all processors.
_turn = Lock()


class _Known:
    """What was asked of a state of a project; the project is told by its revision."""

    def __init__(self, shop: Workshop, project: str, told: tuple[tuple[str, str], ...]) -> None:
        self.shop, self.project, self.told = shop, project, told
        self.key = (str(shop.folder), project, shop.projects.open(project).revision, told)

    def __hash__(self) -> int:
        return hash(self.key)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Known) and other.key == self.key


@lru_cache(maxsize=24)
def _small(asked: _Known) -> Small:
    job, output, options = _wanted(asked.shop, asked.project, dict(asked.told))
    return small_picture(output, job, options)


@lru_cache(maxsize=64)
def _size(asked: _Known) -> int:
    job, output, options = _wanted(asked.shop, asked.project, dict(asked.told))
    return about_size(output, job, options)


@router.get("/projects/{project_id}/deliver/picture")
def picture(request: Request, project_id: str, shop: Shop) -> Response:
    """It, small, and moving where it moves."""
    with _turn:
        small = _small(_Known(shop, project_id, tuple(request.query_params.items())))
    return Response(small.data, media_type=small.media, headers={"cache-control": "no-store", **ALONE})


@router.get("/projects/{project_id}/deliver/size")
def size(request: Request, project_id: str, shop: Shop) -> Response:
    """How large it will be about."""
    with _turn:
        told = in_bytes(_size(_Known(shop, project_id, tuple(request.query_params.items()))))
    return PlainTextResponse(f"about {told}")


@router.post("/projects/{project_id}/deliver")
async def begin(request: Request, project_id: str, shop: Shop) -> Response:
    """Queues it, and shows the queue."""
    told = {name: str(value) for name, value in (await request.form()).items()}
    # Writing the project file of a large project takes a while, in which others want answers.
    return await run_in_threadpool(_begun, request, project_id, shop, told)


def _begun(request: Request, project_id: str, shop: Workshop, told: dict[str, str]) -> Response:
    try:
        job, output, options = _wanted(shop, project_id, told)
        shop.render(project_id, job.scene.id, output.id, options.model_dump(mode="json"))
    except Refusal as error:
        return templates.TemplateResponse(request, "parts/sentence.html", {"sentence": str(error)})
    return queue_of(request, project_id, shop)


@router.get("/projects/{project_id}/renders")
def queue_of(request: Request, project_id: str, shop: Shop) -> Response:
    """The list of renders, asked for again while one runs."""
    shop.projects.open(project_id)
    jobs = shop.jobs.of_project(project_id, 12)
    order = shop.jobs.in_order()
    jobs.sort(key=lambda job: order.index(job.id) if job.id in order else len(order))
    now = shop.projects.open(project_id).revision
    return templates.TemplateResponse(
        request, "parts/renders.html",
        {"jobs": [(job, pace_told(*shop.renders.pace(job.id))) for job in jobs], "project_id": project_id,
         "busy": any(job.state in ("waiting", "running") for job in jobs), "now": now, "order": order},
    )  # fmt: skip


def pace_told(rate: float | None, left: float | None) -> str:
    """Frames a second, and the time that is left, as people say them."""
    if rate is None or left is None:
        return ""
    seconds = max(1, round(left))
    minutes, hours = round(seconds / 60), seconds / 3600
    told = f"{seconds} s" if seconds < 90 else f"{minutes} min" if minutes < 90 else f"{hours:.1f} h"
    return f"{rate:.1f} frames/s · {told} left" if rate < 10 else f"{rate:.0f} frames/s · {told} left"


@router.get("/docs")
def docs(request: Request) -> Response:
    return templates.TemplateResponse(request, "docs.html", {})
