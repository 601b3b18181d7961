"""The list in When as a page knows it: which rows it shows, and the HTML of those that are new to it."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any, ClassVar

from deftarc.core.arrange.family import members
from deftarc.core.base.arrays import Floats
from deftarc.core.base.identity import identical
from deftarc.core.changes.keys import KeyRef
from deftarc.core.document import Layer, Scene
from deftarc.core.document.track import AnyTrack
from deftarc.core.edit.base import LaneName
from deftarc.core.edit.keys import grouped
from deftarc.web.context import fragment
from deftarc.web.look import Look
from deftarc.web.panels.axis import TimeAxis
from deftarc.web.panels.bead import MOST_WHOLE
from deftarc.web.panels.figures.reactions import told_answering
from deftarc.web.panels.list.events import events_in
from deftarc.web.panels.list.ghosts import ghost_of_lane, ghost_span
from deftarc.web.panels.list.lanes import lane, layer_row
from deftarc.web.panels.list.rows import Spot, in_view, rows_of_list, window_for
from deftarc.web.panels.panel import PANELS, Panel, Part, Showing


@dataclass
class Listing:
    """What one page has been sent of its list. Rows are kept by what they were drawn from."""

    drawn: dict[str, tuple[tuple[Any, ...], str]] = field(default_factory=dict)
    #: Lanes that were drawn bare while a hand dragged: once it lets go they are drawn whole.
    bare: set[str] = field(default_factory=set)
    #: Rows that were drawn for a hand that moves many: once it rests they are drawn whole.
    briefly: set[str] = field(default_factory=set)
    sent: dict[str, str] = field(default_factory=dict)
    before: tuple[Any, ...] | None = None
    rows: tuple[tuple[Any, ...], tuple[Layer, ...], list[Spot]] | None = None
    about: tuple[Any, ...] | None = None
    seen: dict[str, Spot] = field(default_factory=dict)
    #: Where keys go that a hand moves, lane by lane, in rows whose layers were left as they were.
    moves: Mapping[LaneName, Mapping[int, int]] = field(default_factory=dict)
    #: The layers of these, and which answer it is that tells of them.
    moving: set[str] = field(default_factory=set)
    turn: object = None
    chosen: tuple[tuple[KeyRef, ...], dict[LaneName, set[int]]] | None = None
    #: Why a layer's artwork is not drawn, or not all of it; empty where it is.
    trouble: Callable[[Layer], str] = lambda layer: ""
    #: Layers as they are in the take that is laid over, by id.
    ghosts: dict[str, Layer] = field(default_factory=dict)
    #: A lane's numbers by frame.
    by_frame: Callable[[Layer, str], Floats] | None = None

    def forget(self) -> None:
        self.drawn.clear()
        self.bare.clear()
        self.briefly.clear()
        self.sent.clear()
        self.seen = {}
        self.before = self.rows = self.about = None

    def lanes_seen(self, look: Look, scene: Scene, folded: set[str]) -> set[LaneName]:
        """The lanes whose rows are seen."""
        # Moving keys in time moves no row.
        kept = self.rows
        rows = kept[2] if kept is not None and kept[0] == self._asked(look, folded) else self._rows(look, scene, folded)
        return {(spot.layer.id, spot.name) for spot in in_view(rows, look.window, 0.0) if spot.name is not None}

    def drawn_for(
        self, look: Look, scene: Scene, axis: TimeAxis, folded: set[str], only_seen: bool = False
    ) -> dict[str, Any] | None:
        """The rows in view by id and place, with the HTML of those that changed; None where nothing did. ``only_seen``
        leaves those just beyond the view as they were, to be drawn the next time.
        """
        rows = self._rows(look, scene, folded)
        window, moved = window_for(rows, look.window, look.reveal)
        seen = in_view(rows, window)
        selected = set(look.layers)
        html: dict[str, str] = {}
        # What rows hang on besides layers: from one move of a hand to the next it stays, and so do most rows.
        told = (axis, look.unit, selected, folded, look.focus, scene.length, scene.rate, look.ghost)
        about = None if look.edit is None else told
        stay = self.seen if about is not None and about == self.about else {}
        near = in_view(rows, window, 0.0) if only_seen else seen
        fresh = [spot for spot in seen if spot.id not in self.sent or spot in near] if only_seen else seen
        self.about, self.seen = about, {spot.id: spot for spot in fresh}
        self.turn, self.moving = object(), {layer for layer, _ in self.moves} if only_seen else set()
        for spot in fresh:
            drawn_briefly = spot.id in self.briefly and not look.brief
            # What a row tells may hang on another layer.
            own = spot.layer.parent is None and not spot.layer.group and spot.name not in spot.layer.links
            if stay.get(spot.id) is spot and own and not drawn_briefly and not self._dotted(spot, scene, folded):
                continue
            text = self._drawn(spot, look, scene, axis, selected, folded)
            if self.sent.get(spot.id) != text:
                html[spot.id] = self.sent[spot.id] = text
        here = {spot.id for spot in seen}
        self.sent = {name: text for name, text in self.sent.items() if name in here}
        if len(self.drawn) > 4 * len(rows) + 400:
            self.drawn = {name: kept for name, kept in self.drawn.items() if name in here}
        height = rows[-1].top + rows[-1].height if rows else 0
        places = [[spot.id, spot.top] for spot in seen]
        whole = (height, places, bool(scene.layers))
        if not html and not moved and whole == self.before:
            return None
        self.before = whole
        empty = "" if rows else fragment("parts/no_rows.html", scene=scene, filters=look.filters)
        return {"height": height, "rows": places, "html": html, "scroll": window.top if moved else None, "empty": empty}

    def _asked(self, look: Look, folded: set[str]) -> tuple[Any, ...]:
        return (look.opened, look.filters, look.lane_height, look.layers if look.filters.selected else (), folded)

    def _rows(self, look: Look, scene: Scene, folded: set[str]) -> list[Spot]:
        """The rows of the list: those of before, where layers only differ in what does not place them."""
        asked = self._asked(look, folded)
        kept = self.rows
        if kept is not None and kept[0] == asked and len(kept[1]) == len(scene.layers):
            changed = {b.id: b for a, b in zip(kept[1], scene.layers, strict=True) if a is not b}
            if all(a is b or _placed_alike(a, b) for a, b in zip(kept[1], scene.layers, strict=True)):
                rows = [
                    replace(spot, layer=changed[spot.layer.id]) if spot.layer.id in changed else spot
                    for spot in kept[2]
                ] if changed else kept[2]  # fmt: skip
                self.rows = (asked, scene.layers, rows)
                return rows
        rows = rows_of_list(scene, folded, look.opened, set(look.layers), look.filters, look.lane_height)
        self.rows = (asked, scene.layers, rows)
        return rows

    def _drawn(self, spot: Spot, look: Look, scene: Scene, axis: TimeAxis, selected: set[str], folded: set[str]) -> str:
        layer, name = spot.layer, spot.name
        chosen = layer.id in selected
        if name is None:
            shut = layer.id in folded
            # What a group's row tells hangs on what is inside, a carried one's on who carries it.
            about: tuple[object, ...] = tuple(members(scene, layer.id)) if layer.group else ()
            about += (self.trouble(layer), self._span_beside(layer))
            if layer.parent is not None:
                about += (scene.layer(layer.parent).name,)
            key: tuple[Any, ...] = (layer, about, axis, chosen, shut, spot.depth, scene.length, scene.rate, look.unit,
                                    self.turn if self._dotted(spot, scene, folded) else None)  # fmt: skip
        else:
            focus = bool(look.focus and look.focus.layer == layer.id and look.focus.property == name)
            values = self._followed(layer, name, look)
            about = (layer.name, layer.tag, self._beside(layer, name))
            if name in layer.links:
                link = layer.links[name]
                about += (link, values, scene.layer(link.source.layer).name)
            if not look.brief:
                # What it answers, and what of it is answered, may change without it.
                answers = told_answering(scene, layer, name) if name in layer.reactions else ""
                about += (answers, str(events_in(scene, layer, name, axis, look.unit)))
            key = (
                layer.tracks.get(name) or layer.links.get(name) or layer.track(name),
                about,
                axis,
                chosen,
                focus,
                spot.depth,
                spot.height,
                scene.rate,
                look.unit,
            )
        stale = (look.edit is None and spot.id in self.bare) or (not look.brief and spot.id in self.briefly)
        kept = None if stale else self.drawn.get(spot.id)
        if kept is not None and _same(kept[0], key):
            return kept[1]
        if kept is not None and look.brief and name in layer.links and kept[0][0] is key[0]:
            # What it follows is on its way: it is told once the hand rests.
            return kept[1]
        if kept is not None and name is None and kept[0][1:] == key[1:] and _told_alike(kept[0][0], layer):
            self.drawn[spot.id] = (key, kept[1])
            return kept[1]
        if name is None:
            moves = self.moves if self._dotted(spot, scene, folded) else None
            trouble = self.trouble(layer)
            row = layer_row(scene, layer, spot.depth, axis, chosen, layer.id in folded, look.unit, trouble, moves)
            row = replace(row, ghost=ghost_span(self.ghosts.get(layer.id), layer, scene, axis))
            html = fragment("parts/row_layer.html", row=row, axis=axis)
        else:
            values = self._followed(layer, name, look)
            made = lane(scene, layer, name, spot.depth, axis, spot.height, bool(key[4]), look.unit, look.brief, values)
            made = replace(made, ghost=ghost_of_lane(self._beside(layer, name), axis, spot.height))
            times = None
            self.bare.discard(spot.id)
            if look.edit is not None and (look.brief or len(made.beads) > MOST_WHOLE):
                times = self._chosen(look).get((layer.id, name), set())
                self.bare.add(spot.id)
            html = fragment("parts/row_lane.html", lane=made, axis=axis, selected=chosen, chosen=times)
        self.drawn[spot.id] = (key, html)
        (self.briefly.add if look.brief else self.briefly.discard)(spot.id)
        return html

    def _followed(self, layer: Layer, name: str, look: Look) -> Floats | None:
        """The numbers by frame of a lane that follows something; None for others, and for a hand that moves many."""
        if name not in layer.links or look.brief or self.by_frame is None:
            return None
        return self.by_frame(layer, name)

    def _dotted(self, spot: Spot, scene: Scene, folded: set[str]) -> bool:
        """Whether a row tells where keys go under a hand that moves many: its layer's, or of one inside."""
        layer = spot.layer
        if not self.moving or spot.name is not None or layer.id not in folded:
            return False
        return layer.id in self.moving or (layer.group and any(x.id in self.moving for x in members(scene, layer.id)))

    def _chosen(self, look: Look) -> dict[LaneName, set[int]]:
        """The times of selected keys by lane."""
        if self.chosen is None or self.chosen[0] is not look.keys:
            self.chosen = (look.keys, {lane: set(times) for lane, times in grouped(look.keys).items()})
        return self.chosen[1]

    def _beside(self, layer: Layer, name: str) -> AnyTrack | None:
        """A lane's track in the take that is laid over, where it is another."""
        other = self.ghosts.get(layer.id)
        track = other.tracks.get(name) if other is not None else None
        return None if track is None or track is layer.tracks.get(name) else track

    def _span_beside(self, layer: Layer) -> str:
        other = self.ghosts.get(layer.id)
        return "" if other is None else f"{other.start} {other.end}"


