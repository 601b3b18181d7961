"""The seam of what loops: a small sign at its end on the ruler, and the list of what does not meet."""

import math
from dataclasses import dataclass, replace
from typing import Any, ClassVar

from deftarc.core.base.time import FrameRate, told_frame
from deftarc.core.document import Layer, Scene
from deftarc.core.document.properties import PROPERTIES, Property
from deftarc.core.document.units import with_unit
from deftarc.core.edit import EditBase
from deftarc.core.edit.keys import Lane
from deftarc.core.edit.scenes import SetPlayRange
from deftarc.core.edit.seam import CloseSeam, LoopLength
from deftarc.core.edit.spans import TrimSpan
from deftarc.core.evaluate.gaps import INNER, LATE, MOMENT, NO_LANES, SHOWS, Gap
from deftarc.core.evaluate.seam import Common, Seam, common_length, cycle_gap, stretch_of, turns_to_close
from deftarc.web.context import fragment
from deftarc.web.panels.drawer import DRAWERS, Drawer, as_told
from deftarc.web.panels.figures.numbers import number
from deftarc.web.panels.panel import PANELS, Panel, Part, Showing

#: Rows of the list; all of them can be closed at once.
MOST_ROWS = 60
SIGNS = {
    "perfect": "The loop closes: its end meets its start, in what shows and in speed",
    "meets": "The loop meets in what shows, not in speed",
    "open": "The loop does not close",
}


#: Of more layers than this the seam is looked at once the page shows them.
AT_ONCE = 30
TITLES = {
    "still": "nothing moves here", "perfect": "a perfect loop", "meets": "it meets, but not in speed",
    "open": "it does not close",
}  # fmt: skip


@dataclass(frozen=True)
class Offer:
    words: str
    edit: str
    title: str = ""


@dataclass(frozen=True)
class Row:
    """One lane that does not meet: what it is, what it is off by, and what would close it."""

    layer: str
    property: str
    name: str
    off: str
    far: str
    offers: tuple[Offer, ...]
    #: The times of its keys at both ends, parted by commas.
    times: str = ""


def told_off(gap: Gap, layer: Layer) -> str:
    """By what a lane is off, in words."""
    if gap.name == SHOWS:
        return "shows at the end and not at the start" if gap.value[0] > 0 else "shows at the start and not at the end"
    if gap.name == LATE:
        return f"comes {with_unit(gap.value[0], 'px')} from where its carrier was before the loop begins"
    if gap.name == MOMENT:
        return f"the scene it shows is {number(abs(gap.value[0]), 1)} frames off"
    if gap.name == INNER:
        return "the scene it shows begins anew here, and is no loop itself"
    parts = [] if gap.meets else [_told(gap.value, PROPERTIES[gap.name], "")]
    if gap.kink:
        parts.append(f"{_told(gap.speed, PROPERTIES[gap.name], '/s')} apart in speed")
    if gap.doubled:
        parts.append("the last frame shows what the first does")
    return ", ".join(parts)


def _told(numbers: tuple[float, ...], facts: Property, a_second: str) -> str:
    """A difference in shown units: of a place how far, of a colour or an outline the most that any part is off."""
    unit = {"path": "px", "colour": "%", "outline": "px"}.get(facts.kind, facts.unit)
    if facts.kind == "number":
        size = abs(numbers[0]) * facts.factor
    else:
        size = math.hypot(*numbers) if facts.kind == "path" else max(map(abs, numbers))
        size *= facts.factor if facts.kind == "colour" else 1.0
    return with_unit(size, f"{unit}{a_second}")


def row_of(scene: Scene, gap: Gap) -> Row:
    """A lane that does not meet over the loop, with what would close it."""
    layer = scene.layer(gap.layer)
    name = layer.name if gap.name in NO_LANES else f"{PROPERTIES[gap.name].label} of {layer.name}"
    far = with_unit(gap.kink, "px a frame") if gap.meets else with_unit(gap.far, "px")
    whole = gap.name in NO_LANES
    far = "" if whole or not gap.weight else f"seen {far}"
    times = ""
    if gap.name in layer.keyed:
        track = layer.tracks[gap.name]
        near = dict.fromkeys(track.time_near(end, scene.half) for end in stretch_of(scene))
        times = ",".join(str(time) for time in near if time in track.key_set)
    return Row(
        gap.layer,
        "" if whole else gap.name,
        name,
        told_off(gap, layer),
        far,
        tuple(_offers(scene, layer, gap)),
        times,
    )


