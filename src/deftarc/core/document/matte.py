"""Mattes: a layer shows only where another one does, or only where that does not."""

from collections.abc import Sequence
from typing import TYPE_CHECKING, Literal

from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Frozen, Identity
from deftarc.core.base.walks import ring_in

if TYPE_CHECKING:
    from deftarc.core.document.layer import Layer


class Matte(Frozen):
    """By the ``alpha`` of ``layer``, or by its ``luma``: how light what it shows is, times its alpha. Hidden in the
    list it counts all the same; where it does not show in time, there is nothing of it.
    """

    layer: Identity
    by: Literal["alpha", "luma"] = "alpha"
    inverted: bool = False


def check_mattes(layers: "Sequence[Layer]") -> None:
    """Refuses a matte that is not there, and rings of mattes and of groups that hold them, by name."""
    if all(layer.matte is None for layer in layers):
        return
    by_id = {layer.id: layer for layer in layers}
    inside: dict[str, list[Layer]] = {}
    for layer in layers:
        if layer.parent is not None:
            inside.setdefault(layer.parent, []).append(layer)
    for layer in layers:
        found = by_id.get(layer.matte.layer) if layer.matte is not None else None
        if layer.matte is not None and found is None:
            raise Refusal(f"{layer.name} shows through a layer that is not there.")
        if found is not None and found.artwork.empty and not found.group:
            raise Refusal(f"There is nothing to see of {found.name} that {layer.name} could show through.")

    def needs(name: str) -> list[str]:
        """What has to be drawn before a layer can be."""
        layer = by_id[name]
        within = [each.id for each in inside.get(name, ())] if layer.group else []
        return within if layer.matte is None else [*within, layer.matte.layer]

    ring = ring_in(by_id, needs)
    if ring is not None:
        names = " → ".join(by_id[name].name for name in (*ring, ring[0]))
        raise Refusal(f"These layers would show through each other in a circle: {names}.")


__all__ = ["Matte", "check_mattes"]
