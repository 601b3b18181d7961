"""Properties of a Lottie file as tracks: values, or keys with the handles they are left and come to by."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

from deftarc.core.base import limits
from deftarc.core.curves.sides import Side
from deftarc.core.document.keys import BlendKey, NumberKey, PathKey
from deftarc.core.document.track import ColourTrack, NumberTrack, PathTrack
from deftarc.core.spaces.points import PathPoint
from deftarc.formats.read.lottie.source import Notes, Told

#: x and y of a handle.
Handle = tuple[float, float]
EVEN: tuple[Handle, Handle] = ((0.0, 0.0), (1.0, 1.0))


@dataclass(frozen=True)
class Key:
    """A moment in flicks, what is there (numbers, or an outline), whether it holds, and for each number how it is left
    and how the next key is come to; ``out`` and ``into`` are where a path leads from it and into the next one.
    """

    time: int
    value: Any
    hold: bool = False
    eases: tuple[tuple[Handle, Handle], ...] = (EVEN,)
    out: tuple[float, float] | None = None
    into: tuple[float, float] | None = None

    def ease(self, part: int) -> tuple[Handle, Handle]:
        return self.eases[min(part, len(self.eases) - 1)]


def number_of(told: Any, default: float = 0.0) -> float:
    """A number, however it is wrapped; the default where it is none, or one that cannot be used."""
    if isinstance(told, list):
        told = told[0] if told else default
    if isinstance(told, bool) or not isinstance(told, int | float) or abs(told) > limits.MAX_NUMBER:
        return default
    return float(told)


def row_of(told: Any, size: int, default: float = 0.0) -> tuple[float, ...]:
    rows = told if isinstance(told, list) else [told] * size
    out = [number_of(each, default) for each in rows[:size]]
    return tuple(out + [default] * (size - len(out)))


class Clocked:
    """Reads properties whose time is counted in frames from some first one."""

    def __init__(self, flicks: int, first: float, notes: Notes) -> None:
        self.flicks, self.first, self.notes = flicks, first, notes

    def time(self, frame: Any) -> int:
        return round((number_of(frame) - self.first) * self.flicks)

    def keys(self, told: Any) -> list[Key]:
        """The keys of a property; none where it stays."""
        if not isinstance(told, dict):
            return []
        if isinstance(told.get("x"), str):
            self.notes.add("Formulas are not worked out: their properties have the values and keys that are there")
        rows = told.get("k")
        if not isinstance(rows, list) or not rows or not isinstance(rows[0], dict) or "t" not in rows[0]:
            return []
        out: list[Key] = []
        before: Any = None
        for each in rows:
            if not isinstance(each, dict):
                continue
            value = each.get("s", before)
            before = each.get("e")
            if value is None:
                continue
            key = Key(
                self.time(each.get("t", 0)), value, bool(each.get("h")), tuple(_eases(each)),
                _pair(each.get("to")), _pair(each.get("ti")),
            )  # fmt: skip
            if out and key.time <= out[-1].time:
                # Of keys at one moment the last one counts from there on.
                out.pop()
            out.append(key)
        return out[: limits.MAX_KEYS_PER_LANE]

    @staticmethod
    def still(told: Any) -> Any:
        """The value of a property that stays."""
        return told.get("k") if isinstance(told, dict) else told

    # --- tracks ---

    def number(self, told: Any, part: int = 0, factor: float = 1.0, default: float = 0.0, low: float | None = None,
               high: float | None = None) -> NumberTrack:  # fmt: skip
        """A number's track: one of the parts of a property, times a factor."""

        def value(raw: Any) -> float:
            found = row_of(raw, part + 1, default)[part] if isinstance(raw, list) else number_of(raw, default)
            shown = found * factor
            return min(max(shown, low if low is not None else shown), high if high is not None else shown)

        keys = self.keys(told)
        if not keys:
            still = self.still(told)
            return NumberTrack(value=value(still if still is not None else default))
        values = [value(key.value) for key in keys]
        made = [
            NumberKey(time=key.time, value=values[k], **sides)
            for k, (key, sides) in enumerate(sided(keys, values, part))
        ]
        return NumberTrack(value=values[0], keys=tuple(made))

    def colour(self, told: Any, alpha: float = 1.0) -> ColourTrack:
        def value(raw: Any) -> tuple[float, ...]:
            red, green, blue = (min(max(n, 0.0), 1.0) for n in row_of(raw, 3))
            return red, green, blue, alpha

        keys = self.keys(told)
        if not keys:
            return ColourTrack(value=value(self.still(told)))
        rows = list(sided(keys, [float(k) for k in range(len(keys))]))
        made = [BlendKey(time=key.time, value=value(key.value), **sides) for key, sides in rows]
        return ColourTrack(value=value(keys[0].value), keys=tuple(made))

    def way(self, told: Any) -> PathTrack | None:
        """A position on a path; None where its two numbers go each in its own way."""
        if isinstance(told, dict) and told.get("s") is True:
            return None
        keys = self.keys(told)
        if not keys:
            x, y = row_of(self.still(told), 2)
            return PathTrack(value=(x, y))
        if any(len(set(key.eases)) > 1 for key in keys):
            return None
        points = []
        for k, key in enumerate(keys):
            x, y = row_of(key.value, 2)
            arriving = keys[k - 1].into if k and not keys[k - 1].hold else None
            leaving = key.out if k + 1 < len(keys) and not key.hold else None
            points.append(PathPoint(x=x, y=y, joint="corner", arriving=_bent(arriving), leaving=_bent(leaving)))
        bare = PathTrack(value=points[0].spot, points=tuple(points), keys=tuple(
            PathKey(time=key.time, at=float(k)) for k, key in enumerate(keys)
        ))  # fmt: skip
        rows = list(sided(keys, [float(each) for each in bare.measures()]))
        made = [PathKey(time=key.time, at=float(k), **sides) for k, (key, sides) in enumerate(rows)]
        return bare.changed(keys=tuple(made))


