"""A property's motion as CSV: frame, seconds, its components and its speed, one row a frame; and samples read in."""

import csv
from io import StringIO

import numpy as np

from deftarc.core.base import limits
from deftarc.core.base.arithmetic import plain_number
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Frozen
from deftarc.core.base.time import FLICKS, FrameRate
from deftarc.core.document import Layer, Scene
from deftarc.core.document.properties import property_named
from deftarc.core.document.track import TrackBase
from deftarc.core.evaluate import Evaluator, frame_times
from deftarc.formats.read.base import INPUTS, Input

#: What a colour's numbers are called; in per cent of encoded sRGB.
COLOUR_PARTS = ("red", "green", "blue", "alpha")


def sample_csv(scene: Scene, layer: Layer, name: str, first: int, last: int) -> str:
    """Rows for frames first … last inclusive, in shown units; speed per second, ``inf`` where unbounded."""
    facts = property_named(name)
    if not 0 <= first <= last < scene.frames:
        raise Refusal(f"{scene.name} has frames 0 to {scene.frames - 1}; ask for a range within them.")
    track: TrackBase = layer.track(name)
    if facts.kind == "outline":
        raise Refusal("An outline is many points, and has no samples in one row. Render the layer, or sample a number.")
    times = frame_times(scene, first, last - first + 1)
    values = Evaluator().values(scene, layer.id, times)[name] * facts.factor
    values = np.broadcast_to(values, (len(times), values.shape[1]))
    speed = track.speeds(times.astype(np.float64)) * facts.factor if track.keys else np.zeros(len(times))
    out = StringIO()
    writer = csv.writer(out, lineterminator="\n")
    parts = COLOUR_PARTS if facts.kind == "colour" else tuple(part or "value" for part in facts.components)
    writer.writerow(["frame", "seconds", *parts, "speed"])
    for row in range(len(times)):
        numbers = [float(times[row]) / FLICKS, *values[row], speed[row]]
        writer.writerow([first + row, *[f"{number + 0.0:.9g}" for number in numbers]])
    return out.getvalue()


class Samples(Frozen):
    """Times in flicks, rising, and a row of values in shown units for each; and what of the file was left out."""

    times: list[int]
    values: list[list[float]]
    told: str = ""


#: What columns may be called that say when a sample is; all others are values, but for these.
SECONDS = ("seconds", "time", "t", "s", "sec", "time_s")
MILLISECONDS = ("ms", "milliseconds", "time_ms")
FRAMES = ("frame", "frames", "f")
NO_VALUES = ("speed",)


def read_samples(data: bytes, rate: FrameRate, pair: bool, start: int) -> Samples:
    """Samples from CSV text in UTF-8, separated by commas, semicolons or tabs, one row a sample.

    A first row of names says which column is the time (seconds, ms or frame) and which are values: x and y for a
    ``pair``. Without names the first column is seconds. A decimal comma is read where semicolons or tabs separate.
    Where there are frames as well as seconds, frames say when, as far as both mean the same at this rate. Times count
    from the scene's start, or from ``start`` in flicks where no column has frames and the first sample is at 0.
    """
    rows = _cells(data)
    head, rows = (rows[0], rows[1:]) if rows and not _is_number(rows[0][0]) else ([], rows)
    if not rows:
        raise Refusal("This file has no samples. It takes a row of names and one row a sample: seconds, value.")
    if len(rows) > limits.MAX_SAMPLES:
        raise Refusal(f"This file has more than {limits.MAX_SAMPLES:,} samples. Thin it out first.")
    names = [cell.strip().casefold() for cell in head] or ["seconds", *("xy" if pair else ("value",))]
    when, factor = _time_column(names, rows, rate)
    columns = _value_columns(names, when, pair)
    times: list[int] = []
    values: list[list[float]] = []
    dropped = 0
    for n, row in enumerate(rows, 2 if head else 1):
        try:
            told = [_number(row[k]) for k in (when, *columns)]
        except (IndexError, ValueError):
            raise Refusal(f"Row {n} of this file has no number where one is due: {', '.join(row)[:60]}") from None
        if not all(np.isfinite(told)) or max(map(abs, told)) > limits.MAX_NUMBER:
            raise Refusal(f"Row {n} of this file has a number that is too large.")
        time = round(told[0] * factor)
        if abs(time) > limits.MAX_TIME_SECONDS * FLICKS:
            raise Refusal(f"Row {n} of this file lies too far from the scene's start.")
        if times and time <= times[-1]:
            dropped += 1
            continue
        times.append(time)
        values.append(told[1:])
    if not any(name in FRAMES for name in names) and times[0] == 0:
        times = [time + start for time in times]
    told_of = f"{dropped} rows that did not come later than the one before were left out." if dropped else ""
    return Samples(times=times, values=values, told=told_of)


