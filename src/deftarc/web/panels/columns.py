"""Numbers by frame for a page: each property of the chosen layer in shown units, and the curves of the pair.

A column goes out only where it is another than the page has; the head names all that are good.
"""

from dataclasses import dataclass, field
from typing import Any

import numpy as np

from deftarc.core.arrange.axes import Axes, positions_in
from deftarc.core.base.arrays import Floats
from deftarc.core.base.identity import identical
from deftarc.core.base.matrices import six
from deftarc.core.base.time import FrameRate
from deftarc.core.document import Layer, Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.evaluate import Evaluator

#: No number is larger on the wire: JavaScript takes it for unbounded.
UNBOUNDED = 3e38
#: Told by value; all else a column is made from is large, and told by identity.
SMALL = (int, str, FrameRate)


def wire(rows: Floats) -> bytes:
    """Rows as float32; what is infinite as the largest there is."""
    return bytes(np.nan_to_num(rows, posinf=UNBOUNDED, neginf=-UNBOUNDED).astype("<f4").tobytes())


@dataclass
class Columns:
    """What one page has: by name, what a column was made from (compared by identity) and its bytes."""

    made: dict[str, tuple[tuple[object, ...], int, int, bytes]] = field(default_factory=dict)
    sent: dict[str, bytes] = field(default_factory=dict)
    beside: tuple[Floats, Floats, Floats] | None = None

    def forget(self) -> None:
        self.made.clear()
        self.sent.clear()

    def of_layer(self, evaluator: Evaluator, scene: Scene, layer: Layer, times: Any, axes: Axes) -> list[str]:
        """The names of a layer's columns; besides its properties where its path lies and what carries it."""
        values = evaluator.values(scene, layer.id, times)
        carried = evaluator.carried(scene, layer, times)
        names = []
        for name, rows in values.items():
            if PROPERTIES[name].kind == "outline":
                continue
            factor = PROPERTIES[name].factor
            if name not in ("position", "position_x", "position_y"):
                self._keep(name, (rows,), lambda rows=rows, factor=factor: rows * factor)
            names.append(name)
        split = layer.axes_split
        x, y = (values["position_x"], values["position_y"]) if split else (None, None)
        spots = self._beside(x, y) if x is not None and y is not None else values["position"]
        turns = values["rotation"]
        matrix = np.eye(3)[None] if carried is None else carried
        self._keep("spot", (spots,), lambda: spots)
        self._keep("carried", (carried,), lambda: six(matrix))
        told = ("position_x", "position_y") if split else ("position",)
        for k, name in enumerate(told):
            part = slice(k, k + 1) if split else slice(None)
            self._keep(
                name, (spots, carried, turns, axes),
                lambda part=part: positions_in(spots, matrix, turns[:, 0], axes)[:, part],
            )  # fmt: skip
        return [*names, "spot", "carried", *self._beside_of(evaluator, scene, layer, times, "beside")]

    def of_path(self, evaluator: Evaluator, scene: Scene, layer: Layer, times: Any) -> list[str]:
        """The names of another layer's columns: where its path lies, and what carries it."""
        values = evaluator.values(scene, layer.id, times)
        axes = (values["position_x"], values["position_y"]) if layer.axes_split else (values["position"],)
        carried = evaluator.carried(scene, layer, times)
        matrix = np.eye(3)[None] if carried is None else carried
        names = f"spot {layer.id}", f"carried {layer.id}"
        self._keep(names[0], axes, lambda: np.concatenate(np.broadcast_arrays(*axes), axis=1))
        self._keep(names[1], (carried,), lambda: six(matrix))
        return [*names, *self._beside_of(evaluator, scene, layer, times, f"beside {layer.id}")]

    def _beside_of(self, evaluator: Evaluator, scene: Scene, layer: Layer, times: Any, name: str) -> list[str]:
        """By frame, how far a position's own path lies aside for what it follows; no column where it follows none."""
        rows = evaluator.followed(scene, layer.id, "position", times)
        if rows is None:
            return []
        self._keep(name, (rows,), lambda: rows)
        return [name]

    def _beside(self, x: Floats, y: Floats) -> Floats:
        """Two axes as one column; the same object while they are."""
        if self.beside is None or self.beside[0] is not x or self.beside[1] is not y:
            self.beside = (x, y, np.concatenate(np.broadcast_arrays(x, y), axis=1))
        return self.beside[2]

    def _keep(self, name: str, source: tuple[object, ...], make: Any) -> None:
        kept = self.made.get(name)
        if kept is not None and identical(kept[0], source, SMALL):
            return
        rows = make()
        self.made[name] = (source, len(rows), rows.shape[1], wire(rows))

    def of_curve(self, name: str, source: tuple[object, ...], make: Any) -> None:
        """A curve's measure and speed by frame, under a name; ``make`` is called where its source is new."""
        self._keep(name, source, make)

    def answer(self, names: list[str], more: bool = False) -> tuple[list[dict[str, Any]], list[bytes]]:
        """Heads and bytes of those columns that the page has not, in order. It keeps no others, unless ``more`` are
        to be named.
        """
        heads: list[dict[str, Any]] = []
        blobs: list[bytes] = []
        for name in names:
            _, rows, wide, data = self.made[name]
            if self.sent.get(name) != data:
                self.sent[name] = data
                heads.append({"name": name, "rows": rows, "wide": wide})
                blobs.append(data)
        for gone in () if more else set(self.sent) - set(names):
            del self.sent[gone]
        return heads, blobs
