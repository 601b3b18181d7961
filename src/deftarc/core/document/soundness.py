"""Whether a changed document would be read back: what an edit made is checked just as the reader will check it.

Edits copy what they have checked themselves, so what they share with the document before is sound by its identity.
Only what is new by identity is written and read again, small things whole and long rows by their new entries, so the
check costs what the edit touched.
"""

import json
from collections.abc import Callable, Sequence
from functools import cache, lru_cache
from operator import attrgetter, is_, itemgetter
from typing import Annotated, Any, TypeVar

from pydantic import ConfigDict, TypeAdapter, ValidationError
from pydantic.fields import FieldInfo

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import CHECKED, READ, RETIMED, Frozen
from deftarc.core.base.working import at_work
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import AnyTrack

#: Rows that are looked at entry by entry, with the most entries each may have.
_ROWS = {"keys": limits.MAX_KEYS_PER_LANE, "points": limits.MAX_KEYS_PER_LANE}
#: What of a layer is looked at by itself.
_APART = ("tracks", "artwork", "links", "reactions")
T = TypeVar("T", bound=Frozen)
_ADAPTERS: dict[type, TypeAdapter[Any]] = {}
_COLUMNS: dict[type, dict[str, TypeAdapter[Any]] | None] = {}
_HELD = attrgetter("__dict__")
#: So many values are read rather than looked for among those that are known; numbers always are.
_FEW, _SMALL = 16, (int, float)
#: As the models themselves have it.
_NUMBERS = ConfigDict(allow_inf_nan=False, ser_json_inf_nan="constants", **READ)


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
    others = was.tracks if was is not None else {}
    alike = was is not None and was.artwork is layer.artwork and others.keys() == layer.tracks.keys()
    for name, track in layer.tracks.items():
        before = others.get(name)
        if before is not track:
            alike = alike and before is not None and before.kind == track.kind and before.value is track.value
            _track(before, track, f"{layer.name}: {_label(name)}", rows)
    if was is None or was.artwork is not layer.artwork:
        _again(layer.artwork, layer.name)
    alike &= _relations(was, layer, rows)
    alike &= _head(was, layer, _APART, layer.name, {"artwork": {"kind": "carrier"}})
    if not alike:
        _rules(layer, layer.name)


def _relations(was: Layer | None, layer: Layer, rows: "_Rows") -> bool:
    """Looks at what a layer's properties follow and answer; whether none of it is new. They are ones of its artwork,
    too, and so no part of what is looked at without that.
    """
    if was is not None and was.links is layer.links and was.reactions is layer.reactions:
        return True
    links, reactions = (was.links, was.reactions) if was is not None else ({}, {})
    for name, link in layer.links.items():
        if links.get(name) is not link:
            _again(link, f"{layer.name}: {_label(name)}")
    for name, told in layer.reactions.items():
        before = reactions.get(name)
        if before is not told:
            where = f"{layer.name}: {_label(name)}"
            _again(told.reaction, where)
            if before is None or before.base is not told.base:
                _track(before.base if before is not None else None, told.base, where, rows)
    return False


def _only_retimed(was: AnyTrack | None, track: AnyTrack) -> bool:
    """Whether a track is another one whose keys only have other times, and these are some that can be."""
    source = track.__dict__.get(RETIMED)
    if source is None or was is None or source() is not was or not track.keys:
        return False
    times = track.key_times
    return max(-times[0], times[-1]) <= limits.FURTHEST and set(map(type, times)) == {int}


def _track(was: AnyTrack | None, track: AnyTrack, where: str, rows: "_Rows") -> None:
    if _only_retimed(was, track):
        return
    for row, most in _ROWS.items():
        entries = track.__dict__.get(row, ())
        if len(entries) > most:
            raise Refusal(f"{where} would have {len(entries):,} {row}; it has at most {most:,}.")
        old = was.__dict__.get(row, ()) if was is not None else ()
        if entries is not old:
            rows.add(*_new(old, entries), where)
    _head(was, track, ("keys", "points", "closed"), where)
    _rules(track, where)


def _new(old: Sequence[Any], entries: Sequence[Any]) -> tuple[list[Any], list[Any]]:
    """The entries that were not there before, and those that are gone: one for one where they were replaced."""
    if len(old) == len(entries):
        both = list(zip(entries, old, strict=True))
        return [now for now, was in both if now is not was], [was for now, was in both if now is not was]
    known, here = set(map(id, old)), set(map(id, entries))
    return [each for each in entries if id(each) not in known], [each for each in old if id(each) not in here]


