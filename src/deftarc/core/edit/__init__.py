"""Edits: everything that can be done to a document, as plain data with a pure ``apply``.

``Edit`` is their union by ``kind``; ``apply`` and ``apply_all`` are the only ways a document changes.
"""

from collections.abc import Iterable
from typing import Annotated

from pydantic import Field, TypeAdapter, ValidationError

from deftarc.core.document import Project
from deftarc.core.edit.base import EditBase
from deftarc.core.edit.keys import ClearLoose, DeleteKeys, EaseKeys, MoveKeys, SetKeys, SetValue
from deftarc.core.edit.layers import (
    AddLayer,
    ChangeArtwork,
    DeleteLayers,
    DescribeLayers,
    DuplicateLayers,
    OrderLayer,
    PaintChange,
)
from deftarc.core.edit.scenes import AddScene, DeleteScene, RenameProject, RenameScene
from deftarc.core.edit.transform import LinkScale, MoveLayers, ScaleLayers, TurnLayers
from deftarc.core.errors import Refusal

Edit = Annotated[
    RenameProject | AddScene | RenameScene | DeleteScene
    | AddLayer | DeleteLayers | DuplicateLayers | DescribeLayers | OrderLayer | ChangeArtwork
    | SetValue | SetKeys | DeleteKeys | MoveKeys | EaseKeys | ClearLoose
    | MoveLayers | TurnLayers | ScaleLayers | LinkScale,
    Field(discriminator="kind"),
]  # fmt: skip

EDIT: TypeAdapter[EditBase] = TypeAdapter(Edit)


def sentence(error: ValidationError) -> str:
    """The first thing wrong with data that came in, as one sentence."""
    first = error.errors(include_url=False, include_context=False)[0]
    where = ".".join(str(part) for part in first["loc"] if not str(part).startswith("function"))
    told = str(first["msg"]).removeprefix("Value error, ")
    return f"{where}: {told}" if where else told


def apply(project: Project, edit: EditBase) -> Project:
    """The project after an edit. Raises Refusal with a sentence, and then nothing has changed."""
    try:
        return edit.apply(project)
    except ValidationError as error:
        raise Refusal(sentence(error)) from None


def apply_all(project: Project, edits: Iterable[EditBase]) -> Project:
    """Several edits in turn, all or nothing."""
    for edit in edits:
        project = apply(project, edit)
    return project


__all__ = [
    "EDIT", "AddLayer", "AddScene", "ChangeArtwork", "ClearLoose", "DeleteKeys", "DeleteLayers", "DeleteScene",
    "DescribeLayers", "DuplicateLayers", "EaseKeys", "Edit", "EditBase", "LinkScale", "MoveKeys", "MoveLayers",
    "OrderLayer", "PaintChange", "RenameProject", "RenameScene", "ScaleLayers", "SetKeys", "SetValue", "TurnLayers",
    "apply", "apply_all", "sentence",
]  # fmt: skip
