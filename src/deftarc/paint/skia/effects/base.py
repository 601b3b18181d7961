"""The register of Skia's image filters for effects, and what of an item's effects is one at a row of its table."""

from collections.abc import Callable

import skia

from deftarc.core.evaluate import EffectAt

#: An effect's numbers at one moment, by the fields that keep them.
Now = dict[str, tuple[float, ...]]
#: Makes the filter of an effect, in the px of what it treats, laid on another filter (None: on what is painted).
Filter = Callable[[Now, skia.ImageFilter | None], skia.ImageFilter | None]
FILTERS: dict[str, Filter] = {}


def paints(kind: str) -> Callable[[Filter], Filter]:
    """Registers a filter under an effect's kind."""

    def added(made: Filter) -> Filter:
        if FILTERS.setdefault(kind, made) is not made:
            raise ValueError(f"There are two painters of {kind}.")
        return made

    return added


def filters_of(effects: tuple[EffectAt, ...], row: int) -> skia.ImageFilter | None:
    """All effects of an item at a row, the first of them innermost; None where they do nothing."""
    made: skia.ImageFilter | None = None
    for each in effects:
        now = {name: tuple(map(float, rows[min(row, len(rows) - 1)])) for name, rows in each.values.items()}
        made = FILTERS[each.kind](now, made)
    return made
