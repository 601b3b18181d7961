"""Which rows the list in When has, in which order, and which of them are in view. Nothing is drawn here."""

from collections.abc import Iterator
from dataclasses import dataclass

from deftarc.core.document import Layer, Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.web.look import Filters, Focus, Window

#: The height of a layer's own row in px, and how much is drawn beyond the view on both sides.
HEAD = 27
MARGIN = 240


@dataclass(frozen=True)
class Spot:
    """A row: a layer's own, or a lane of one of its properties. ``depth`` counts the groups it is in."""

    layer: Layer
    name: str | None
    depth: int
    top: float
    height: float

    @property
    def id(self) -> str:
        return f"layer-{self.layer.id}" if self.name is None else f"lane-{self.layer.id}-{self.name}"


def lanes_of(layer: Layer, opened: frozenset[str]) -> tuple[str, ...]:
    """The lanes a layer has in the list: what is keyed or follows something, what was opened, axes that were split."""
    moving = layer.moving
    also = opened | {"position_x", "position_y"} if layer.axes_split else opened
    return tuple(name for name in layer.properties if name in also or name in moving) if also else moving


def _matches(layer: Layer, names: tuple[str, ...], text: str) -> tuple[bool, tuple[str, ...]]:
    """Whether a layer or some of its lanes are called what is looked for."""
    words = text.casefold().split()
    if all(word in layer.name.casefold() for word in words):
        return True, names
    fitting = tuple(
        name for name in names
        if all(word in f"{layer.name} {PROPERTIES[name].label}".casefold() for word in words)
    )  # fmt: skip
    return bool(fitting), fitting


def rows_of_list(
    scene: Scene,
    folded: set[str],
    opened: tuple[Focus, ...],
    selected: set[str],
    filters: Filters,
    lane_height: int,
) -> list[Spot]:
    """All rows, from the top. Members of a folded group are left out, unless something is looked for by name."""
    opened_of: dict[str, set[str]] = {}
    for focus in opened:
        opened_of.setdefault(focus.layer, set()).add(focus.property)
    by_id = {layer.id: layer for layer in scene.layers}
    grouped = any(layer.group for layer in scene.layers)
    out: list[Spot] = []
    top = 0.0
    for layer in scene.layers:
        groups = list(_groups(layer, by_id)) if grouped else []
        names = lanes_of(layer, frozenset(opened_of.get(layer.id, ())))
        if filters.text.strip():
            found, names = _matches(layer, names, filters.text)
            if not found:
                continue
        elif any(group in folded for group in groups):
            continue
        if (filters.keyed and not names and not layer.group) or (filters.selected and layer.id not in selected):
            continue
        out.append(Spot(layer, None, len(groups), top, HEAD))
        top += HEAD
        if layer.id in folded and not filters.text.strip():
            continue
        for name in names:
            out.append(Spot(layer, name, len(groups), top, lane_height))
            top += lane_height
    return out


def _groups(layer: Layer, by_id: dict[str, Layer]) -> Iterator[str]:
    while layer.parent is not None:
        layer = by_id[layer.parent]
        if layer.group:
            yield layer.id


def in_view(rows: list[Spot], window: Window, margin: float = MARGIN) -> list[Spot]:
    """The rows that are seen, with some beyond on both sides."""
    first, last = window.top - margin, window.top + window.height + margin
    return [row for row in rows if row.top + row.height > first and row.top < last]


def window_for(rows: list[Spot], window: Window, reveal: str | None) -> tuple[Window, bool]:
    """The window moved so that a layer's row is in it, and whether it had to be."""
    spot = next((row for row in rows if row.name is None and row.layer.id == reveal), None)
    if spot is None or (spot.top >= window.top and spot.top + HEAD <= window.top + window.height):
        return window, False
    top = spot.top if spot.top < window.top else spot.top + HEAD + 3 * 27 - window.height
    furthest = max(0.0, rows[-1].top + rows[-1].height - window.height)
    return window.changed(top=min(max(0.0, top), furthest)), True
