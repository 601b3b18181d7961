"""Whether a changed document would be read back: what an edit made is checked just as the reader will check it.

Edits copy what they have checked themselves, so what they share with the document before is sound by its identity.
Only what is new by identity is written and read again, small things whole and long rows by their new entries, so the
check costs what the edit touched.
"""

import json
from collections.abc import Iterable
from typing import Any, TypeVar

from pydantic import TypeAdapter, ValidationError

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import CHECKED, Frozen
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack

#: Rows that are looked at entry by entry, with the most entries each may have.
_ROWS = {"keys": limits.MAX_KEYS_PER_LANE, "points": limits.MAX_KEYS_PER_LANE}
T = TypeVar("T", bound=Frozen)
_ADAPTERS: dict[type, TypeAdapter[Any]] = {}


def refuse_unsound(before: Project, after: Project) -> None:
    """Refusal, in a sentence, where ``after`` holds what could not be read back; ``before`` is known to be sound."""
    if after is before:
        return
    if len(after.scenes) > limits.MAX_SCENES:
        raise Refusal(f"A project has at most {limits.MAX_SCENES} scenes.")
    old = {scene.id: scene for scene in before.scenes}
    rows = _Rows()
    for scene in after.scenes:
        was = old.get(scene.id)
        if was is not scene:
            _scene(was, scene, rows)
    rows.refuse_unsound()
    _head(before, after, ("scenes",), after.name, {"scenes": [{"name": "Plain"}] if after.scenes else []})
    _rules(after, after.name)


def _scene(was: Scene | None, scene: Scene, rows: "_Rows") -> None:
    if len(scene.layers) > limits.MAX_LAYERS:
        raise Refusal(
            f"{scene.name} would have {len(scene.layers):,} layers; a scene has at most {limits.MAX_LAYERS:,}."
        )
    old = {layer.id: layer for layer in was.layers} if was is not None else {}
    for layer in scene.layers:
        before = old.get(layer.id)
        if before is not layer:
            _layer(before, layer, rows)
    _head(was, scene, ("layers",), scene.name)
    _rules(scene, scene.name)


def _layer(was: Layer | None, layer: Layer, rows: "_Rows") -> None:
    for name, track in layer.tracks.items():
        before = was.tracks.get(name) if was is not None else None
        if before is not track:
            facts = PROPERTIES.get(name)
            _track(before, track, f"{layer.name}: {facts.label if facts is not None else name}", rows)
    if was is None or was.artwork is not layer.artwork:
        _again(layer.artwork, layer.name)
    _head(was, layer, ("tracks", "artwork"), layer.name, {"artwork": {"kind": "carrier"}})
    _rules(layer, layer.name)


def _track(was: AnyTrack | None, track: AnyTrack, where: str, rows: "_Rows") -> None:
    for row, most in _ROWS.items():
        entries = getattr(track, row, ())
        if len(entries) > most:
            raise Refusal(f"{where} would have {len(entries):,} {row}; it has at most {most:,}.")
        known = set(map(id, getattr(was, row, ()))) if was is not None else set()
        rows.add([entry for entry in entries if id(entry) not in known], where)
    _head(was, track, ("keys", "points", "closed"), where)
    _rules(track, where)


def row_adapter(entry: type) -> TypeAdapter[Any]:
    """Reads and writes rows of one kind of entry."""
    if entry not in _ADAPTERS:
        _ADAPTERS[entry] = TypeAdapter(tuple[entry, ...])  # type: ignore[valid-type]
    return _ADAPTERS[entry]


class _Rows:
    """The entries that are new, of all rows together: one reading of thousands costs far less than thousands of a
    few.
    """

    def __init__(self) -> None:
        self._of: dict[type, list[tuple[list[Any], str]]] = {}

    def add(self, entries: list[Any], where: str) -> None:
        if entries:
            self._of.setdefault(type(entries[0]), []).append((entries, where))

    def refuse_unsound(self) -> None:
        for entry, rows in self._of.items():
            adapter, every = row_adapter(entry), tuple(each for entries, _ in rows for each in entries)
            try:
                adapter.validate_json(adapter.dump_json(every, exclude_defaults=True))
            except ValueError:
                # One of them: row by row it is found, and told where it stands.
                for entries, where in rows:
                    _entries(entries, where)
                raise


def _entries(entries: list[Any], where: str) -> None:
    if not entries:
        return
    adapter = row_adapter(type(entries[0]))
    try:
        adapter.validate_json(adapter.dump_json(tuple(entries), exclude_defaults=True))
    except ValueError as error:
        raise _refusal(error, where) from None


def _again(thing: Frozen, where: str) -> None:
    try:
        type(thing).model_validate_json(thing.model_dump_json(exclude_defaults=True))
    except ValueError as error:
        raise _refusal(error, where) from None


def _head(
    was: Frozen | None, thing: Frozen, rows: Iterable[str], where: str, stand_in: dict[str, Any] | None = None
) -> None:
    """Checks all of a thing but its rows, where any of that is new."""
    names = [name for name in type(thing).model_fields if name not in rows]
    if type(was) is type(thing) and all(getattr(was, name) is getattr(thing, name) for name in names):
        return
    try:
        told = thing.model_dump(mode="json", exclude=set(rows), exclude_defaults=True)
        # As JSON, which is what will be read.
        type(thing).model_validate_json(json.dumps({**told, **(stand_in or {})}))
    except ValueError as error:
        raise _refusal(error, where) from None


def sound(thing: T) -> T:
    """A thing whose fields are sound, once what its model asks of them together is, too. ValueError otherwise."""
    rules: Any = thing
    if CHECKED not in thing.__dict__:
        rules._sound()
    return thing


def _rules(thing: Frozen, where: str) -> None:
    try:
        sound(thing)
    except ValueError as error:
        raise _refusal(error, where) from None


def _refusal(error: ValueError, where: str) -> Refusal:
    if isinstance(error, Refusal):
        return error
    if not isinstance(error, ValidationError):
        return Refusal(f"{where}: {error}")
    return in_words(error, where)


def in_words(error: ValidationError, where: str = "This") -> Refusal:
    """What keeps a document's thing from being what it would have to be, as a sentence about it."""
    first = error.errors(include_url=False, include_input=False)[0]
    context = first.get("ctx", {})
    bound = context.get("le", context.get("lt", context.get("ge", context.get("gt"))))
    field = next((str(part) for part in reversed(first["loc"]) if isinstance(part, str)), "")
    field = field.replace("_", " ")
    if first["type"] in ("less_than_equal", "less_than"):
        return Refusal(f"{where} would go beyond {bound:,.12g}, the most it holds ({field}). Nothing was changed.")
    if first["type"] in ("greater_than_equal", "greater_than"):
        return Refusal(f"{where} would go below {bound:,.12g}, the least it holds ({field}). Nothing was changed.")
    if first["type"] == "too_long":
        return Refusal(f"{where} would have more than {context.get('max_length', 0):,} of these ({field}).")
    if first["type"] in ("finite_number", "float_type"):
        return Refusal(f"{where} would become no number at all ({field}). Nothing was changed.")
    told = str(first["msg"]).removeprefix("Value error, ")
    return Refusal(f"{where}: {told.rstrip('.')} ({field})." if field else f"{where}: {told}")
