"""The bead: a key drawn in two halves, the left for arriving, the right for leaving.

Filled is a curve, empty is straight, missing is a hold (or steps) or no segment on that side.
"""

from dataclasses import dataclass

from markupsafe import Markup, escape

from deftarc.core.track import AnyTrack, PathKey

#: More keys than this are drawn bare while a hand drags: what only a pointer over them asks for comes when it lets go.
MOST_WHOLE = 24


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


def drawn(b: Bead, layer: str, property: str, r: float = 6, light: bool = False) -> Markup:
    """A bead as SVG, at its own place: a transform of its own would make each one a thing apart for the browser to
    paint. Written here and not in a template, because a drag may draw hundreds of them at each move; then they are
    ``light``, without what only a pointer asks for.
    """
    x, y, top, foot = b.x, b.y, f"{b.y - r:.2f}", f"{b.y + r:.2f}"
    mark = f" {b.mark}" if b.mark else ""
    parts = [f'<g class="bead{mark}" tabindex="-1" data-layer="{layer}" data-property="{property}" ']
    parts.append(f'data-time="{b.time}">')
    if not light:
        parts.append(f'<title>{escape(b.title)}</title><circle class="hit" cx="{x}" cy="{y}" r="10"/>')
        parts.append(f'<path class="spine" d="M{x} {top}V{foot}"/>')
    if b.left == b.right == "none":
        parts.append(f'<circle class="half lone" cx="{x}" cy="{y}" r="2.5"/>')
    elif b.left == b.right == "curve":
        parts.append(f'<circle class="half curve" cx="{x}" cy="{y}" r="{r}"/>')
    else:
        if b.left != "none":
            parts.append(f'<path class="half {b.left}" d="M{x} {top}A{r} {r} 0 0 0 {x} {foot}Z"/>')
        if b.right != "none":
            parts.append(f'<path class="half {b.right}" d="M{x} {top}A{r} {r} 0 0 1 {x} {foot}Z"/>')
    if b.mark:
        parts.append(f'<circle class="mark-{b.mark}" cx="{x}" cy="{y}" r="{r * 0.36}"/>')
    return Markup("".join(parts) + "</g>")


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
