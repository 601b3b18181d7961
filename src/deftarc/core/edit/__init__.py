"""Edits: everything that can be done to a document, as plain data with a pure ``apply``.

Each file here is about one subject; this one only collects them. ``Edit`` is their union by ``kind``; ``apply`` and
``apply_all`` are the only ways a document changes.
"""

from typing import TYPE_CHECKING, Annotated, Any, Union

from pydantic import Field, TypeAdapter

from deftarc.core.base.model import READ
from deftarc.core.base.register import collect
from deftarc.core.edit.applied import apply, apply_all, measured, selected, sentence, told
from deftarc.core.edit.base import EDITS, EditBase, Note
from deftarc.core.edit.locks import Locked

collect(__name__, __path__)

if TYPE_CHECKING:
    Edit = EditBase
else:
    Edit: Any = Annotated[Union[tuple(EDITS.values())], Field(discriminator="kind")]  # noqa: UP007

EDIT: TypeAdapter[EditBase] = TypeAdapter(Edit, config=READ)

__all__ = [
    "EDIT",
    "EDITS",
    "Edit",
    "EditBase",
    "Locked",
    "Note",
    "apply",
    "apply_all",
    "measured",
    "selected",
    "sentence",
    "told",
]