def _offers(scene: Scene, layer: Layer, gap: Gap) -> list[Offer]:
    if gap.name == SHOWS:
        start, end = scene.play_range or (0, scene.length)
        through = TrimSpan(scene=scene.id, layers=(layer.id,), start=min(layer.start, start),
                           end=max(scene.length if layer.end is None else layer.end, end))  # fmt: skip
        return [Offer("Show it throughout", as_told(through))]
    if gap.name not in layer.keyed or gap.name in layer.links:
        return []
    lanes = (Lane(layer=layer.id, property=gap.name),)

    def close(words: str, how: Any, title: str = "") -> Offer:
        return Offer(words, as_told(CloseSeam(scene=scene.id, lanes=lanes, how=how)), title)

    if gap.goes_on:
        if turns_to_close(gap.name, layer.tracks[gap.name]):
            return [close("Fit its cycle", "cycle", "Stretched until whole turns fill the loop")]
        return []
    if gap.doubled:
        start, end = scene.play_range or (0, scene.length)
        shorter = SetPlayRange(scene=scene.id, start=start, end=end - scene.rate.flicks)
        return [
            close("Last key to the end", "value", "It comes back a frame too early: the frame after shows the same"),
            Offer("End a frame earlier", as_told(shorter), "The last frame is left out of the loop"),
        ]
    if not gap.meets:
        return [close("First key to the end", "value", "A key at the end with what shows at the start"),
                close("Close", "auto", "In what shows and in speed")]  # fmt: skip
    return [close("Match the speed", "speed", "The end arrives as fast as the start leaves")]


def cycles_of(scene: Scene) -> list[Row]:
    """Lanes whose own turns do not meet, the worst first."""
    found = []
    for layer in scene.layers:
        if layer.hidden or layer.reference:
            continue
        for name in layer.keyed:
            gap = cycle_gap(layer, name, scene.rate.flicks)
            if gap is not None:
                found.append(gap)
    rows = []
    for gap in sorted(found, key=lambda gap: -gap.weight)[:MOST_ROWS]:
        lanes = (Lane(layer=gap.layer, property=gap.name),)
        offer = Offer("Close its turn", as_told(CloseSeam(scene=scene.id, lanes=lanes, own=True)))
        rows.append(replace(row_of(scene, gap), offers=(offer,)))
    return rows


def told_common(common: Common, scene: Scene, seam: Seam, unit: str) -> tuple[str, EditBase | None]:
    """After how long all cycles come round together, in words, and the edit that makes the loop so long."""
    rate = scene.rate
    if not common.cycles:
        return "", None
    if common.never:
        layer, name = common.never[0]
        return f"{PROPERTIES[name].label} of {scene.layer(layer).name} adds up and never comes back", None
    if common.length is None:
        return "all cycles come round together only after longer than a scene can be", None
    long = told_length(common.length, rate, unit)
    if (seam.end - seam.start) % common.length == 0:
        return f"all cycles come round together every {long}: the loop is that long, or a multiple", None
    return f"all cycles come round together every {long}", LoopLength(scene=scene.id)


def told_length(flicks: int, rate: FrameRate, unit: str) -> str:
    frames = round(flicks / rate.flicks)
    return f"{frames} frames" if unit == "frames" else f"{told_frame(frames, rate, unit)} ({frames} frames)"


@PANELS.add
class SeamPanel(Panel):
    """The sign at the end of what loops."""

    id: ClassVar[str] = "seam"

    def answer(self, showing: Showing) -> Part:
        if showing.look.fresh and len(showing.scene.layers) > AT_ONCE:
            # The picture first: the page asks again when it has that.
            return Part(head={"seam_due": True}, fragments={"seam-sign": ""})
        seam, axis = showing.seam(), showing.axis
        if seam.state == "still":
            return Part(fragments={"seam-sign": ""})
        x = min(max(axis.x(seam.end) + 11, 11), axis.width - 11)
        count = len(seam.gaps)
        told = SIGNS[seam.state] + (f": {count} lane{'s' if count > 1 else ''} to look at" if count else "")
        html = fragment("parts/seam_sign.svg", seam=seam, x=round(x, 1), width=axis.width, told=told, count=count)
        return Part(fragments={"seam-sign": html})


@DRAWERS.add
class SeamDrawer(Drawer):
    """The lanes that do not meet, the worst first, each with what would close it; the two pictures beside them."""

    id: ClassVar[str] = "seam"

    def title(self, showing: Showing) -> str:
        return f"The seam: {TITLES[showing.seam().state]}"

    def html(self, showing: Showing) -> str:
        scene, seam = showing.scene, showing.seam()
        rows = [row_of(scene, gap) for gap in seam.gaps[:MOST_ROWS]]
        words, fit = told_common(common_length(scene), scene, seam, showing.look.unit)
        return fragment(
            "parts/seam.html", seam=seam, rows=rows, more=max(0, len(seam.gaps) - MOST_ROWS), cycles=cycles_of(scene),
            length=told_length(seam.end - seam.start, scene.rate, showing.look.unit), common=words,
            fit=as_told(fit) if fit is not None else "",
            every=as_told(CloseSeam(scene=scene.id)) if sum(bool(row.offers) for row in rows) > 1 else "",
        )  # fmt: skip
