"""What a look tries: drawn to what lies near, and the keys that are selected once it is made."""

from collections.abc import Callable, Sequence
from operator import attrgetter, is_
from typing import Any

from deftarc.app.snapping import snapped
from deftarc.core.base.model import each_with
from deftarc.core.changes.keys import KeyRef
from deftarc.core.document import Project, Scene
from deftarc.core.edit import EditBase, measured, selected
from deftarc.core.evaluate import FrameTable
from deftarc.formats.materials import Materials
from deftarc.web.look import Look

#: What a key is of.
LANE = attrgetter("layer", "property")


def keys_of(edit: EditBase | None) -> tuple[KeyRef, ...]:
    """The keys an edit is about; none where it is about other things."""
    keys = getattr(edit, "keys", ())
    return keys if isinstance(keys, tuple) else ()


def alike(one: Sequence[KeyRef], other: Sequence[KeyRef]) -> bool:
    """Whether two rows of keys are of the same lanes, one by one."""
    return one is other or (
        len(one) == len(other) and (all(map(is_, one, other)) or list(map(LANE, one)) == list(map(LANE, other)))
    )


def drawn_near(
    look: Look, project: Project, here: Scene, materials: Materials, frames: Callable[[], FrameTable]
) -> tuple[EditBase, dict[str, Any]]:
    """What is tried, drawn to what lies near where that is asked for, and what an answer's head tells of that."""
    edit = look.edit
    assert edit is not None
    edit = measured(project, edit, materials)
    if look.snap is None or not edit.snaps:
        return edit, {}
    frame = min(max(look.frame, 0), here.frames - 1)
    made, told = snapped(project, edit, look.snap, materials, frames, frame, look.unit)
    # Keys that are those that were told need not be told again.
    same = {"keys"} if keys_of(made) and keys_of(made) is keys_of(edit) else set()
    return made, {"snapped": {"told": told, "edit": made.model_dump(mode="json", exclude=same)}}


def selects(head: dict[str, Any], look: Look, edit: EditBase, before: Project, after: Project) -> Look:
    """The look with the keys selected that are once the edit is made, and the head told of them."""
    keys = selected(before, edit, after)
    if keys is None:
        # Layers that it takes away are gone from the page with their keys, which unselects them by itself.
        gone = names_in(before, look.scene) - names_in(after, look.scene)
        return look.changed(keys=tuple(ref for ref in look.keys if ref.layer not in gone)) if gone else look
    tell_selected(head, look, keys, [ref.time for ref in keys])
    return look.changed(keys=tuple(keys))


def names_in(project: Project, scene: str) -> set[str]:
    return {layer.id for layer in project.scene(scene).layers}


def tell_selected(head: dict[str, Any], look: Look, keys: Sequence[KeyRef], times: Sequence[int]) -> None:
    """Tells which keys are selected: by their times, where only these are others than what the page has selected."""
    if alike(keys, look.keys):
        head["moved"] = times
    else:
        head["selects"] = [ref.model_dump() for ref in each_with(keys, "time", times)]
