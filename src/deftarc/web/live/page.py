"""What one open page is shown: the answer to a look, with only what changed since the last one.

A look says what the page shows (scene, frame, selection, time axis) and may carry a tentative edit. The same
same way serves opening, editing, dragging, undo and another window's change: the newest document, perhaps with the
edit on top, is held by identity against what the page has, and the difference goes out.

While a hand is on the picture the answer may come in two parts: first what lies under the hand, the picture with its
paths, then what follows from it, lanes, curves and figures. They tell of one state; the first need not wait. Where what
follows is quickly made, as one answer it is all there sooner: the page lays out and paints itself once. In the lanes a
hand that moves many keys is shown those in view alone, until it rests (brief.py).
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from time import perf_counter
from typing import Any, ClassVar

from deftarc.app.keyed import described, keyed_since
from deftarc.app.workshop import Workshop
from deftarc.core.arrange.clocked import at_work
from deftarc.core.arrange.family import led_by
from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import frame_digits, skips
from deftarc.core.changes.keys import still_there
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.project import layers_shown, origins_in
from deftarc.core.edit import EditBase, Locked, apply
from deftarc.core.edit import told as told_of
from deftarc.core.evaluate import (
    Branch,
    Evaluator,
    FrameTable,
    Leaf,
    drawn_as,
    frame_times,
    has_loose,
    pose,
    posed,
    still,
)
from deftarc.core.evaluate.seam import SeamCheck
from deftarc.core.evaluate.smear import Smearer
from deftarc.core.words import Misread
from deftarc.formats.materials import ground_drawing
from deftarc.formats.wire import pack, table_parts
from deftarc.store.projects import OpenProject
from deftarc.web.context import lock_offer
from deftarc.web.live.answering import Answering, axis_of, folded_of, ghosts_of, kind_of
from deftarc.web.live.brief import in_many_lanes, is_heavy, of_lanes_seen, standing
from deftarc.web.live.lines import changed_lines
from deftarc.web.live.over import handles_now, points_told, smear_told
from deftarc.web.live.trying import drawn_near, selects
from deftarc.web.look import Look
from deftarc.web.panels import PANELS, Panel, Showing
from deftarc.web.panels.columns import Columns
from deftarc.web.panels.drawings import drawing_key, drawing_told
from deftarc.web.panels.list.events import spots_of_events
from deftarc.web.panels.list.panel import ListPanel
from deftarc.web.panels.path import MOST_PATHS, moves_without_path, path_told, trail_told

#: How much of what is measured last counts in what is expected next.
SMOOTH = 0.2
#: While a hand drags more layers than this, the seam is told once it lets go.
SEEN_LIVE = 8
#: Seconds an answer may take for the next one like it to be made at once, while all else waits.
AT_ONCE = 0.05


class Stopped(Exception):
    """The hand whose rest this was to be moves on: what it was shown is enough."""


@dataclass
class Looking:
    """One page's view of one project."""

    shop: Workshop
    project_id: str
    evaluator: Evaluator = field(init=False)
    seams: SeamCheck = field(init=False)
    scene_id: str = ""
    sent_layers: dict[str, Layer] = field(default_factory=dict)
    #: By layer the item the page has of it: whatever it was composed from, another one is another picture.
    sent_items: dict[str, Branch] = field(default_factory=dict)
    sent_order: list[str] = field(default_factory=list)
    sent_head: Scene | None = None
    keyed_kept: tuple[object, ...] | None = None
    sent_drawings: set[str] = field(default_factory=set)
    sent_fragments: dict[str, str] = field(default_factory=dict)
    paths_kept: dict[str, tuple[Any, str, dict[str, Any] | None]] = field(default_factory=dict)
    panels: dict[str, Panel] = field(default_factory=lambda: {name: kind() for name, kind in PANELS.items()})
    columns: Columns = field(default_factory=Columns)
    #: How long what follows has taken lately, at moves of a hand on the picture.
    followed: float = 0.0
    #: What was looked at last, and how long its whole answer took.
    looked: tuple[str, str] | None = None
    took: float = 0.0
    #: The same of what a hand held last, where its answer was a whole one.
    whole: tuple[tuple[str, str] | None, float] | None = None
    #: Seconds that may take before the picture goes ahead of it.
    patience: ClassVar[float] = 0.008

    lanes: ListPanel = field(init=False)
    #: The newest look the page no longer waits for: told while it is being answered, by another thread.
    stopped: int = -1

    def __post_init__(self) -> None:
        self.smearer = Smearer(self.shop.materials.shaper.form)
        self.evaluator = Evaluator(self.shop.materials.shaper.form)
        self.seams = SeamCheck(Evaluator(self.shop.materials.shaper.form))
        self.by_lines = frozenset(name for panel in self.panels.values() for name in panel.by_lines)
        lanes = self.panels[ListPanel.id]
        assert isinstance(lanes, ListPanel)
        self.lanes = lanes

    def answer(self, look: Look) -> bytes:
        """The packed answer to a look; a refusal is told in its head, with the last good state left standing."""
        first, rest = self.begin(look.changed(ahead=False))
        assert rest is None
        return first

    def begin(self, look: Look) -> tuple[bytes, Callable[[], bytes] | None]:
        """The packed answer to a look; or its first part, and what works out the other one."""
        began = perf_counter()
        brief, self.looked = look.brief and is_heavy(look, self.whole), None
        try:
            if brief:
                return self._brief(look, began), None
            # One that asks for less, and is answered whole, asked for all.
            look = look.changed(brief=False) if look.brief else look
            answering = self._picture(look)
            if not (answering.ahead and self.followed > self.patience):
                return self._timed(answering, began), None
        except Refusal as refusal:
            return _refused(look, refusal), None
        except Stopped:
            return pack({"n": look.n, "stopped": True}, []), None
        first = self._packed(answering, ahead=True)
        answering.head = {name: answering.head[name] for name in ("n", "revision", "tentative", "frame")} | {
            "rest": True
        }
        answering.blobs = []
        spent = perf_counter() - began

        def rest() -> bytes:
            try:
                return self._timed(answering, perf_counter() - spent)
            except Refusal as refusal:
                return _refused(look, refusal)

        return first, rest

    def _packed(self, answering: Answering, **more: object) -> bytes:
        """What is told of the picture by itself."""
        head: dict[str, Any] = {**answering.head, **more, "fragments": {}}
        head["columns"], parts = self.columns.answer(answering.names, more=True)
        return pack(head, [*answering.blobs, *parts])

    def _brief(self, look: Look, began: float) -> bytes:
        """What lies under a hand in the lanes: the rows in view, and with few lanes the picture. All that it is about
        stands on the page; what follows is asked for when the hand rests.
        """
        opened = self.shop.projects.open(self.project_id)
        here = next((scene for scene in opened.project.scenes if scene.id == look.scene), None)
        if here is None or here.id != self.scene_id:
            return self._timed(self._picture(look.changed(brief=False)), began)
        listing = self.lanes.listing
        edit, told = drawn_near(look, opened.project, here, self.shop.materials, lambda: self._frames(here))
        apart = in_many_lanes(edit, here)
        if apart is None:
            answering = self._picture(look, (edit, told))
            listing.moves = standing(answering.look)
        else:
            seen = listing.lanes_seen(look, here, set(folded_of(look, here)))
            answering = of_lanes_seen(look, opened, here, edit, apart, seen)
            answering.head |= told
            listing.moves = apart.moves
        answering.head |= self.lanes.answer(self._showing(answering)).head
        made = self._packed(answering, brief=True)
        self.looked, self.took = kind_of(look), perf_counter() - began
        return made

    def _timed(self, answering: Answering, began: float) -> bytes:
        start = perf_counter()
        made = self._rest(answering)
        now = perf_counter()
        # Smoothed: a single slow answer is no reason to send the next one otherwise.
        self.followed = self.followed + SMOOTH * (now - start - self.followed) if answering.ahead else 0.0
        self.looked, self.took = kind_of(answering.look), now - began
        self.whole = (self.looked, self.took) if answering.look.held else None
        return made

    def at_once(self, look: Look) -> bool:
        """Whether the answer will take no time to speak of: the one before, of the same kind, did not."""
        return self.looked is not None and self.looked == kind_of(look) and self.took < AT_ONCE

    def _picture(self, look: Look, drawn: tuple[EditBase, dict[str, Any]] | None = None) -> Answering:
        """What a look asks for, and what the page has to be told of the picture and what is drawn over it; ``drawn`` is
        what is tried as it snaps, where that is known.
        """
        opened = self.shop.projects.open(self.project_id)
        head: dict[str, Any] = {"n": look.n, "revision": opened.revision, "tentative": look.edit is not None}
        here = next((scene for scene in opened.project.scenes if scene.id == look.scene), None)
        if here is None:
            # Deleted elsewhere, or undone: the page goes on with a scene that there is.
            here = opened.project.scenes[0]
            head["gone"] = f"The scene this page showed is gone. This is {here.name}."
            look = look.changed(scene=here.id, layers=(), keys=(), focus=None, edit=None, axis=None, light=False)
            head["tentative"] = False
        if look.fresh or here.id != self.scene_id:
            self._forget(here.id)
        if look.edit is None and look.keys:
            kept = still_there(here, look.keys)
            if len(kept) < len(look.keys):
                head["keys"] = [ref.model_dump() for ref in kept]
                look = look.changed(keys=tuple(kept))
        frame = min(max(look.frame, 0), here.frames - 1)
        head["frame"] = frame
        edit: EditBase | None = None
        project = opened.project
        if look.edit is not None:
            edit, told = drawn or drawn_near(look, project, here, self.shop.materials, lambda: self._frames(here))
            head |= told
            project = apply(project, edit)
            look = selects(head, look, edit, opened.project, project)
        scene = project.scene(look.scene)
        self.evaluator.scenes = self.seams.evaluator.scenes = project.by_id
        chosen = next((layer for name in look.layers for layer in scene.layers if layer.id == name), None)
        answering = Answering(look, opened, project, scene, chosen, frame, edit, head)
        if look.held:
            # The longest part, of which the page is told nothing yet: it can be left before and after.
            self._go_on(look)
            self._frames(scene)
            self._go_on(look)
        if not look.light:
            self._scene_head(head, project, scene)
            # Under a hand the one frame is enough; where it rests, what is around it comes, too.
            near = (frame, 0 if look.edit is not None else limits.MAX_DOTS_SENT)
            self._table(head, answering.blobs, project, scene, near)
        self._still(answering)
        smear_told(answering, self.smearer, self.shop.materials)
        answering.head["handles"] = handles_now(answering, self.shop.materials)
        if not look.light:
            self._over_picture(answering)
        return answering

    def _go_on(self, look: Look) -> None:
        if self._cut(look):
            raise Stopped

    def _cut(self, look: Look) -> bool:
        return look.held and self.stopped >= look.n > 0

    def _frames(self, scene: Scene) -> FrameTable:
        return self.evaluator.table(scene, frame_times(scene))

    def _showing(self, answering: Answering) -> Showing:
        look, scene, chosen = answering.look, answering.scene, answering.chosen
        return Showing(
            look, self.shop, answering.opened, answering.project, scene, chosen, answering.frame, axis_of(look, scene),
            set(folded_of(look, scene)), frame_times(scene), self.evaluator, self.columns,
            lambda: self._values(scene, chosen, answering.frame) if chosen else {},
            ghosts_of(look, scene), lambda: self.seams.seam(scene, at_most=SEEN_LIVE if look.held else None),
        )  # fmt: skip

    def _rest(self, answering: Answering) -> bytes:
        """What follows from the picture: lanes, curves, figures. Packed, with what of it is not yet sent."""
        look, scene, head = answering.look, answering.scene, answering.head
        showing = self._showing(answering)
        parts = [
            panel.answer(showing)
            for panel in self.panels.values()
            if not panel.last and (panel.light or not look.light)
        ]
        cut = self._cut(look)
        if not cut:
            parts += [panel.answer(showing) for panel in self.panels.values() if panel.last and not look.light]
        for part in parts:
            head.update(part.head)
        if not look.light:
            opened = answering.opened
            head["history"] = {"undo": opened.undo, "redo": opened.redo, "steps": opened.cursor}
            axis = showing.axis
            head["axis"] = {"start": axis.start, "end": axis.end, "width": axis.width}
            head["folded"] = folded_of(look, scene)
            names = answering.names + [name for part in parts for name in part.columns]
            head["columns"], blobs = self.columns.answer(names, more=cut)
            # Where something is left out, all that was told of it is still good.
            head |= {"cut": True} if cut else {"good": names}
            answering.blobs.extend(blobs)
            self._keyed(head, look, opened, answering.project)
            self._told(head, answering.edit, opened.project, answering.project)
        fragments = {name: html for part in parts for name, html in part.fragments.items()}
        for panel in self.panels.values():
            for frame_of, within in panel.within.items():
                if frame_of in fragments and self.sent_fragments.get(frame_of) != fragments[frame_of]:
                    # A frame drawn anew is empty: what stands in it goes with it, changed or not.
                    for inside in within:
                        self.sent_fragments.pop(inside, None)
        head["fragments"] = {
            name: news for name, html in fragments.items() if (news := self._news(name, html, look)) is not None
        }
        return pack(head, answering.blobs)

    def _forget(self, scene_id: str) -> None:
        self.scene_id = scene_id
        self.sent_layers.clear()
        self.sent_items.clear()
        self.sent_fragments.clear()
        self.sent_drawings.clear()
        self.sent_order = []
        self.sent_head = None
        self.columns.forget()
        for panel in self.panels.values():
            panel.forget()

    def _news(self, name: str, html: str, look: Look) -> str | None:
        """What the page has to be told of a fragment; None where it has it."""
        before = self.sent_fragments.get(name)
        if before == html:
            return None
        self.sent_fragments[name] = html
        return changed_lines(html, before) if look.edit is not None and name in self.by_lines else html

    def _scene_head(self, head: dict[str, Any], project: Project, scene: Scene) -> None:
        rate = scene.rate
        head["project"] = project.name
        head["rounded"] = project.rounded
        first, last = scene.play_range or (0, scene.length)
        head["scene"] = {
            "id": scene.id, "name": scene.name, "width": scene.width, "height": scene.height, "frames": scene.frames,
            "flicks": rate.flicks, "rate": rate.per_second, "nominal": rate.nominal,
            "digits": frame_digits(rate), "skips": skips(rate)._asdict() if rate.drops else None,
            "background": scene.background, "grid": scene.grid, "guides_locked": scene.guides_locked,
            "guides": [{"axis": guide.axis, "at": guide.at} for guide in scene.guides],
            "range": [max(0, -(-first // rate.flicks)), min(scene.frames, -(-last // rate.flicks))],
            "ranged": scene.play_range is not None,
            "shutter": scene.shutter.model_dump(),
            "origins": origins_in(project, scene),
        }  # fmt: skip
        order = [layer.id for layer in scene.layers]
        changed = [layer for layer in scene.layers if self.sent_layers.get(layer.id) is not layer]
        if not changed and order == self.sent_order and self.sent_head is not None:
            return
        drawings: dict[str, Any] = {}
        told = []
        for layer in changed:
            drawing = self.shop.materials.of_layer(layer)
            key = drawing_key(layer)
            if key not in self.sent_drawings:
                drawings[key] = drawing_told(drawing)
                self.sent_drawings.add(key)
            told.append(
                {"id": layer.id, "name": layer.name, "drawing": key, "hidden": layer.hidden, "locked": layer.locked,
                 "link": layer.scale_link, "kind": layer.artwork.kind, "parent": layer.parent, "group": layer.group,
                 "reference": layer.reference, "tag": layer.tag, "shared": layer.link is not None,
                 "hands": layer.hands_opacity, "start": layer.start, "as_one": layer.as_one, "smears": layer.smears,
                 "apart": layer.axes_split, "follows": list(layer.links), "keyed": list(layer.keyed),
                 "answers": list(layer.reactions),
                 "stretches": layer.stretches,
                 "later": layer.later and [layer.later.position, layer.later.rotation, layer.later.scale],
                 "traits": sorted(layer.artwork.traits), "shows": getattr(layer.artwork, "scene", None),
                 "trouble": self.shop.materials.trouble(layer.artwork)}
            )  # fmt: skip
        head["layers"] = {"order": order, "changed": told, "drawings": drawings}

    def _keyed(self, head: dict[str, Any], look: Look, opened: OpenProject, project: Project) -> None:
        """What *Keying changes* has keyed since it was switched on."""
        if look.keying_since is None or look.edit is not None:
            return
        told = (look.keying_since, opened.revision)
        if self.keyed_kept is None or self.keyed_kept[0] != told:
            found = keyed_since(self.shop.projects, self.project_id, look.keying_since)
            self.keyed_kept = (told, described(project, found, look.unit))
        head["keyed"] = self.keyed_kept[1]

    def _table(
        self, head: dict[str, Any], blobs: list[bytes], project: Project, scene: Scene, near: tuple[int, int]
    ) -> None:
        if scene.frames * layers_shown(project, scene) * 7 > limits.MAX_TABLE_NUMBERS:
            raise Refusal("This scene has more frames times layers than a page can play. Make it shorter.")
        table = self.evaluator.table(scene, frame_times(scene))
        # An item is made anew exactly when something it comes from changed: the layer, or whoever carries it.
        changed = {each.layer for each in table.branches if self.sent_items.get(each.layer) is not each}
        self._within(head, table)
        head["table"], parts = table_parts(table, 0, changed, near)
        blobs.extend(parts)
        self.sent_items = {each.layer: each for each in table.branches}
        self.sent_layers = {layer.id: layer for layer in scene.layers}
        self.sent_order = [layer.id for layer in scene.layers]
        self.sent_head = scene

    def _within(self, head: dict[str, Any], table: FrameTable) -> None:
        """What leaves in scenes that are shown within this one are painted with: by name, and those drawings."""
        keys: dict[str, str] = {}
        drawings: dict[str, Any] = {}
        for leaf in table.every:
            shown = leaf.shown if isinstance(leaf, Leaf) else None
            if shown is None or self.sent_items.get(leaf.layer) is leaf:
                continue
            layer = shown.layer
            ground = f"ground {shown.scene.width} {shown.scene.height} {shown.scene.background}"
            key = keys[drawn_as(leaf.layer)] = ground if layer is None else drawing_key(layer)
            if key not in self.sent_drawings:
                self.sent_drawings.add(key)
                made = ground_drawing(shown.scene) if layer is None else self.shop.materials.of_layer(layer)
                drawings[key] = drawing_told(made)
        if keys:
            head["within"] = {"keys": keys, "drawings": drawings}

    def _over_picture(self, answering: Answering) -> None:
        """What is drawn over the picture of what is selected, and its numbers by frame, in shown units."""
        look, scene, chosen = answering.look, answering.scene, answering.chosen
        times = frame_times(scene)
        if chosen is not None:
            answering.names = self.columns.of_layer(self.evaluator, scene, chosen, times, look.axes)
            if look.points:
                points_told(answering, chosen)
        answering.names += self._paths(answering.head, look, scene, chosen, times)

    def _paths(self, head: dict[str, Any], look: Look, scene: Scene, chosen: Layer | None, times: Any) -> list[str]:
        """The paths of what is selected, and by frame where the others of them are and what carries them."""
        kept, told, names = self.paths_kept, [], []
        by_id = {layer.id: layer for layer in scene.layers}
        self.paths_kept = {}
        for name in dict.fromkeys(look.layers[:MOST_PATHS]):
            layer = by_id.get(name)
            track = layer.tracks.get("position") if layer is not None else None
            if layer is None or (track is None and not moves_without_path(layer)):
                continue
            before = kept.get(name)
            # Nobody points at a key while the hand holds something.
            words = not look.held
            as_told = f"{look.unit} {scene.rate.flicks} {words}"
            same = before is not None and before[0] is track and before[1] == as_told
            path = before[2] if same and before is not None else path_told(scene, layer, look.unit, words)
            if path is None and moves_without_path(layer):
                path = trail_told(layer)
            self.paths_kept[name] = (track, as_told, path)
            if path is None:
                continue
            told.append({**path, "events": spots_of_events(scene, layer)})
            if layer is not chosen:
                names += self.columns.of_path(self.evaluator, scene, layer, times)
        head["paths"] = told
        return names

    def _told(self, head: dict[str, Any], edit: EditBase | None, before: Project, after: Project) -> None:
        """What a tentative edit that reduces would come to."""
        if edit is not None and edit.looked_at:
            head["told"] = [note.text for note in told_of(before, edit, after)]

    def _values(self, scene: Scene, layer: Layer, frame: int) -> dict[str, tuple[float, ...]]:
        """What each property shows at a frame: from the table, unless a loose value has its say."""
        time = scene.rate.time_of(frame)
        if has_loose(at_work(scene, time).layer(layer.id), time):
            return posed(scene, layer, time)
        values = self.evaluator.values(scene, layer.id, frame_times(scene))
        return {name: tuple(map(float, rows[min(frame, len(rows) - 1)])) for name, rows in values.items()}

    def _still(self, answering: Answering) -> None:
        """The picture at the frame shown, where values changed but not keyed have their say in it."""
        scene, frame, head = answering.scene, answering.frame, answering.head
        time = scene.rate.time_of(frame)
        then = at_work(scene, time)
        chosen = None if answering.chosen is None else then.layer(answering.chosen.id)
        if chosen is not None and has_loose(chosen, time):
            head["pose"] = {"position": list(pose(chosen, time, ("position",))["position"])}
        loose = {layer.id for layer in then.layers if has_loose(layer, time)}
        if loose:
            # What a loosely changed layer carries or leads goes where it goes.
            loose = led_by(scene, loose)
            head["still"], parts = table_parts(
                still(scene, time, self.shop.materials.shaper.form, answering.project.by_id), frame, loose
            )
            answering.blobs.extend(parts)


def _refused(look: Look, refusal: Refusal) -> bytes:
    more = lock_offer(refusal) if isinstance(refusal, Locked) else {}
    if isinstance(refusal, Misread):
        more = {"misread": [refusal.start, refusal.end]}
    return pack({"n": look.n, "refused": str(refusal), **more}, [])
