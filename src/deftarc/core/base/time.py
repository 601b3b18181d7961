"""Time in whole flicks, frame rates as fractions, SMPTE timecode.

A flick is 1/705 600 000 of a second (a published unit): every usual rate, the 1000/1001 ones too,
has a whole number of flicks to the frame, so that equal times are equal integers.
"""

import math
import re
from bisect import bisect_right
from fractions import Fraction
from functools import cache, lru_cache
from typing import NamedTuple

from pydantic import field_validator

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Frozen

FLICKS = limits.FLICKS


class FrameRate(Frozen):
    """Frames a second as the fraction ``numerator / denominator``."""

    numerator: int = 25
    denominator: int = 1

    @field_validator("numerator", "denominator")
    @classmethod
    def _positive(cls, value: int) -> int:
        if not 1 <= value <= 1_000_000:
            raise ValueError("A frame rate is a fraction of two whole numbers above 0.")
        return value

    def model_post_init(self, _context: object) -> None:
        if FLICKS * self.denominator % self.numerator:
            raise ValueError(
                f"{self.numerator}/{self.denominator} frames a second does not divide time evenly; "
                "use 24, 25, 30, 50, 60, or one of the 1000/1001 rates."
            )
        if not 1 <= self.numerator / self.denominator <= limits.MAX_FRAME_RATE:
            raise ValueError(f"A frame rate lies between 1 and {limits.MAX_FRAME_RATE} frames a second.")

    @property
    def flicks(self) -> int:
        """Flicks in one frame."""
        return FLICKS * self.denominator // self.numerator

    @property
    def per_second(self) -> float:
        return self.numerator / self.denominator

    @property
    def nominal(self) -> int:
        """The whole number a timecode counts to in a second: 30 for 30000/1001."""
        return -(-self.numerator // self.denominator)

    @property
    def drops(self) -> bool:
        """Whether SMPTE defines drop-frame timecode for this rate."""
        return self.denominator == 1001 and self.nominal in (30, 60)

    def time_of(self, frame: int) -> int:
        """The first flick of a frame."""
        return frame * self.flicks

    def frame_at(self, time: float) -> int:
        """The frame that shows at a time."""
        return int(time // self.flicks)

    def nearest(self, time: float) -> int:
        """The frame boundary nearest to a time, in frames."""
        return round(time / self.flicks)

    def label(self) -> str:
        return str(self.nominal) if self.denominator == 1 else f"{self.per_second:.3f}".rstrip("0").rstrip(".")


#: The rates offered by name.
RATES = {
    "24": FrameRate(numerator=24),
    "25": FrameRate(numerator=25),
    "30": FrameRate(numerator=30),
    "50": FrameRate(numerator=50),
    "60": FrameRate(numerator=60),
    "23.976": FrameRate(numerator=24_000, denominator=1001),
    "29.97": FrameRate(numerator=30_000, denominator=1001),
    "59.94": FrameRate(numerator=60_000, denominator=1001),
}


class Skips(NamedTuple):
    """Where drop-frame timecode skips labels: in ``every`` frames, before each of those ``at``, so many ``labels``."""

    every: int
    at: tuple[int, ...]
    labels: int


def _labels_dropped(rate: FrameRate) -> int:
    """Timecode labels skipped at each minute that is no tenth minute (SMPTE ST 12-1): 2, or 4 at 60."""
    return 2 * (rate.nominal // 30)


@cache
def skips(rate: FrameRate) -> Skips:
    """Refusal where SMPTE ST 12-1 defines no drop-frame timecode for the rate."""
    if not rate.drops:
        raise Refusal("Drop-frame timecode exists for 29.97 and 59.94 frames a second only.")
    labels = _labels_dropped(rate)
    minute = rate.nominal * 60 - labels
    return Skips(minute * 10 + labels, tuple(labels + minute * k for k in range(1, 10)), labels)


def frame_digits(rate: FrameRate) -> int:
    """Digits that frames have in a timecode."""
    return 3 if rate.nominal > 100 else 2


def timecode(frame: int, rate: FrameRate, drop: bool = False) -> str:
    """A frame as ``m:ss:ff`` (``h:mm:ss:ff`` from an hour on); drop-frame has ``;`` before the frames.

    Drop-frame follows SMPTE ST 12-1 and is defined for 30000/1001 and 60000/1001 only.
    """
    sign, count = ("−", -frame) if frame < 0 else ("", frame)
    separator = ":"
    if drop:
        separator = ";"
        every, at, labels = skips(rate)
        tens, rest = divmod(count, every)
        count += labels * (len(at) * tens + bisect_right(at, rest))
    seconds, frames = divmod(count, rate.nominal)
    minutes, seconds = divmod(seconds, 60)
    hours, minutes = divmod(minutes, 60)
    tail = f"{seconds:02d}{separator}{frames:0{frame_digits(rate)}d}"
    return f"{sign}{hours}:{minutes:02d}:{tail}" if hours else f"{sign}{minutes}:{tail}"


# A page tells the same few hundred moments at every move of a hand.
@lru_cache(maxsize=8192)
def told_frame(frame: int, rate: FrameRate, unit: str) -> str:
    """A frame in the unit chosen: timecode, drop (drop-frame timecode, where the rate has it), frames, seconds."""
    if unit == "frames":
        return str(frame).replace("-", "−")
    if unit == "seconds":
        return f"{frame * rate.denominator / rate.numerator:.2f} s".replace("-", "−")
    return timecode(frame, rate, unit == "drop" and rate.drops)


def time_label(time: float, rate: FrameRate, unit: str) -> str:
    """A moment in flicks in the unit chosen, as it is typed too; one between frames with hundredths of a frame."""
    exact = time / rate.flicks
    frame = rate.nearest(time)
    if abs(exact - frame) < 1e-4:
        return told_frame(frame, rate, unit)
    if unit == "seconds":
        return f"{time / FLICKS:.4f} s".replace("-", "−")
    # One before the start counts backwards from it.
    share, whole = math.modf(abs(exact))
    hundredths = min(max(round(share * 100), 1), 99)
    return f"{'−' if exact < 0 else ''}{told_frame(int(whole), rate, unit)}.{hundredths:02d}"


_MOMENT = re.compile(r"^(?P<sign>[-−+]?)(?P<parts>\d{1,9}(?:[:;]\d{1,9}){0,3})$")
_FRAMES = re.compile(r"^([-−+]?\d{1,9})\s*f$")
_SECONDS = re.compile(r"^(?P<number>[-−+]?\d{1,6}(?:\.\d{1,9})?)\s*s$")


_BETWEEN = re.compile(r"^(?P<frame>.*\d)(?P<part>\.\d{1,9})\s*(?P<unit>f?)$")


def parse_time(text: str, rate: FrameRate) -> int:
    """The moment meant, in flicks, by what ``parse_moment`` reads or one between frames: ``50.38``, ``0:03:02.5``.

    Seconds mean the frame that is nearest to them.
    """
    plain = text.strip().replace("−", "-")
    found = _BETWEEN.match(plain)
    if not found:
        return parse_moment(text, rate) * rate.flicks
    frame = parse_moment(f"{found['frame']}{found['unit']}", rate)
    part = round(Fraction(found["part"]) * rate.flicks)
    return frame * rate.flicks + (-part if plain.startswith("-") else part)


def parse_moment(text: str, rate: FrameRate) -> int:
    """The frame meant by a typed ``48``, ``48f``, ``3:02``, ``0:03:02``, ``1:00:00:00``, ``0:59;28`` or ``2.5s``.

    Raises Refusal with the accepted forms when the text is none of them.
    """
    told = text.strip().replace("−", "-")
    if found := _SECONDS.match(told):
        return round(Fraction(found["number"]) * FLICKS / rate.flicks)
    if found := _FRAMES.match(told):
        return int(found[1])
    found = _MOMENT.match(told)
    if not found:
        raise Refusal(
            f"“{text.strip()[:40]}” is no time. Type a frame (48, 48f), a timecode (0:03:02) or seconds (2.5s)."
        )
    parts = [int(part) for part in re.split("[:;]", found["parts"])]
    sign = -1 if found["sign"] == "-" else 1
    if len(parts) == 1:
        return sign * parts[0]
    hours, minutes, seconds, frames = [0] * (4 - len(parts)) + parts
    if frames >= rate.nominal or (len(parts) > 2 and seconds > 59) or (len(parts) > 3 and minutes > 59):
        raise Refusal(f"“{text.strip()[:40]}” is no timecode at {rate.label()} frames a second.")
    total_minutes = hours * 60 + minutes + seconds // 60
    count = ((hours * 60 + minutes) * 60 + seconds) * rate.nominal + frames
    if ";" in told:
        if not rate.drops:
            raise Refusal("Drop-frame timecode exists for 29.97 and 59.94 frames a second only.")
        skip = _labels_dropped(rate)
        if seconds % 60 == 0 and frames < skip and total_minutes % 10:
            raise Refusal(f"Drop-frame timecode skips {text.strip()[:40]}; the next frame is “;{skip:02d}”.")
        count -= skip * (total_minutes - total_minutes // 10)
    return sign * count
