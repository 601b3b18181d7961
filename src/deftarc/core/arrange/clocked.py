"""A scene at one moment under its clocks: every layer's keys put where the clocks show them just then.

Whatever is done at the playhead is done to that view, in which the moment of the scene and of every layer are one;
then all that has a clock is put back into its own time. So no edit has to know of clocks, and a key set while one runs
stands where the clock says.
"""

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.keys import KeyRef
from deftarc.core.changes.retime import track_retimed
from deftarc.core.document import Layer, Scene
from deftarc.core.evaluate.clocks import any_clock, clocks_of, inner_time


class View:
    """A scene as its clocks show it at a moment, in flicks; with ``bare`` without the clocks themselves. Refusal where
    keys would come to lie further out than any may; ``to_look`` leaves such layers as they are.
    """

    def __init__(self, scene: Scene, time: int, bare: bool = False, to_look: bool = False) -> None:
        self.whole = scene
        #: By how much each layer's keys, and its clock's own, were moved.
        self.by: dict[str, tuple[int, int]] = {}
        self._layers: dict[str, tuple[Layer, Layer]] = {}
        layers = []
        for layer in scene.layers:
            clocks = clocks_of(scene, layer)
            if clocks:
                above = clocks[:-1] if "clock" in layer.tracks else clocks
                by = (time - inner_time(clocks, time), time - inner_time(above, time))
                try:
                    moved = shifted(layer, *by)
                except Refusal:
                    if not to_look:
                        raise
                    by, moved = (0, 0), layer
                if bare:
                    moved = moved.changed(tracks={n: t for n, t in moved.tracks.items() if n != "clock"})
                self.by[layer.id] = by
                self._layers[layer.id] = (layer, moved)
                layer = moved
            layers.append(layer)
        self.scene = scene.changed(layers=tuple(layers)) if self.by else scene

    def back(self, made: Scene) -> Scene:
        """What came of the view, in its layers' own times; what was left alone is what it was."""
        if not self.by:
            return made
        layers = []
        for layer in made.layers:
            known = self._layers.get(layer.id)
            if known is not None:
                own, other = self.by[layer.id]
                layer = known[0] if layer is known[1] else shifted(layer, -own, -other)
            layers.append(layer)
        if made is self.scene:
            return self.whole
        return made.changed(layers=tuple(layers))

    def again(self, after: Scene) -> Scene:
        """Another state of the scene, moved as this view is."""
        return after.changed(
            layers=tuple(shifted(each, *self.by[each.id]) if each.id in self.by else each for each in after.layers)
        )

    def ref_back(self, ref: KeyRef) -> KeyRef:
        """A key of the view by its own time."""
        own, other = self.by.get(ref.layer, (0, 0))
        return ref.changed(time=ref.time - (other if ref.property == "clock" else own))


def shifted(layer: Layer, by: int, clock: int) -> Layer:
    """A layer with all keys moved in time, those of its clock by another step."""
    if not by and not clock:
        return layer
    tracks = {}
    for name, track in layer.tracks.items():
        step = clock if name == "clock" else by
        tracks[name] = track_retimed(track, lambda time, step=step: time + step) if step else track  # type: ignore[misc]
    return layer.changed(tracks=tracks)


def at_work(scene: Scene, time: int) -> Scene:
    """A scene without clocks that shows at a moment what this one does with them, loose values of then included."""
    return View(scene, time, bare=True, to_look=True).scene if any_clock(scene) else scene