def sided(keys: list[Key], measures: list[float], part: int = 0) -> Iterator[tuple[Key, dict[str, Any]]]:
    """Keys, each with its sides, for what is measured at them."""
    sides: list[dict[str, Any]] = [{} for _ in keys]
    for k, (key, _) in enumerate(pairwise(keys)):
        if key.hold:
            sides[k]["hold"] = True
            continue
        (x1, y1), (x2, y2) = key.ease(part)
        change = measures[k + 1] - measures[k]
        if abs(x1 - y1) > 1e-9:
            sides[k]["leaving"] = Side(reach=x1, rise=y1 * change)
        if abs(x2 - y2) > 1e-9:
            sides[k + 1]["arriving"] = Side(reach=1 - x2, rise=(1 - y2) * change)
    yield from zip(keys, sides, strict=True)


def _eases(told: Told) -> Iterator[tuple[Handle, Handle]]:
    """How each number of a key is left and its next one come to."""
    out, into = told.get("o"), told.get("i")
    if not isinstance(out, dict) or not isinstance(into, dict):
        yield EVEN
        return
    told_of = [each.get(axis) for each in (out, into) for axis in "xy"]
    many = max(len(each) if isinstance(each, list) else 1 for each in told_of)
    for part in range(max(1, min(many, 3))):
        x1, y1, x2, y2 = (
            _part(each.get(axis), part, edge) for each, edge in ((out, 0.0), (into, 1.0)) for axis in "xy"
        )
        yield (min(max(x1, 0.0), 1.0), y1), (min(max(x2, 0.0), 1.0), y2)


def _part(told: Any, part: int, default: float) -> float:
    if isinstance(told, list):
        told = told[min(part, len(told) - 1)] if told else default
    return number_of(told, default)


def _pair(told: Any) -> tuple[float, float] | None:
    if not isinstance(told, list) or len(told) < 2:
        return None
    return number_of(told[0]), number_of(told[1])


def _bent(arm: tuple[float, float] | None) -> tuple[float, float] | None:
    return arm if arm is not None and (arm[0] or arm[1]) else None


def mapped(track: NumberTrack, change: Callable[[float], float]) -> NumberTrack:
    """A number's track with its values through something linear."""
    zero = change(0.0)

    def side(told: Side | None) -> Side | None:
        return None if told is None else Side(reach=told.reach, rise=change(told.rise) - zero)

    keys = tuple(
        key.changed(value=change(key.value), arriving=side(key.arriving), leaving=side(key.leaving))
        for key in track.keys
    )  # fmt: skip
    return track.changed(value=change(track.value), keys=keys)


def list_of(told: Any) -> list[Any]:
    """A list; an empty one where it is none."""
    return told if isinstance(told, list) else []


def text_of(told: Any, most: int) -> str:
    """A text without what cannot be printed; an empty one where it is none."""
    shown = "".join(each for each in told if each.isprintable()) if isinstance(told, str) else ""
    return shown.strip()[:most].strip()


__all__ = ["Clocked", "Key", "list_of", "mapped", "number_of", "row_of", "sided", "text_of"]
