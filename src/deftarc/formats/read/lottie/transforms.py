"""What moves a layer or a group of a Lottie file, as tracks."""

from dataclasses import dataclass, field
from typing import Any

from deftarc.core.document.track import AnyTrack, NumberTrack
from deftarc.formats.read.lottie.keys import Clocked, mapped, number_of
from deftarc.formats.read.lottie.source import Notes, Told


@dataclass
class Moved:
    """Tracks of a layer, and the fields that say how they are meant."""

    tracks: dict[str, AnyTrack] = field(default_factory=dict)
    fields: dict[str, Any] = field(default_factory=dict)

    @property
    def idle(self) -> bool:
        return not self.tracks

    @property
    def dims(self) -> bool:
        return "opacity" in self.tracks


def moved(told: Any, clocked: Clocked, notes: Notes, shift: tuple[float, float] = (0.0, 0.0)) -> Moved:
    """A transform; ``shift`` is where the origin of what it moves lies in its own px there."""
    ks: Told = told if isinstance(told, dict) else {}
    out = Moved()
    for part, axis in enumerate("xy"):
        pivot = clocked.number(ks.get("a"), part)
        if shift[part]:
            pivot = mapped(pivot, lambda value, by=shift[part]: value - by)  # type: ignore[misc]
        _put(out, f"pivot_{axis}", pivot, 0.0)
    _position(ks.get("p"), out, clocked)
    _scale(ks.get("s"), out, clocked)
    _put(out, "rotation", clocked.number(ks.get("r", ks.get("rz"))), 0.0)
    if any(number_of(clocked.still(ks.get(name))) or clocked.keys(ks.get(name)) for name in ("rx", "ry")):
        notes.add("Turns in depth are not shown")
    slant = mapped(clocked.number(ks.get("sk"), low=-89.0, high=89.0), lambda value: -value)
    if slant.keys or slant.value:
        along = number_of(clocked.still(ks.get("sa"))) % 180
        if along == 0:
            _put(out, "skew_x", slant, 0.0)
        elif along == 90:
            _put(out, "skew_y", mapped(slant, lambda value: -value), 0.0)
        else:
            notes.add("Slants along an axis of their own go along x")
            _put(out, "skew_x", slant, 0.0)
    _put(out, "opacity", clocked.number(ks.get("o"), 0, 0.01, 100.0, low=0.0, high=1.0), 1.0)
    return out


def _put(out: Moved, name: str, track: NumberTrack, rest: float) -> None:
    if track.keys or track.value != rest:
        out.tracks[name] = track


def _position(told: Any, out: Moved, clocked: Clocked) -> None:
    way = clocked.way(told)
    if way is not None:
        if way.keys or way.value != (0.0, 0.0):
            out.tracks["position"] = way
        return
    split = isinstance(told, dict) and told.get("s") is True
    tracks = [clocked.number(told.get(axis)) if split else clocked.number(told, part) for part, axis in enumerate("xy")]
    out.fields["axes_split"] = True
    out.tracks |= {"position_x": tracks[0], "position_y": tracks[1]}


def _scale(told: Any, out: Moved, clocked: Clocked) -> None:
    x, y = (clocked.number(told, part, 0.01, 100.0) for part in (0, 1))
    alike = all(len(set(key.eases)) == 1 for key in clocked.keys(told))
    pairs = [(a.value, b.value) for a, b in zip(x.keys, y.keys, strict=True)] or [(x.value, y.value)]
    first = next(((a, b) for a, b in pairs if a), None)
    ratio = first[1] / first[0] if first else None
    even = ratio is not None and abs(ratio) < 1e6 and all(abs(b - a * ratio) < 1e-9 * max(1, abs(b)) for a, b in pairs)
    if alike and even and ratio is not None:
        if ratio != 1:
            out.fields["scale_ratio"] = ratio
        _put(out, "scale", x, 1.0)
        return
    out.fields["scale_link"] = "free"
    out.tracks |= {"scale_x": x, "scale_y": y}


__all__ = ["Moved", "moved"]
