"""Edits applied: what they make, refused where it is locked or could not be read back."""

from collections.abc import Iterable

from pydantic import ValidationError

from deftarc.core.arrange.clocked import View
from deftarc.core.arrange.followed import links_kept, turned_to_keys
from deftarc.core.arrange.matted import mattes_kept, without_matte
from deftarc.core.arrange.reacted import let_go, reactions_kept
from deftarc.core.arrange.tied import cut_by, ties_held
from deftarc.core.base.working import stage
from deftarc.core.changes.keys import KeyRef
from deftarc.core.document import Project
from deftarc.core.document.artwork import Sources
from deftarc.core.document.soundness import in_words, refuse_unsound
from deftarc.core.edit.base import MOST_TOLD, EditBase, Note, quoted
from deftarc.core.edit.clocks import stands_still
from deftarc.core.edit.layers import share_artwork
from deftarc.core.edit.locks import refuse_locked
from deftarc.core.edit.paths import with_fresh_paths
from deftarc.core.edit.shown import sized
from deftarc.core.evaluate import stands_alone


def sentence(error: ValidationError) -> str:
    """The first thing wrong with data that came in, as one sentence."""
    first = error.errors(include_url=False, include_context=False)[0]
    where = ".".join(str(part) for part in first["loc"] if not str(part).startswith("function"))
    told = str(first["msg"]).removeprefix("Value error, ")
    return f"{where}: {told}" if where else told


def apply(project: Project, edit: EditBase) -> Project:
    """The project after an edit. Raises Refusal with a sentence, and then nothing has changed."""
    # What is dropped is what was tried last: it is the very same document, and whoever showed that shows this.
    kept = project.__dict__.get("_after")
    if kept is not None and kept[0] == edit:
        known: Project = kept[1]
        return known
    try:
        with stage(0, 2):
            made = _made(project, edit)
        made = sized(project, links_kept(project, mattes_kept(project, made)))
        made = reactions_kept(project, ties_held(project, made, not edit.keeps_ties))
        refuse_locked(project, made, edit)
        made = share_artwork(project, made if edit.brings_paths else with_fresh_paths(project, made))
    except ValidationError as error:
        raise in_words(error) from None
    with stage(1, 2):
        refuse_unsound(project, made)
    project.__dict__["_after"] = (edit, made)
    return made


def _made(project: Project, edit: EditBase) -> Project:
    """What an edit makes; at the playhead, of what the clocks show there."""
    view = _view(project, edit)
    if view is None:
        return edit.apply(project)
    made = edit.apply(project.with_scene(view.scene))
    return made.with_scene(view.back(made.scene(view.whole.id)))


def _view(project: Project, edit: EditBase) -> View | None:
    """The view an edit is made on; None where there are no clocks, or it has nothing to do with the playhead."""
    scene_id = getattr(edit, "scene", None)
    if not edit.at_playhead or getattr(edit, "own", False) or not isinstance(scene_id, str):
        return None
    scene = project.scene(scene_id)
    time = getattr(edit, "time", None)
    return View(scene, time) if isinstance(time, int) and not stands_alone(scene) else None


def measured(project: Project, edit: EditBase, sources: Sources) -> EditBase:
    """An edit with what artwork's sources tell of it, to be applied to this project."""
    if not edit.measures:
        return edit
    view = _view(project, edit)
    return edit.measured(project if view is None else project.with_scene(view.scene), sources)


def selected(project: Project, edit: EditBase, made: Project) -> list[KeyRef] | None:
    """The keys that are selected once an edit is made; None leaves the selection alone."""
    view = _view(project, edit)
    if view is None:
        return edit.selects(project, made)
    after = made.with_scene(view.again(made.scene(view.whole.id)))
    refs = edit.selects(project.with_scene(view.scene), after)
    return None if refs is None else [view.ref_back(ref) for ref in refs]


def _standing(project: Project, edit: EditBase, made: Project) -> list[Note]:
    """Said where a key was set while a clock stands still: it shows for as long as that does."""
    view = _view(project, edit)
    if view is None:
        return []
    after, time = made.scene(view.whole.id), getattr(edit, "time", 0)
    known = {layer.id: layer for layer in view.whole.layers}
    names = [
        layer.name for layer in after.layers
        if layer.id in view.by and known.get(layer.id) is not layer and stands_still(after, layer, time)
    ]  # fmt: skip
    if not names:
        return []
    return [Note(f"The clock of {quoted(names)} stands still here: what is set shows for as long as it does.")]


def told(project: Project, edit: EditBase, made: Project) -> list[Note]:
    """What is to be told once an edit is done: what it says itself, of ties that it cut, and of links it took apart."""
    ties = [] if edit.keeps_ties else cut_by(project, made)
    more = [Note(f"{words}: it is gone.") for words in ties[:MOST_TOLD]]
    if len(ties) > MOST_TOLD:
        more.append(Note(f"{len(ties) - MOST_TOLD} more ties are cut."))
    followed = turned_to_keys(project, made)
    more += [Note(f"{words}.") for words in followed[:MOST_TOLD]]
    if len(followed) > MOST_TOLD:
        more.append(Note(f"{len(followed) - MOST_TOLD} more lanes have keys for what they followed."))
    more += [Note(f"{words}.") for words in without_matte(project, made)[:MOST_TOLD]]
    if not edit.lets_go:
        more += [Note(f"{words}.") for words in let_go(project, made)[:MOST_TOLD]]
    return [*edit.notes(project, made), *_standing(project, edit, made), *more]


def apply_all(project: Project, edits: Iterable[EditBase]) -> Project:
    """Several edits in turn, all or nothing."""
    for edit in edits:
        project = apply(project, edit)
    return project
