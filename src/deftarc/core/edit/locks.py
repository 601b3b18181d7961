"""Locked means locked: no edit changes what is locked, by itself or by a group it is in."""

from deftarc.core.arrange.reacted import answers_still
from deftarc.core.base.errors import Refusal
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.edit.base import EditBase, quoted
from deftarc.core.edit.layers import DescribeLayers


class Locked(Refusal):
    """An edit would change what is locked; ``unlock`` is the edit that lets it, ``offer`` its words."""

    def __init__(self, sentence: str, unlock: DescribeLayers, offer: str) -> None:
        super().__init__(sentence)
        self.unlock = unlock
        self.offer = offer


def _lockers(scene: Scene) -> dict[str, Layer]:
    """By the id of each locked layer, who locks it: itself, or the outermost locked group it is in."""
    out: dict[str, Layer] = {}
    for layer in scene.layers:
        by = [layer] if layer.locked else []
        by += [each for each in scene.ancestors(layer) if each.group and each.locked]
        if by:
            out[layer.id] = by[-1]
    return out


def refuse_locked(before: Project, after: Project, edit: EditBase) -> None:
    """Raises Locked where an edit changed, moved in the list or took away a locked layer."""
    if edit.past_locks:
        return
    for scene, now in before.other_than(after):
        if now is None or not any(layer.locked for layer in scene.layers):
            continue
        lockers = _lockers(scene)
        known = {layer.id: layer for layer in now.layers}
        moved = set(getattr(edit, "layers", ())) if edit.reorders else set()
        # That what it answered is gone changes nothing of what a layer shows.
        touched = [
            layer for layer in scene.layers
            if layer.id in lockers
            and (layer.id in moved or known.get(layer.id) not in (layer, answers_still(now, layer)))
        ]  # fmt: skip
        if touched:
            raise _locked(scene, touched, lockers)


def _locked(scene: Scene, touched: list[Layer], lockers: dict[str, Layer]) -> Locked:
    by = list(dict.fromkeys(lockers[layer.id].id for layer in touched))
    first = scene.layer(by[0])
    names = quoted([scene.layer(name).name for name in by])
    words = f"{names} is locked" if len(by) == 1 else f"{names} are locked"
    if len(by) == 1 and first.id != touched[0].id:
        words = f"{touched[0].name} is in {first.name}, which is locked"
    unlock = DescribeLayers(scene=scene.id, layers=tuple(by), locked=False)
    return Locked(f"{words}. Nothing was changed.", unlock, f"Unlock {names}")
