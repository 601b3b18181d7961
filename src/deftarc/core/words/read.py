"""A line of keys read: each word is taken where it stands, and one that is none is told by its place."""

import re
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Any, get_args

from pydantic import ValidationError

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import FLICKS, FrameRate, parse_moment
from deftarc.core.curves.beyond import Beyond, How
from deftarc.core.curves.sides import Automatic, Side, Steps
from deftarc.core.document.eases import EASES, sides
from deftarc.core.document.keys import BlendKey, KeyBase, NumberKey, PathKey
from deftarc.core.document.properties import Property
from deftarc.core.document.track import AnyTrack, BlendTrack, ColourTrack, NumberTrack, PathTrack
from deftarc.core.spaces.points import PathPoint
from deftarc.core.words.numbers import number_of
from deftarc.core.words.write import ease_words

#: Words of a lane as a whole stand among the first so many.
MOST_FLAGS = 24
#: A line is no longer than this.
MOST_LETTERS = 2_000_000
_NUMBER = r"[-−+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?"
_WORD = re.compile(r"\([^()]*\)|\[[^\[\]]*\]|[^\s·;()\[\]]+|[·;]")
_TIMES = re.compile(r"^[-−+]?(?:\d+(?:\.\d+)?(?:f|s)?|[\d:;]+)$")
_EASES = {ease_words(name): ease for name, ease in EASES.items() if not ease.stepped}
_UNITS = {"°": ("°", "deg"), "%": ("%",), "px": ("px",), "": ()}


class Misread(Refusal):
    """A line of keys that could not be read: what is wrong, and from which to which letter."""

    def __init__(self, sentence: str, start: int, end: int) -> None:
        super().__init__(sentence)
        self.start, self.end = start, end


@dataclass
class Word:
    text: str
    start: int

    @property
    def end(self) -> int:
        return self.start + len(self.text)

    def wrong(self, sentence: str) -> Misread:
        return Misread(sentence, self.start, self.end)


@dataclass
class Told:
    """What is told of one key: fields of it, the ease of the way after it, and where it stands."""

    word: Word
    fields: dict[str, Any] = field(default_factory=dict)
    ease: tuple[str, float, Word] | None = None


def read_keys(text: str, track: AnyTrack, facts: Property, rate: FrameRate) -> AnyTrack:
    """A track as ``track`` is, with the keys that a line tells. Misread, and nothing else, where it cannot be read."""
    if len(text) > MOST_LETTERS:
        raise Misread(f"A line of keys has at most {MOST_LETTERS:,} letters.", 0, len(text))
    reading = _Reading(text, track, facts, rate)
    told, flags, points = reading.all()
    fields: dict[str, Any] = {"value": track.value, "within": "within" in flags}
    fields |= {side: flags[side] for side in ("before", "after") if side in flags}
    if isinstance(track, NumberTrack):
        fields["evenly"] = "evenly" in flags
    if isinstance(track, PathTrack):
        fields |= {"points": tuple(points), "closed": "closed" in flags, "rounded": flags.get("rounded")}
    kind = PathKey if isinstance(track, PathTrack) else BlendKey if isinstance(track, BlendTrack) else NumberKey
    end = len(text)
    try:
        keys = [kind(**each.fields) for each in told]
        made = type(track)(keys=tuple(keys), **fields)
        shaped = _eased(made, told)
        return made if shaped is None else type(track)(keys=tuple(shaped), **fields)
    except ValidationError as error:
        said = str(error.errors(include_url=False, include_context=False)[0]["msg"])
        raise Misread(said.removeprefix("Value error, "), 0, end) from None


def _eased(track: AnyTrack, told: list[Told]) -> list[KeyBase] | None:
    """The keys with the sides that the names of eases mean; None where none is named."""
    if not any(each.ease for each in told):
        return None
    keys: list[KeyBase] = list(track.keys)
    measures = track.measures()
    for k, each in enumerate(told):
        if each.ease is None:
            continue
        name, strength, word = each.ease
        if k + 1 == len(told):
            raise word.wrong(f"After the last key there is no way to go “{ease_words(name)}”.")
        leaving, arriving = sides(EASES[name], strength, float(measures[k + 1] - measures[k]))
        keys[k] = keys[k].changed(leaving=leaving)
        keys[k + 1] = keys[k + 1].changed(arriving=arriving)
    return keys


