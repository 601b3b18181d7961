"""Edits applied: what they make, refused where it is locked or could not be read back."""

from collections.abc import Iterable

from pydantic import ValidationError

from deftarc.core.arrange.tied import cut_by, ties_held
from deftarc.core.document import Project
from deftarc.core.document.soundness import in_words, refuse_unsound
from deftarc.core.edit.base import EditBase, Note
from deftarc.core.edit.layers import share_artwork
from deftarc.core.edit.locks import refuse_locked
from deftarc.core.edit.paths import with_fresh_paths

#: Ties whose end is told one by one.
MOST_TOLD = 3


def sentence(error: ValidationError) -> str:
    """The first thing wrong with data that came in, as one sentence."""
    first = error.errors(include_url=False, include_context=False)[0]
    where = ".".join(str(part) for part in first["loc"] if not str(part).startswith("function"))
    told = str(first["msg"]).removeprefix("Value error, ")
    return f"{where}: {told}" if where else told


def apply(project: Project, edit: EditBase) -> Project:
    """The project after an edit. Raises Refusal with a sentence, and then nothing has changed."""
    try:
        made = ties_held(project, edit.apply(project), not edit.keeps_ties)
        refuse_locked(project, made, edit)
        made = share_artwork(project, made if edit.brings_paths else with_fresh_paths(project, made))
    except ValidationError as error:
        raise in_words(error) from None
    refuse_unsound(project, made)
    return made


def told(project: Project, edit: EditBase, made: Project) -> list[Note]:
    """What is to be told once an edit is done: what it says itself, and of ties that it cut."""
    ties = [] if edit.keeps_ties else cut_by(project, made)
    more = [Note(f"{words}: it is gone.") for words in ties[:MOST_TOLD]]
    if len(ties) > MOST_TOLD:
        more.append(Note(f"{len(ties) - MOST_TOLD} more ties are cut."))
    return [*edit.notes(project, made), *more]


def apply_all(project: Project, edits: Iterable[EditBase]) -> Project:
    """Several edits in turn, all or nothing."""
    for edit in edits:
        project = apply(project, edit)
    return project
