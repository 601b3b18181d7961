"""Keys told once: a hand that drags thousands names them at its first move, at the others they are the same."""

from operator import is_
from typing import Any

from pydantic import TypeAdapter, ValidationError

from deftarc.core.changes.keys import KeyRef
from deftarc.web.look import Look

_KEYS: TypeAdapter[tuple[KeyRef, ...]] = TypeAdapter(tuple[KeyRef, ...])


class SameKeys:
    """The keys a page told last, as selected and as those of what it tries. A page that was refused tells them anew."""

    def __init__(self) -> None:
        self._selected: tuple[KeyRef, ...] = ()
        self._tried: tuple[KeyRef, ...] = ()

    def fill(self, look: dict[str, Any]) -> None:
        """Puts keys that are null in a look, and in its edit, in their place, and remembers those that are told."""
        self._selected = _filled(look, self._selected)
        edit = look.get("edit")
        if isinstance(edit, dict):
            self._tried = _filled(edit, self._tried)
            if self._tried is not self._selected and self._tried == self._selected:
                # Mostly what is selected is what is moved.
                self._tried = edit["keys"] = self._selected

    def shared(self, look: Look) -> Look:
        """The look with the very rows of keys that are remembered: by them is found what was worked out of them."""
        edit = look.edit
        if edit is not None and _same(getattr(edit, "keys", None), self._tried):
            edit = edit.changed(keys=self._tried)
        keys = self._selected if _same(look.keys, self._selected) else look.keys
        return look.changed(keys=keys, edit=edit)


def _same(told: object, known: tuple[KeyRef, ...]) -> bool:
    return isinstance(told, tuple) and len(told) == len(known) > 0 and all(map(is_, told, known))


def _filled(told: dict[str, Any], before: tuple[KeyRef, ...]) -> tuple[KeyRef, ...]:
    keys = told.get("keys", ())
    if keys is None:
        told["keys"] = before
    elif isinstance(keys, list):
        try:
            # Read here, they need not be read again as part of the look, which says what is wrong with them.
            told["keys"] = before = _KEYS.validate_python(keys)
        except ValidationError:
            before = ()
    return before
