"""Eases over HTTP: those kept for all projects, a selection's shape as CSS text, and try-outs."""

from typing import Annotated

from fastapi import APIRouter, Response
from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.model import Identity, Name
from deftarc.core.changes.css import easing_text, parse_easing
from deftarc.core.changes.keys import KeyRef
from deftarc.core.curves.knots import OwnEase
from deftarc.core.edit import Edit
from deftarc.core.edit.eases import shape_of
from deftarc.web.api.models import Body, ProjectId
from deftarc.web.context import Shop
from deftarc.web.panels.tryouts import MOST, Candidate, tried
from deftarc.web.strict import StrictRoute

router = APIRouter(tags=["eases"], route_class=StrictRoute)

Keys = Annotated[tuple[KeyRef, ...], Field(max_length=limits.MAX_KEYS_PER_LANE)]


class Selection(Body):
    scene: Identity
    keys: Keys


class Kept(Body):
    """An ease to keep for all projects: the shape of a selection in a project, or a CSS text."""

    name: Name
    project: Annotated[str, Field(max_length=60)] | None = None
    scene: Identity | None = None
    keys: Keys = ()
    text: Annotated[str, Field(max_length=20_000)] | None = None


class OneCandidate(Body):
    label: Annotated[str, Field(max_length=200)]
    edit: Edit | None = None


class TryOuts(Selection):
    candidates: Annotated[list[OneCandidate], Field(min_length=1, max_length=MOST)]


class Text(Body):
    text: str


@router.get("/api/eases")
def all_eases(shop: Shop) -> list[OwnEase]:
    """The eases kept for all projects, the newest last."""
    return shop.eases.all()


@router.post("/api/eases")
def keep_ease(wanted: Kept, shop: Shop) -> OwnEase:
    """Keep an ease for all projects under a name; one of that name is replaced."""
    if wanted.text is not None:
        knots = parse_easing(wanted.text)
    else:
        knots = shape_of(shop.projects.open(wanted.project or "").project, wanted.scene, wanted.keys)
    ease = OwnEase(name=wanted.name, knots=tuple(knots))
    shop.eases.keep(ease)
    return ease


@router.delete("/api/eases/{name}")
def forget_ease(name: Annotated[str, Field(max_length=200)], shop: Shop) -> list[OwnEase]:
    """Forget an ease kept for all projects."""
    shop.eases.forget(name)
    return shop.eases.all()


@router.post("/api/projects/{project_id}/ease-text")
def ease_text(project_id: ProjectId, wanted: Selection, shop: Shop) -> Text:
    """The shape of a selected run as CSS: cubic-bezier(), steps() or linear()."""
    return Text(text=easing_text(shape_of(shop.projects.open(project_id).project, wanted.scene, wanted.keys)))


@router.post("/api/projects/{project_id}/try-outs", response_class=Response)
def try_outs(project_id: ProjectId, wanted: TryOuts, shop: Shop) -> Response:
    """The selected motion under several edits, packed as docs/format.md says; nothing is changed."""
    project = shop.projects.open(project_id).project
    candidates = [Candidate(each.label, each.edit) for each in wanted.candidates]
    body = tried(project, wanted.scene, wanted.keys, candidates, shop.materials)
    return Response(body, media_type="application/octet-stream")
