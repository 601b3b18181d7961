"""The bead: a key drawn in two halves, the left for arriving, the right for leaving.

Filled is a curve, empty is straight, missing is a hold (or steps) or no segment on that side.
"""

from collections.abc import Container, Sequence
from dataclasses import dataclass
from functools import lru_cache
from operator import attrgetter
from typing import Any, Protocol

from markupsafe import Markup, escape

from deftarc.core.document.keys import PathKey
from deftarc.core.document.track import AnyTrack
from deftarc.web.context import templates

#: More keys than this are drawn bare while a hand drags: what only a pointer over them asks for comes when it lets go.
MOST_WHOLE = 24
#: The pen beads are drawn with, in px, as the style sheet has it.
PEN = 1.6
#: The pen of bare ones: a line of one px is painted ten times as fast as a wider one. They grow by what it lacks.
BARE_PEN = 1.0
GROWN = (PEN - BARE_PEN) / 2
#: So many bare beads that lie side by side are one path.
TOGETHER = 8
#: The radius of a bead for automatic joints and pace keys, as a share of the whole one's.
MARK = 0.36
#: The same of a key that is alone.
LONE = 0.4


@dataclass(frozen=True)
class Bead:
    """``left`` and ``right`` are curve, straight or none."""

    x: float
    y: float
    time: int
    left: str
    right: str
    title: str = ""
    #: "auto" for an automatic joint, "pace" for a key between the points of a path.
    mark: str = ""


def drawn(b: Bead, layer: str, property: str, r: float = 6) -> Markup:
    """A bead as SVG, at its own place: a transform of its own would make each one a thing apart for the browser to
    paint.
    """
    x, y, top, foot = b.x, b.y, f"{b.y - r:.2f}", f"{b.y + r:.2f}"
    mark = f" {b.mark}" if b.mark else ""
    parts = [f'<g class="bead{mark}" tabindex="-1" data-layer="{layer}" data-property="{property}" ']
    parts.append(f'data-time="{b.time}"><title>{escape(b.title)}</title><circle class="hit" cx="{x}" cy="{y}" r="10"/>')
    parts.append(f'<path class="spine" d="M{x} {top}V{foot}"/>')
    if b.left == b.right == "none":
        parts.append(f'<circle class="half lone" cx="{x}" cy="{y}" r="{r * LONE:.2f}"/>')
    elif b.left == b.right == "curve":
        parts.append(f'<circle class="half curve" cx="{x}" cy="{y}" r="{r}"/>')
    else:
        if b.left != "none":
            parts.append(f'<path class="half {b.left}" d="M{x} {top}A{r} {r} 0 0 0 {x} {foot}Z"/>')
        if b.right != "none":
            parts.append(f'<path class="half {b.right}" d="M{x} {top}A{r} {r} 0 0 1 {x} {foot}Z"/>')
    if b.mark:
        parts.append(f'<circle class="mark-{b.mark}" cx="{x}" cy="{y}" r="{r * MARK}"/>')
    return Markup("".join(parts) + "</g>")


class Half(Protocol):
    """What beads of lanes, of the value curve and of the speed curve have in common."""

    @property
    def x(self) -> float: ...
    @property
    def y(self) -> float: ...
    @property
    def time(self) -> int: ...
    @property
    def left(self) -> str: ...
    @property
    def right(self) -> str: ...
    @property
    def mark(self) -> str: ...


def bare(beads: Sequence[Half], chosen: Container[int], r: float, kind: str = "bead") -> Markup:
    """Many beads while a hand drags: one path for those that lie together and look alike, and nothing to point at. A
    drag may draw hundreds at each move, and each element of its own costs the browser more than its shape does; but
    one path for all of them would be painted whole wherever a part of it is.
    """
    together = (beads[n : n + TOGETHER] for n in range(0, len(beads), TOGETHER))
    # Each on a line of its own: those that stay are not told again.
    return Markup("\n".join(_bare(tuple((*_LOOKS(b), b.time in chosen) for b in some), r, kind) for some in together))


_LOOKS = attrgetter("x", "y", "left", "right", "mark")


# From move to move most of them stay where they are.
@lru_cache(maxsize=512)
def _bare(beads: tuple[tuple[Any, ...], ...], r: float, kind: str) -> str:
    """Beads that lie together: x, y, left, right, mark of each, and whether it is selected."""
    ways: dict[tuple[bool, str], list[str]] = {}
    for x, y, left, right, mark, selected in beads:
        if left == right == "curve":
            # A dot of a wide round pen: what is one colour is painted once.
            ways.setdefault((selected, "disc"), []).append(f"M{x} {y}h0")
        elif left == right == "none":
            ways.setdefault((selected, "half lone"), []).append(_disc(x, y, LONE * r + GROWN))
        else:
            size = round(r + GROWN, 2)
            for side, sweep in ((left, 0), (right, 1)):
                if side != "none":
                    way = f"M{x} {y - size:.2f}a{size} {size} 0 0 {sweep} 0 {2 * size}Z"
                    ways.setdefault((selected, f"half {side}"), []).append(way)
        if mark:
            ways.setdefault((selected, f"mark-{mark}"), []).append(_disc(x, y, r * MARK))
    out = []
    wide = f' stroke-width="{2 * r + PEN}"'
    for selected in (False, True):
        # Marks lie on their beads: "disc" and "half …" come before "mark-…".
        paths = [
            f'<path class="{name}" d="{"".join(d)}"{wide if name == "disc" else ""}/>'
            for (on, name), d in sorted(ways.items())
            if on == selected
        ]
        if paths:
            out.append(f'<g class="{kind} bare{" selected" if selected else ""}">{"".join(paths)}</g>')
    return "\n".join(out)


def _disc(x: float, y: float, r: float) -> str:
    return f"M{x - r:.2f} {y}a{r} {r} 0 1 1 {2 * r} 0a{r} {r} 0 1 1 {-2 * r} 0Z"


def mark_of(track: AnyTrack, index: int) -> str:
    key = track.keys[index]
    if key.joint == "automatic":
        return "auto"
    return "pace" if isinstance(key, PathKey) and not key.rests else ""


def sides_of(track: AnyTrack, index: int) -> tuple[str, str]:
    """How a key's two halves are drawn."""
    key = track.keys[index]
    before = track.keys[index - 1] if index else None
    automatic = key.joint == "automatic"
    last = index == len(track.keys) - 1
    arrives = "curve" if automatic or key.arriving is not None else "straight"
    leaves = "curve" if automatic or key.leaving is not None else "straight"
    left = "none" if before is None or before.stepped else arrives
    right = "none" if last or key.stepped else leaves
    return left, right


templates.env.globals.update(bead=drawn, bare=bare)