def row_adapter(entry: type) -> TypeAdapter[Any]:
    """Reads and writes rows of one kind of entry."""
    if entry not in _ADAPTERS:
        _ADAPTERS[entry] = TypeAdapter(tuple[entry, ...], config=READ)  # type: ignore[valid-type]
    return _ADAPTERS[entry]


def _columns(entry: type[Frozen]) -> dict[str, TypeAdapter[Any]] | None:
    """Reads and writes the values of each field of a kind of entry; None where an entry is more than its fields."""
    if entry not in _COLUMNS:
        told = entry.__pydantic_decorators__
        rules = (told.validators, told.field_validators, told.root_validators, told.model_validators,
                 told.field_serializers, told.model_serializers)  # fmt: skip
        _COLUMNS[entry] = None if any(rules) else {
            name: TypeAdapter(tuple[_typed(info), ...], config=_NUMBERS)  # type: ignore[arg-type,misc]
            for name, info in entry.model_fields.items()
        }  # fmt: skip
    return _COLUMNS[entry]


def _typed(info: FieldInfo) -> Any:
    return Annotated[info.annotation, *info.metadata] if info.metadata else info.annotation


def _by_columns(every: Sequence[Frozen], known: Sequence[Frozen], columns: dict[str, TypeAdapter[Any]]) -> None:
    """Reads entries back field by field: what many share but once, what ``known`` ones have in that field not at all.
    ValueError where one would not be read back.
    """
    # Through what they hold: thousands of keys have a dozen fields each.
    held, theirs = list(map(_HELD, every)), list(map(_HELD, known))
    for name, adapter in at_work(columns.items()):
        field = itemgetter(name)
        # Entry by entry the same, as of keys that were only moved all is but their times.
        if len(held) == len(theirs) and all(map(is_, map(field, held), map(field, theirs))):
            continue
        now = list(map(field, held))
        distinct = dict(zip(map(id, now), now, strict=True))
        if len(distinct) > _FEW and not isinstance(now[0], _SMALL):
            for number in distinct.keys() & set(map(id, map(field, theirs))):
                del distinct[number]
        if distinct:
            adapter.validate_json(adapter.dump_json(tuple(distinct.values())))


class _Rows:
    """The entries that are new, of all rows together: one reading of thousands costs far less than thousands of a
    few.
    """

    def __init__(self) -> None:
        self._of: dict[type, list[tuple[list[Any], Sequence[Any], str]]] = {}

    def add(self, entries: list[Any], known: Sequence[Any], where: str) -> None:
        if entries:
            self._of.setdefault(type(entries[0]), []).append((entries, known, where))

    def refuse_unsound(self) -> None:
        for entry, rows in self._of.items():
            columns, every = _columns(entry), tuple(each for entries, _, _ in rows for each in entries)
            try:
                if columns is None:
                    adapter = row_adapter(entry)
                    adapter.validate_json(adapter.dump_json(every, exclude_defaults=True))
                else:
                    _by_columns(every, [each for _, known, _ in rows for each in known], columns)
            except ValueError:
                # One of them: row by row it is found, and told where it stands.
                for entries, _, where in rows:
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
    was: Frozen | None, thing: Frozen, rows: tuple[str, ...], where: str, stand_in: dict[str, Any] | None = None
) -> bool:
    """Checks all of a thing but its rows, where any of that is new; returns whether none is."""
    if was is not None and type(was) is type(thing):
        fields = _but(type(thing), rows)
        if all(map(is_, fields(was.__dict__), fields(thing.__dict__))):
            return True
    try:
        told = thing.model_dump(mode="json", exclude=set(rows), exclude_defaults=True)
        # As JSON, which is what will be read.
        type(thing).model_validate_json(json.dumps({**told, **(stand_in or {})}))
    except ValueError as error:
        raise _refusal(error, where) from None
    return False


@lru_cache(maxsize=4_096)
def _label(name: str) -> str:
    facts = PROPERTIES.get(name)
    return facts.label if facts is not None else name


@cache
def _but(kind: type[Frozen], rows: tuple[str, ...]) -> Callable[[dict[str, Any]], tuple[Any, ...]]:
    """Gets the values of all fields of a kind of thing but some."""
    one, *more = (name for name in kind.model_fields if name not in rows)
    return itemgetter(one, *more)


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