class _Reading:
    def __init__(self, text: str, track: AnyTrack, facts: Property, rate: FrameRate) -> None:
        self.text, self.track, self.facts, self.rate = text, track, facts, rate
        self.words = [Word(found.group(), found.start()) for found in _WORD.finditer(text)]
        self.at = 0
        covered = sum(len(word.text) for word in self.words)
        if covered != len(re.sub(r"\s", "", text)) + sum(len(re.findall(r"\s", w.text)) for w in self.words):
            stray = next(i for i, c in enumerate(text) if c in "()[]" and not self._covered(i))
            raise Misread("A bracket here has no other half.", stray, stray + 1)

    def _covered(self, place: int) -> bool:
        return any(word.start <= place < word.end for word in self.words)

    def all(self) -> tuple[list[Told], dict[str, Any], list[PathPoint]]:
        flags = self._flags()
        told: list[Told] = []
        points: list[PathPoint] = []
        while self.at < len(self.words):
            if self._peek() in ("·", ";"):
                self.at += 1
                continue
            if isinstance(self.track, PathTrack) and self._peek() == "~":
                self.at += 1
                points.append(self._point())
                continue
            told.append(self._key(told, points))
            if len(told) > limits.MAX_KEYS_PER_LANE:
                raise told[-1].word.wrong(f"A lane has at most {limits.MAX_KEYS_PER_LANE:,} keys.")
        if not told:
            raise Misread("Type a key: its time and its value, as 12f 40%.", 0, len(self.text))
        return told, flags, points

    def _flags(self) -> dict[str, Any]:
        """What is told of the lane before a colon."""
        flags: dict[str, Any] = {}
        ends = next((n for n, word in enumerate(self.words[:MOST_FLAGS]) if word.text.endswith(":")), None)
        if ends is None:
            return flags
        last = self.words[ends]
        self.words[ends] = Word(last.text[:-1], last.start)
        while self.at <= ends:
            word = self._next()
            if word.text == "rounded" and isinstance(self.track, PathTrack) and self.at <= ends:
                flags["rounded"] = self._number(self._next(), 100)
            elif word.text in ("before", "after") and self.at <= ends:
                flags[word.text] = self._goes_on(ends)
            elif word.text in self._own_flags():
                flags[word.text] = True
            elif word.text:
                raise word.wrong(f"“{word.text[:20]}” is not known of this lane: {', '.join(self._own_flags())}.")
        return flags

    def _goes_on(self, ends: int) -> Beyond:
        """What is told to go on before or after the keys."""
        word = self._next()
        fields: dict[str, Any] = {"how": word.text}
        if self.at <= ends and re.fullmatch(_NUMBER, self._peek()):
            fields["count"] = self._number(self._next())
        if self.at <= ends and self._peek() == "from":
            self.at += 1
            fields["part"] = self._time(self._next("A time"))
        if self.at <= ends and self._peek() == "at":
            self.at += 1
            value = self._next("A value")
            parts = [Word(each, value.start) for each in value.text.split(",")]
            fields["value"] = tuple(self._number(each, self.facts.factor) for each in parts)
        try:
            return Beyond(**fields)
        except ValidationError:
            raise word.wrong(f"“{word.text[:20]}” is no way to go on: {', '.join(get_args(How))}.") from None

    def _own_flags(self) -> tuple[str, ...]:
        if isinstance(self.track, NumberTrack):
            return ("evenly", "within")
        return ("within", "closed", "rounded") if isinstance(self.track, PathTrack) else ("within",)

    def _peek(self) -> str:
        return self.words[self.at].text if self.at < len(self.words) else ""

    def _next(self, wanted: str = "") -> Word:
        if self.at >= len(self.words) or (wanted and self._peek() in ("·", ";")):
            last = self.words[max(0, self.at - 1)]
            raise Misread(f"{wanted} is missing here.", last.start, last.end)
        self.at += 1
        return self.words[self.at - 1]

    def _number(self, word: Word, factor: float = 1.0) -> float:
        try:
            value = number_of(word.text.removesuffix("%"), factor)
        except ValueError:
            raise word.wrong(f"“{word.text[:20]}” is no number.") from None
        if not abs(value) <= limits.MAX_NUMBER:
            raise word.wrong(f"“{word.text[:20]}” is too large.")
        return value

    def _key(self, told: list[Told], points: list[PathPoint]) -> Told:
        word = self._next()
        time = self._time(word)
        if told and time <= told[-1].fields["time"]:
            raise word.wrong(f"Keys stand at rising times: {word.text} comes after {told[-1].word.text}.")
        key = Told(word, {"time": time})
        if isinstance(self.track, PathTrack):
            key.fields |= self._place(points)
        else:
            key.fields["value"] = self._value()
        while self.at < len(self.words) and self._peek() not in ("·", ";"):
            self._shape(key)
        return key

    def _time(self, word: Word) -> int:
        told = word.text.replace("−", "-")
        try:
            if not _TIMES.match(told):
                raise ValueError
            if told.endswith("f") or re.fullmatch(r"[-+]?\d+\.\d+", told):
                frames = told.removesuffix("f")
                time = round(Decimal(frames) * self.rate.flicks)
            elif told.endswith("s"):
                time = round(Decimal(told[:-1]) * FLICKS)
            else:
                time = parse_moment(told, self.rate) * self.rate.flicks
        except Refusal as refusal:
            raise word.wrong(str(refusal)) from None
        except ValueError:
            raise word.wrong(f"“{word.text[:20]}” is no time. Type 12f, 2.5s or 0:02:00.") from None
        if abs(time) > limits.FURTHEST:
            raise word.wrong(f"A key lies at most {limits.MAX_TIME_SECONDS // 3600} hours from the scene's start.")
        return time

    def _value(self) -> Any:
        word = self._next("A value")
        if isinstance(self.track, BlendTrack):
            return self._many(word)
        unit = self.facts.unit
        text = word.text
        for each in _UNITS.get(unit, (unit,)):
            text = text.removesuffix(each)
        if not re.fullmatch(_NUMBER, text):
            of_other = re.fullmatch(_NUMBER + r"[^\d.]+", word.text)
            what = f"{self.facts.label} is in {unit or 'plain numbers'}." if of_other else "It is no value."
            raise word.wrong(f"“{word.text[:20]}”: {what}")
        value = self._number(Word(text, word.start), self.facts.factor)
        held = self.facts.held(value)
        if held != value:
            raise word.wrong(f"{self.facts.label} ends at {held * self.facts.factor:g} {unit}.")
        # A unit may stand by itself: 40 %.
        if self._peek() in _UNITS.get(unit, (unit,)):
            self.at += 1
        return value

    def _many(self, word: Word) -> tuple[float, ...]:
        if isinstance(self.track, ColourTrack) and re.fullmatch("#[0-9a-fA-F]{6}([0-9a-fA-F]{2})?", word.text):
            digits = word.text[1:] if len(word.text) == 9 else word.text[1:] + "ff"
            return tuple(int(digits[n : n + 2], 16) / 255 for n in (0, 2, 4, 6))
        if not word.text.startswith("["):
            raise word.wrong(f"“{word.text[:20]}”: type a colour as #c04a2b." if isinstance(self.track, ColourTrack)
                             else f"“{word.text[:20]}”: an outline's numbers stand in [ ].")  # fmt: skip
        return tuple(self._number(Word(text, word.start)) for text in word.text[1:-1].split())

    def _place(self, points: list[PathPoint]) -> dict[str, Any]:
        """Where a key of a position is: on a point told here, on the one before, or somewhere along the path."""
        text = self._peek()
        if text.startswith("@"):
            word = self._next()
            found = re.fullmatch(rf"@(\d+(?:\.\d+)?)({_NUMBER})?", word.text)
            if not found:
                raise word.wrong(f"“{word.text[:20]}” is no place on the path. Type @1.5 for halfway after point 1.")
            past = self._number(Word(found[2], word.start)) if found[2] else 0.0
            return {"at": self._number(Word(found[1], word.start)), "past": past, "pace": True}
        if text == "=":
            word = self._next()
            if not points:
                raise word.wrong("There is no point before to rest on.")
            return {"at": float(len(points) - 1)}
        points.append(self._point())
        return {"at": float(len(points) - 1)}

    def _point(self) -> PathPoint:
        word = self._next("A place")
        x, y = self._pair(word)
        if not self._peek().startswith("("):
            return PathPoint(x=x, y=y)
        how = self._next()
        parts = how.text[1:-1].split()
        joint = {"round": "automatic"}.get(parts[0] if parts else "", parts[0] if parts else "")
        try:
            if joint in ("automatic", "straight") and len(parts) == 2:
                return PathPoint(x=x, y=y, joint=joint, roundness=number_of(parts[1], 100))
            if joint in ("corner", "smooth") and 3 <= len(parts) <= 4:
                arms = [None if told == "-" else self._pair(Word(told, how.start)) for told in parts[1:3]]
                more = {"roundness": number_of(parts[3], 100)} if len(parts) > 3 else {}
                return PathPoint(x=x, y=y, joint=joint, arriving=arms[0], leaving=arms[1], **more)
        except (ValueError, ValidationError) as error:
            if isinstance(error, Misread):
                raise
        raise how.wrong(
            "How the path goes through a point is told as (round 50), (corner - 40,0) or (smooth -9,0 9,0)."
        )

    def _pair(self, word: Word) -> tuple[float, float]:
        parts = word.text.removesuffix("px").split(",")
        if len(parts) != 2:
            raise word.wrong(f"“{word.text[:20]}” is no place. Type x and y as 120,300.")
        x, y = (self._number(Word(part, word.start)) for part in parts)
        return x, y

    def _shape(self, key: Told) -> None:
        """One thing that is told of how a key arrives, leaves or is joined."""
        word = self._next()
        name = word.text.lower()
        two = f"{name} {self._peek().lower()}"
        if two in _EASES:
            self.at += 1
            name = two
        if name in _EASES:
            key.ease = (_EASES[name].id, self._strength(), word)
        elif name == "hold":
            key.fields["hold"] = True
        elif name == "steps":
            key.fields["steps"] = self._steps(word)
        elif name in ("arriving", "leaving"):
            key.fields[name] = self._side(word)
        elif name in ("smooth", "corner"):
            key.fields["joint"] = name
        elif name == "automatic":
            key.fields["joint"] = "automatic"
            key.fields["automatic"] = self._automatic()
        elif _TIMES.match(name) and not isinstance(self.track, BlendTrack):
            raise word.wrong(f"“{word.text[:20]}”: put a · or a ; between two keys.")
        else:
            known = ", ".join([*_EASES, "hold", "steps 4", "smooth", "automatic"])
            raise word.wrong(f"“{word.text[:20]}” is no word for a way. There are: {known}.")

    def _strength(self) -> float:
        if not re.fullmatch(_NUMBER + "%?", self._peek() or "-"):
            return 50.0
        word = self._next()
        strength = self._number(word)
        if not 0 <= strength <= 100:
            raise word.wrong("Strength runs from 0 to 100.")
        return strength

    def _steps(self, word: Word) -> Steps:
        count = 4
        if self._peek().isdigit():
            told = self._next()
            count = int(told.text[:6])
            if not 1 <= count <= limits.MAX_STEPS:
                raise told.wrong(f"There are 1 to {limits.MAX_STEPS} steps.")
        jump = self._next().text if self._peek() in ("start", "end", "none", "both") else "end"
        try:
            return Steps(count=count, jump=jump)
        except ValidationError:
            raise word.wrong("Steps that jump at neither end are two at least.") from None

    def _side(self, word: Word) -> Side | None:
        if self._peek() == "straight":
            self.at += 1
            return None
        reach = self._next("A reach in %")
        rise = self._next("A rise")
        share = self.facts.factor if isinstance(self.track, NumberTrack) and not self._evenly() else 1.0
        try:
            return Side(reach=self._number(reach, 100), rise=self._number(rise, share))
        except ValidationError:
            raise reach.wrong(
                "A handle reaches from 0 to 100 % of its way, a little further where it was split."
            ) from None

    def _evenly(self) -> bool:
        before, sign, _ = self.text.partition(":")
        return bool(sign) and "evenly" in before.split()

    def _automatic(self) -> Automatic | None:
        fields: dict[str, Any] = {}
        while self._peek() in ("tension", "continuity", "bias", "free", "plain"):
            word = self._next()
            if word.text in ("free", "plain"):
                fields |= {"free": True} if word.text == "free" else {"free": fields.get("free", False)}
                continue
            value = self._next("A number")
            share = self._number(value, 100)
            if not -1 <= share <= 1:
                raise value.wrong(f"{word.text.capitalize()} lies between −100 and 100.")
            fields[word.text] = share
        return Automatic(**fields) if fields else None
