"""A lane's keys as one line: ``0f 100% slow ends 70 · 50f 60% · 100f 100%``. The grammar is in docs/format.md."""

from collections.abc import Iterator

from deftarc.core.base.time import FrameRate
from deftarc.core.curves.beyond import Beyond
from deftarc.core.curves.sides import Automatic, Side
from deftarc.core.document.eases import EASES, recognise, sides
from deftarc.core.document.keys import BlendKey, KeyBase, NumberKey, PathKey
from deftarc.core.document.properties import Property
from deftarc.core.document.track import AnyTrack, ColourTrack, NumberTrack, PathTrack
from deftarc.core.spaces.points import PathPoint
from deftarc.core.words.numbers import written, written_time

#: What stands between keys.
BETWEEN = " · "


def told_keys(track: AnyTrack, facts: Property, rate: FrameRate) -> str:
    """All keys of a lane in one line, from which ``read_keys`` makes the same ones; empty where there are none."""
    if not track.keys:
        return ""
    parts = list(_path_parts(track, rate)) if isinstance(track, PathTrack) else [
        f"{written_time(key.time, rate)} {_value(track, key, facts)}{_words(track, k, facts)}"
        for k, key in enumerate(track.keys)
    ]  # fmt: skip
    flags = _flags(track, facts, rate)
    return (f"{flags}: " if flags else "") + BETWEEN.join(parts)


def _goes_on(told: Beyond, facts: Property, rate: FrameRate) -> str:
    """What goes on beyond the keys: “repeat”, “alternate 3.5”, “repeat from 12f”, “rest at 40”."""
    words: list[str] = [told.how]
    if told.count is not None:
        words.append(written(told.count))
    if told.part is not None:
        words += ["from", written_time(told.part, rate)]
    if told.value:
        words += ["at", ",".join(written(each, facts.factor) for each in told.value)]
    return " ".join(words)


def _flags(track: AnyTrack, facts: Property, rate: FrameRate) -> str:
    flags = []
    if isinstance(track, NumberTrack) and track.evenly:
        flags.append("evenly")
    if track.within:
        flags.append("within")
    for side, told in (("before", track.before), ("after", track.after)):
        if told is not None:
            flags.append(f"{side} {_goes_on(told, facts, rate)}")
    if isinstance(track, PathTrack) and track.closed:
        flags.append("closed")
    if isinstance(track, PathTrack) and track.rounded is not None:
        flags.append(f"rounded {written(track.rounded, 100)}")
    return " ".join(flags)


def _value(track: AnyTrack, key: KeyBase, facts: Property) -> str:
    if isinstance(key, NumberKey):
        return written(key.value, facts.factor) + facts.unit
    assert isinstance(key, BlendKey)
    if isinstance(track, ColourTrack):
        return told_colour(key.value)
    return f"[{' '.join(written(each) for each in key.value)}]"


def told_colour(value: tuple[float, ...]) -> str:
    """A colour as #rrggbb or #rrggbbaa where that is exact, else by its four numbers from 0 to 1."""
    steps = [round(each * 255) for each in value]
    if all(0 <= n <= 255 and n / 255 == each for n, each in zip(steps, value, strict=True)):
        text = "#" + "".join(f"{n:02x}" for n in steps)
        return text[:7] if steps[3:] == [255] else text
    return f"[{' '.join(written(each) for each in value)}]"


def _words(track: AnyTrack, k: int, facts: Property) -> str:
    """How a key arrives and leaves, as far as the names of eases do not say it."""
    key = track.keys[k]
    named = _named(track, k)
    before = _named(track, k - 1) if k else None
    out = []
    if key.joint == "automatic":
        out.append(_automatic(key.automatic or Automatic(), key.automatic is not None))
    elif key.joint == "smooth":
        out.append("smooth")
    if named:
        out.append(named)
    if key.hold:
        out.append("hold")
    if key.steps is not None:
        jump = "" if key.steps.jump == "end" else f" {key.steps.jump}"
        out.append(f"steps {key.steps.count}{jump}")
    rise = facts.factor if isinstance(track, NumberTrack) and not track.evenly else 1.0
    if key.arriving is not None and before is None:
        out.append(f"arriving {_side(key.arriving, rise)}")
    if key.leaving is not None and named is None:
        out.append(f"leaving {_side(key.leaving, rise)}")
    return "".join(f" {word}" for word in out)


def _named(track: AnyTrack, k: int) -> str | None:
    """The ease of the way after a key by its name, where that says exactly what it is: '' is straight."""
    if k >= len(track.keys) - 1:
        return None
    left, right = track.keys[k], track.keys[k + 1]
    if left.leaving is None and right.arriving is None:
        return ""
    if left.stepped:
        return None
    measures = track.measures()
    change = float(measures[k + 1] - measures[k])
    found = recognise(left, right, change)
    if found is None or not EASES[found.ease].has_strength:
        return None
    strength = float(f"{found.strength:.6f}")
    if sides(EASES[found.ease], strength, change) != (left.leaving, right.arriving):
        return None
    return f"{ease_words(found.ease)}{'' if strength == 50 else f' {written(strength)}'}"


def ease_words(ease: str) -> str:
    """An ease's name as it is typed: *wind-up* keeps its dash."""
    return ease if ease == "wind-up" else ease.replace("-", " ")


def _side(side: Side, factor: float) -> str:
    return f"{written(side.reach, 100)}% {written(side.rise, factor)}"


def _automatic(how: Automatic, told: bool) -> str:
    words = ["automatic"] + [
        f"{name} {written(getattr(how, name), 100)}"
        for name in ("tension", "continuity", "bias") if getattr(how, name)
    ]  # fmt: skip
    if how.free:
        words.append("free")
    # One that is told, if only as it is anyway, stays told.
    return " ".join(words + (["plain"] if told and how == Automatic() else []))


def _path_parts(track: PathTrack, rate: FrameRate) -> Iterator[str]:
    """Points as the motion comes to them, those that float with a ~, and the keys that rest on them."""
    given = 0
    for k, key in enumerate(track.keys):
        words, time = _words(track, k, _PX), written_time(key.time, rate)
        if not key.rests:
            yield f"{time} {_pace(key)}{words}"
            continue
        place = int(key.at)
        for point in track.points[given:place]:
            yield f"~ {_point(point)}"
        spot = _point(track.points[place]) if place >= given else "="
        given = max(given, place + 1)
        yield f"{time} {spot}{words}"
    for point in track.points[given:]:
        yield f"~ {_point(point)}"


_PX = Property("", "", "px", (0.0,))


def _pace(key: PathKey) -> str:
    past = "" if not key.past else f"{'+' if key.past > 0 else ''}{written(key.past)}"
    return f"@{written(key.at)}{past}"


def _point(point: PathPoint) -> str:
    told = f"{written(point.x)},{written(point.y)}"
    if point.joint == "straight":
        return told if point.roundness == 0.5 else f"{told}(straight {written(point.roundness, 100)})"
    if point.joint == "automatic":
        return f"{told}(round {written(point.roundness, 100)})"
    arms = " ".join(
        "-" if arm is None else f"{written(arm[0])},{written(arm[1])}" for arm in (point.arriving, point.leaving)
    )
    more = "" if point.roundness == 0.5 else f" {written(point.roundness, 100)}"
    return f"{told}({point.joint} {arms}{more})"


def _arm(arm: tuple[float, float] | None) -> str:
    return "-" if arm is None else f"{written(arm[0])},{written(arm[1])}"
