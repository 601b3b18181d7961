"""Files of saved motions: JSON that says its format, documented in docs/format.md."""

from collections.abc import Sequence
from typing import Any

import orjson
from pydantic import ValidationError
from pydantic_core import from_json

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.document.motion import SavedMotion
from deftarc.core.document.upgrade import FORMAT, format_of, upgraded_motion
from deftarc.core.edit import sentence

#: How files of them end, and what one says that it is.
SUFFIX, KIND = ".deftarc-motions", "saved-motions"
MEDIA = "application/vnd.deftarc.motions+json"


def write_motions(motions: Sequence[SavedMotion]) -> bytes:
    """A file of saved motions. The same ones give the same bytes."""
    told = [motion.model_dump(mode="json", exclude_defaults=True) for motion in motions]
    return orjson.dumps({"format": FORMAT, "kind": KIND, "motions": told}, option=orjson.OPT_INDENT_2)


def read_motions(data: bytes) -> list[SavedMotion]:
    """The motions of a file, all of them sound and each of a name of its own; Refusal with what is wrong, else."""
    if len(data) > limits.MAX_MOTIONS_BYTES:
        raise Refusal(f"A file of saved motions is at most {limits.MAX_MOTIONS_BYTES >> 20} MB.")
    try:
        told: Any = from_json(data, allow_inf_nan=False)
    except ValueError:
        raise Refusal(
            "This file of saved motions is damaged or cut short: it is no whole JSON. Copy it again from where it came "
            "from."
        ) from None
    rows = told.get("motions") if isinstance(told, dict) else None
    if not isinstance(told, dict) or told.get("kind") != KIND or not isinstance(rows, list):
        raise Refusal("This is no file of saved motions.")
    if not rows:
        raise Refusal("There is no motion in this file.")
    if len(rows) > limits.MAX_MOTIONS:
        raise Refusal(f"This file holds {len(rows):,} motions; at most {limits.MAX_MOTIONS} are taken.")
    since = format_of(told)
    motions = [_checked(row, since) for row in rows]
    if len({motion.name for motion in motions}) < len(motions):
        raise Refusal("Two motions in this file share one name.")
    return motions


def told_motion(motion: SavedMotion) -> str:
    """One motion as text that says its format."""
    told = motion.model_dump(mode="json", exclude_defaults=True)
    return orjson.dumps({"format": FORMAT, **told}).decode()


def motion_of(text: str) -> SavedMotion:
    """A motion from such a text; Refusal where it is none."""
    try:
        told = from_json(text, allow_inf_nan=False)
    except ValueError:
        raise Refusal("It is no JSON.") from None
    since = format_of(told)
    if isinstance(told, dict):
        told.pop("format", None)
    return _checked(told, since)


def _checked(told: Any, since: int) -> SavedMotion:
    name = str(told.get("name", "?"))[:60] if isinstance(told, dict) else "?"
    try:
        return SavedMotion.model_validate(upgraded_motion(told, since))
    except ValidationError as error:
        raise Refusal(f"The motion “{name}” does not keep the format: {sentence(error).rstrip('.')}.") from None


__all__ = ["KIND", "MEDIA", "SUFFIX", "motion_of", "read_motions", "told_motion", "write_motions"]
