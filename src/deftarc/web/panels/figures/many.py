"""The figures of several selected keys: how many, over what time, and what is done to them together."""

from dataclasses import dataclass

from deftarc.core.base.time import told_frame
from deftarc.core.changes.keys import KeyRef
from deftarc.core.document import Scene


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
    frames = scene.rate.nearest(max(times) - min(times))
    over = f", {len(lanes)} lanes" if len(lanes) > 1 else ""
    return ManyKeys(f"{len(keys)} keys{over}", told_frame(frames, scene.rate, unit))