def _placed_alike(one: Layer, other: Layer) -> bool:
    """Whether two states of a layer have the same rows at the same places."""
    return (
        (one.id, one.name, one.parent, one.group) == (other.id, other.name, other.parent, other.group)
        and one.moving == other.moving
        and one.properties == other.properties
    )


def _told_alike(one: Layer, other: Layer) -> bool:
    """Whether a layer's own row tells the same of two states of it: they differ in values at most, not in keys."""
    if (
        one.changed(tracks=other.tracks, links=other.links) != other
        or one.links.keys() != other.links.keys()
        or one.tracks.keys() != other.tracks.keys()
    ):
        return False
    return all(track is other.tracks[name] or track.key_times == other.tracks[name].key_times
               for name, track in one.tracks.items())  # fmt: skip


def _same(one: tuple[Any, ...], other: tuple[Any, ...]) -> bool:
    """The layer or track that comes first, and those about it, by identity; the rest by value."""
    return one[0] is other[0] and one[2:] == other[2:] and identical(one[1], other[1], by_value=(str,))


@PANELS.add
class ListPanel(Panel):
    id: ClassVar[str] = "lanes"

    def __init__(self) -> None:
        self.listing = Listing()

    def forget(self) -> None:
        self.listing.forget()

    def answer(self, showing: Showing) -> Part:
        self.listing.ghosts = showing.ghosts
        self.listing.by_frame = showing.by_frame
        self.listing.trouble = lambda layer: showing.shop.materials.trouble(layer.artwork)
        look = showing.look
        told = self.listing.drawn_for(look, showing.scene, showing.axis, showing.folded, look.brief)
        return Part(head={} if told is None else {"lanes": told})
