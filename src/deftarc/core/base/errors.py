"""The one family of errors the core raises for what a person asked and cannot have."""


class Refusal(ValueError):
    """Something asked for is not possible; the message is a sentence that says what to do."""


class UnknownThing(Refusal):
    """A scene, layer, key or asset that is not there."""


def unknown(kind: str, name: object) -> UnknownThing:
    """The refusal for an id nobody knows, e.g. ``unknown("layer", "l9")``."""
    shown = str(name)
    if len(shown) > 40:
        shown = shown[:39] + "…"
    return UnknownThing(f"There is no {kind} “{shown}” here. It may have been deleted; reload to see what is there.")
