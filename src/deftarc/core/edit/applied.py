"""Edits applied: what they make, refused where it is locked or could not be read back."""

from collections.abc import Iterable

from pydantic import ValidationError

from deftarc.core.document import Project
from deftarc.core.document.soundness import in_words, refuse_unsound
from deftarc.core.edit.base import EditBase
from deftarc.core.edit.layers import share_artwork
from deftarc.core.edit.locks import refuse_locked
from deftarc.core.edit.paths import with_fresh_paths


def sentence(error: ValidationError) -> str:
    """The first thing wrong with data that came in, as one sentence."""
    first = error.errors(include_url=False, include_context=False)[0]
    where = ".".join(str(part) for part in first["loc"] if not str(part).startswith("function"))
    told = str(first["msg"]).removeprefix("Value error, ")
    return f"{where}: {told}" if where else told


def apply(project: Project, edit: EditBase) -> Project:
    """The project after an edit. Raises Refusal with a sentence, and then nothing has changed."""
    try:
        made = edit.apply(project)
        refuse_locked(project, made, edit)
        made = share_artwork(project, made if edit.brings_paths else with_fresh_paths(project, made))
    except ValidationError as error:
        raise in_words(error) from None
    refuse_unsound(project, made)
    return made


def apply_all(project: Project, edits: Iterable[EditBase]) -> Project:
    """Several edits in turn, all or nothing."""
    for edit in edits:
        project = apply(project, edit)
    return project