def _cells(data: bytes) -> list[list[str]]:
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise Refusal("This file is no text in UTF-8. Save it as CSV in UTF-8.") from None
    if "\0" in text:
        raise Refusal("This file is no text. Save it as CSV in UTF-8.")
    first = next((line for line in text.splitlines() if line.strip()), "")
    mark = max(";\t,", key=first.count)
    try:
        rows = [row for row in csv.reader(StringIO(text), delimiter=mark) if any(cell.strip() for cell in row)]
    except csv.Error as error:
        raise Refusal(f"This file cannot be read as CSV: {error}.") from None
    if mark != ",":
        rows = [
            [cell.replace(",", ".") if _is_number(cell.replace(",", ".")) else cell for cell in row] for row in rows
        ]
    return rows


def _number(cell: str) -> float:
    return plain_number(cell.strip().replace("−", "-").removesuffix("%").removesuffix("°").strip())


def _is_number(cell: str) -> bool:
    try:
        _number(cell)
    except ValueError:
        return False
    return True


def _time_column(names: list[str], rows: list[list[str]], rate: FrameRate) -> tuple[int, float]:
    """Which column says when, and flicks to its unit. Frames are exact, where seconds are rounded; but those of a file
    of another rate are not this scene's.
    """
    units = ((FRAMES, rate.flicks), (SECONDS, FLICKS), (MILLISECONDS, FLICKS / 1000))
    found = [
        (k, float(factor)) for known, factor in units for k, name in enumerate(names) if name in known
    ]  # fmt: skip
    if not found:
        raise Refusal("No column says when its samples are. Name one seconds, ms or frame.")
    if len(found) > 1 and names[found[0][0]] in FRAMES and not _alike(rows, found[0], found[1], rate.flicks / 2):
        return found[1]
    return found[0]


def _alike(rows: list[list[str]], one: tuple[int, float], other: tuple[int, float], within: float) -> bool:
    """Whether two columns say the same moments, in flicks; what is no number is refused where it is read."""
    try:
        return all(abs(_number(row[one[0]]) * one[1] - _number(row[other[0]]) * other[1]) <= within for row in rows)
    except (IndexError, ValueError):
        return True


def _value_columns(names: list[str], when: int, pair: bool) -> list[int]:
    if pair:
        found = [next((k for k, name in enumerate(names) if name == part), None) for part in "xy"]
        if found[0] is None or found[1] is None:
            raise Refusal("A position takes two columns, named x and y.")
        return [found[0], found[1]]
    left = [
        k for k, name in enumerate(names)
        if k != when and name not in (*SECONDS, *MILLISECONDS, *FRAMES, *NO_VALUES)
    ]  # fmt: skip
    named = [k for k in left if names[k] == "value"] or left
    if not named:
        raise Refusal("There is no column of values beside the time.")
    return named[:1]


def knows(head: bytes, name: str) -> bool:
    return name.endswith((".csv", ".tsv", ".txt"))


INPUTS.add(
    Input("samples", "Samples (CSV)", "samples", (".csv", ".tsv", ".txt"), limits.MAX_CSV_BYTES, knows, read_samples)
)
