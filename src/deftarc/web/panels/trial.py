"""What is tried in place, before it is kept: a bar with chips for its choices, in one pattern for all that is so tried.

An edit is tried in place where a kind is registered here, with its choices. A chip sets a field of the edit; the lanes
show what comes of it.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, ClassVar, Literal

from deftarc.core.base.time import FrameRate
from deftarc.core.changes.landing import takers
from deftarc.core.document import Scene
from deftarc.core.document.eases import EASES
from deftarc.core.document.properties import PROPERTIES, Property, property_named
from deftarc.core.edit import EditBase
from deftarc.core.edit.copies import CopiesOf
from deftarc.core.edit.draw_on import DrawOn
from deftarc.core.edit.later import CarryLater, ChainLayers
from deftarc.core.edit.links import LinkLanes
from deftarc.core.edit.motions import LayMotion
from deftarc.core.edit.paste import PasteKeys
from deftarc.core.edit.stagger import Stagger, remembered
from deftarc.core.edit.swings import CloseBars, ThereAndBack
from deftarc.web.context import fragment
from deftarc.web.panels.panel import PANELS, Panel, Part, Showing


@dataclass(frozen=True)
class Choice:
    """A field of the edit, by its path, to be chosen: on or off, one of several, a count, or a time in frames."""

    path: str
    words: str
    title: str
    kind: Literal["switch", "one", "count", "frames", "plain", "number", "colour"]
    value: Any
    #: Of one of several: each value with its words.
    options: tuple[tuple[str, str], ...] = ()
    #: Why it means nothing now; empty where it does.
    idle: str = ""
    flicks: int = 1
    #: Of a number: from where to where it goes, in steps of what, and its unit.
    low: float = 0.0
    high: float = 1.0
    step: float = 1.0
    unit: str = ""
    #: By what it is multiplied to be told.
    factor: float = 1.0


@dataclass(frozen=True)
class Trial:
    title: str
    choices: tuple[Choice, ...]
    #: Of what is repeated: where the first turn begins, how long one takes in flicks, and the field that counts them:
    #: a handle in the lanes drags it.
    turn: tuple[int, int, str] | None = None
    #: Its first number is what is asked for above all: it can be typed at once.
    asks: bool = False


TRIALS: dict[type[EditBase], Callable[[Any, Scene], Trial]] = {}


def _switch(path: str, words: str, title: str, value: bool, idle: str = "") -> Choice:
    return Choice(path, words, title, "switch", value, idle=idle)


def _pasted(edit: PasteKeys, scene: Scene) -> Trial:
    how, frame = edit.how, scene.rate.flicks
    once = "" if how.often > 1 else "there is one turn"
    blends = all(PROPERTIES[lane.property].kind in ("colour", "outline") for lane in edit.clip.lanes)
    unsummed = once or ("turns alternate" if how.alternate else "colours do not add up" if blends else "")
    one_sided = "colours have no other side" if blends else ""
    stays = "colours stay as they are" if blends else ""
    met = (("once", "key shared"), ("twice", "both keys"))
    there = (("mix", "among keys there"), ("replace", "instead of them"))
    fits = (("keep", "times kept"), ("span", "fill the span"), ("range", "fill the range"))
    choices = (
        Choice("how.often", "times", "How often; drag the right edge in the lanes", "count", how.often),
        _switch("how.alternate", "there and back", "Every other turn runs backwards", how.alternate, once),
        _switch("how.adding", "adding up", "Each turn begins where the one before ended", how.adding, unsummed),
        Choice("how.shared", "shared key", "Where turns meet", "one", how.shared, met, once),
        Choice("how.gap", "rest", "Rest between turns", "frames", how.gap, idle=once, flicks=frame),
        _switch("how.reversed", "reversed", "Last key first", how.reversed),
        _switch("how.mirrored", "mirrored", "Values on the other side of the first", how.mirrored, one_sided),
        _switch("how.relative", "from the value there", "The first has the value that is there", how.relative, stays),
        Choice("how.onto", "what is there", "Keys there stay, or make room", "one", how.onto, there),
        Choice("how.fit", "times", "Times as copied, or made to fill a stretch", "one", how.fit, fits),
        *_onto(edit, scene),
    )
    low, high = edit.clip.start, edit.clip.end
    length = high - low + (how.gap or (frame if how.shared == "twice" else 0))
    turn = (edit.time, length, "how.often") if how.fit == "keep" and length > 0 else None
    number = "1 key" if edit.clip.count == 1 else f"{edit.clip.count} keys"
    return Trial(f"Paste {number}", choices, turn)


def _onto(edit: PasteKeys, scene: Scene) -> list[Choice]:
    """Of one copied lane: the properties of the first layer that take it."""
    names = {lane.property for lane in edit.clip.lanes}
    if len(names) != 1:
        return []
    own = PROPERTIES[next(iter(names))]
    likes = takers(scene.layer(edit.layers[0]), edit.clip.lanes)
    if not likes:
        return []
    options = (("", f"on {own.label}"), *((facts.id, f"on {facts.label}{_in_unit(own, facts)}") for facts in likes))
    return [Choice("onto_property", "onto", "The property that takes it", "one", edit.onto_property or "", options)]


def _in_unit(own: Property, facts: Property) -> str:
    return "" if own.unit == facts.unit else f", 40 {own.unit} as 40 {facts.unit}".replace("  ", " ").rstrip()


ORDERS = (
    ("listed", "as listed"), ("reversed", "from the bottom"), ("middle", "from the middle"), ("ends", "from the ends"),
    ("across", "by place, across"), ("down", "by place, down"), ("shuffled", "shuffled"),
)  # fmt: skip


def _staggered(edit: Stagger, scene: Scene) -> Trial:
    far = {"step": "apart", "total": "in all", "end": "after the end of the one before"}[edit.by]
    ways = (("step", "by a step"), ("total", "over a total"), ("end", "end to start"))
    eases = tuple((ease.id, ease.label) for ease in EASES.values() if not ease.stepped)
    uneven = "" if edit.by != "end" else "each begins where the one before ends"
    choices = [
        Choice("by", "how", "A step, a total, or end to start", "one", edit.by, ways),
        Choice("far", far, "Frames; below 0 they overlap", "frames", edit.far, flicks=scene.rate.flicks),
        Choice("order", "order", "In which order they begin", "one", edit.order, ORDERS),
        Choice("ease", "spaced by", "An ease over the steps", "one", edit.ease, eases, uneven),
    ]
    if edit.order == "shuffled":
        choices.append(Choice("seed", "seed", "Another seed is another order", "count", edit.seed))
    if not edit.lanes:
        choices.append(_switch("spans", "spans too", "Layers show when they begin", edit.spans))
    count = len(edit.lanes) or len(edit.layers)
    return Trial(f"Stagger {count} {'lanes' if edit.lanes else 'layers'}", tuple(choices))


def _motion(edit: LayMotion, scene: Scene) -> Trial:
    motion, how = edit.motion, edit.how
    choices = []
    for dial in motion.dials:
        title = f"{dial.label}: from {dial.low:g} to {dial.high:g} {motion.unit_of(dial)}".rstrip()
        told = edit.numbers.get(dial.id, dial.value)
        whole = dial.kind == "often"
        step = 1.0 if whole else 10 ** (math.floor(math.log10(dial.high - dial.low)) - 2)
        choices.append(
            Choice(f"numbers.{dial.id}", dial.label, title, "number", told, low=dial.low, high=dial.high, step=step,
                   unit=motion.unit_of(dial))
        )  # fmt: skip
    rests = (("first", "from where it is"), ("last", "to where it is"))
    ats = (("time", "at the playhead"), ("start", "where each begins"), ("end", "where each ends"))
    fits = (("keep", "its own length"), ("span", "fills the span"), ("range", "fills the range"))
    sizes = (("kept", "as large as saved"), ("layer", "by the layer’s size"), ("scene", "by the scene’s size"))
    there = (("mix", "among keys there"), ("replace", "instead of them"))
    unsized = "" if motion.sizes or motion.frame else "it was saved without its size"
    filled = "" if how.fit == "keep" else "it fills a stretch"
    if any(lane.track.period for lane in motion.clip.lanes):
        about = "Where in its cycle it is as it begins, as a share of that"
        choices.append(Choice("how.phase", "begun by", about, "plain", how.phase, unit="cycles"))
    choices += [
        Choice("how.rest", "where", "Whether it sets out from where it is, or comes there", "one",
               how.rest or motion.rest, rests),
        Choice("how.at", "when", "At the playhead, or where each layer begins or ends", "one", how.at, ats, filled),
        Choice("how.fit", "length", "As long as told, or made to fill a stretch", "one", how.fit, fits),
        Choice("how.size", "size", "Px as they were saved, or in proportion", "one", how.size, sizes, unsized),
        Choice("how.onto", "what is there", "Keys there stay, or make room", "one", how.onto, there),
    ]  # fmt: skip
    sets = len(set(edit.layers)) // max(1, len(motion.clip.sources))
    if sets > 1:
        choices.append(
            Choice("how.step", "apart", "Frames from one to the next", "frames", how.step, flicks=scene.rate.flicks)
        )
        choices.append(Choice("how.order", "order", "In which order they begin", "one", how.order, ORDERS))
        if how.order == "shuffled":
            choices.append(Choice("how.seed", "seed", "Another seed is another order", "count", how.seed))
    return Trial(motion.name, tuple(choices))


def _copies(edit: CopiesOf, scene: Scene) -> Trial:
    all_round = "they go all the way round" if edit.goes_round else ""
    choices = (
        Choice("often", "in all", "How many, with what is copied", "count", edit.often),
        _switch("round", "all the way round", "Evenly about the pivot of the first", edit.goes_round),
        Choice("turn", "turned by", "Degrees from one to the next, clockwise", "plain", edit.turn, idle=all_round,
               unit="°"),
        Choice("dx", "across", "Px from one to the next", "plain", edit.dx, unit="px"),
        Choice("dy", "down", "Px from one to the next", "plain", edit.dy, unit="px"),
        Choice("later", "later", "Frames from one to the next; below 0 earlier", "frames", edit.later,
               flicks=scene.rate.flicks),
        Choice("phase", "out of step by", "Share of a cycle from one to the next, of what repeats", "plain", edit.phase,
               unit="cycles"),
        _switch("linked", "one artwork", "They share their artwork: a change of one is a change of all", edit.linked),
    )  # fmt: skip
    return Trial("Copies", choices, asks=True)


def _frames(path: str, words: str, title: str, value: int, scene: Scene, idle: str = "") -> Choice:
    return Choice(path, words, title, "frames", value, idle=idle, flicks=scene.rate.flicks)


def _more(lag: int, step: int | None) -> int:
    """How much later each is than the one before; as much again where that is not told."""
    return lag if step is None else step


def _later(edit: LinkLanes, scene: Scene) -> Trial:
    one = "" if len(edit.lanes) > 1 else "one follows"
    choices = (
        _frames("lag", "later", "Frames after what it follows; below 0 ahead of it", edit.lag, scene),
        _frames("step", "more each", "Frames from each to the next", _more(edit.lag, edit.step), scene, one),
        Choice("factor", "times", "So many times what it follows", "plain", edit.factor),
    )
    return Trial(f"As {scene.layer(edit.to.layer).name}, later", choices, asks=True)


def _carried(edit: CarryLater, scene: Scene) -> Trial:
    one = "" if len(edit.layers) > 1 else "one is carried"
    choices = (
        _frames("all", "later", "Frames after its carrier; below 0 ahead of it", edit.all or 0, scene),
        _frames("step", "more each", "Frames from each to the next", _more(edit.all or 0, edit.step), scene, one),
    )
    return Trial("Carried later", choices, asks=True)


def _chained(edit: ChainLayers, scene: Scene) -> Trial:
    return Trial("A tail", (_frames("lag", "later each", "Frames after the one before", edit.lag, scene),), asks=True)


def _draw_on(edit: DrawOn, scene: Scene) -> Trial:
    eases = tuple((ease.id, ease.label) for ease in EASES.values() if not ease.stepped)
    choices = (
        _frames("length", "drawn in", "Frames each line takes", edit.length, scene),
        _frames("fills", "then filled in", "Frames its fill takes; 0 leaves it", edit.fills, scene),
        _frames("step", "each later", "Frames from one layer to the next; below 0 earlier", edit.step, scene),
        _switch("in_turn", "contours in turn", "One contour of an outline after the other", edit.in_turn),
        Choice("ease", "by", "How the line runs", "one", edit.ease, eases),
    )
    return Trial("Drawn on", choices, asks=True)


def _swung(edit: ThereAndBack, scene: Scene) -> Trial:
    facts = property_named(edit.property)
    eases = tuple((ease.id, ease.label) for ease in EASES.values())
    choices = [Choice("often", "times", "How often there and back", "count", edit.often)]
    if facts.kind == "colour":
        choices.append(Choice("colour", "to", "The colour it goes to", "colour", edit.colour))
    else:
        title = f"How far it goes, in {facts.unit or 'its unit'}"
        far = edit.how_far()
        choices.append(Choice("far", "by", title, "plain", far, unit=facts.unit, factor=facts.factor))
    choices += [
        _frames("length", "each way", "Frames there, and as many back", edit.length, scene),
        Choice("ease", "by", "How it goes each way", "one", edit.ease, eases),
    ]
    return Trial(f"{facts.label} there and back", tuple(choices), asks=True)


def _closing(edit: CloseBars, scene: Scene) -> Trial:
    sides = (("above", "above and below"), ("beside", "left and right"), ("round", "all round"))
    choices = (
        Choice("far", "by", "The share of the frame each closes", "plain", edit.far, unit="% of the frame",
               factor=100),
        _frames("length", "closing in", "Frames it takes", edit.length, scene),
        Choice("sides", "from", "From which edges", "one", edit.sides, sides),
        Choice("ease", "by", "How they close", "one", edit.ease,
               tuple((ease.id, ease.label) for ease in EASES.values() if not ease.stepped)),
    )  # fmt: skip
    return Trial("Bars closing in", choices, asks=True)


TRIALS[ThereAndBack] = _swung
TRIALS[CloseBars] = _closing
TRIALS[DrawOn] = _draw_on
TRIALS[LinkLanes] = _later
TRIALS[CarryLater] = _carried
TRIALS[ChainLayers] = _chained


TRIALS[CopiesOf] = _copies
TRIALS[LayMotion] = _motion
TRIALS[PasteKeys] = _pasted
TRIALS[Stagger] = _staggered


def told_frames(flicks: int, rate: FrameRate) -> str:
    return f"{flicks / rate.flicks:g}"


@PANELS.add
class TrialPanel(Panel):
    """The bar of what is tried in place; empty while nothing is."""

    id: ClassVar[str] = "trial"

    def __init__(self) -> None:
        #: Whether the page shows it: that stays so, whatever else it is to be told anew.
        self.told = False

    def _again(self, showing: Showing) -> dict[str, Any]:
        """Staggers that can be changed: told where nothing is tried."""
        if showing.look.edit is not None or not showing.scene.staggers:
            return {"staggers": []} if showing.look.edit is None else {}
        return {"staggers": [edit.model_dump(mode="json") for edit in remembered(showing.scene)]}

    def answer(self, showing: Showing) -> Part:
        edit = showing.look.edit
        make = TRIALS.get(type(edit)) if edit is not None else None
        if make is None:
            told, self.told = self.told, False
            return Part(head={"trial": None, **self._again(showing)}, fragments={"trial-choices": ""} if told else {})
        self.told = True
        trial = make(edit, showing.scene)
        html = fragment("parts/trial.html", trial=trial, frames=lambda flicks: told_frames(flicks, showing.scene.rate))
        bar = {"title": trial.title, "turn": trial.turn, "asks": trial.asks}
        return Part(head={"trial": bar}, fragments={"trial-choices": html})
