"""Several selected keys, in When's head: how many, over what time, and what is done to them together."""

from dataclasses import dataclass
from typing import ClassVar

from deftarc.core.base.time import time_label
from deftarc.core.changes.keys import KeyRef
from deftarc.core.document import Scene
from deftarc.web.context import fragment
from deftarc.web.panels.panel import PANELS, Panel, Part, Showing


@dataclass(frozen=True)
class ManyKeys:
    told: str
    #: How long they last, as it is typed.
    length: str


def many_keys(scene: Scene, keys: tuple[KeyRef, ...], unit: str) -> ManyKeys | None:
    """None where fewer than two are selected, or all at one time in one lane."""
    if len(keys) < 2:
        return None
    lanes = {(ref.layer, ref.property) for ref in keys}
    times = [ref.time for ref in keys]
    over = f", {len(lanes)} lanes" if len(lanes) > 1 else ""
    return ManyKeys(f"{len(keys)} keys{over}", time_label(max(times) - min(times), scene.rate, unit))


@PANELS.add
class ManyKeysPanel(Panel):
    id: ClassVar[str] = "many"

    def __init__(self) -> None:
        #: Whether the page shows it: that stays so, whatever else it is to be told anew.
        self.told = False

    def answer(self, showing: Showing) -> Part:
        many = many_keys(showing.scene, showing.look.keys, showing.look.unit)
        if many is None and not self.told:
            return Part()
        self.told = many is not None
        return Part(fragments={"many-keys": fragment("parts/many_keys.html", many=many) if many is not None else ""})
