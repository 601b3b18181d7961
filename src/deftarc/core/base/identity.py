"""What is still the same: told by identity, since nothing that is held is ever changed in place."""

from collections.abc import Sequence


def identical(one: Sequence[object], other: Sequence[object], by_value: tuple[type, ...] = ()) -> bool:
    """Whether both hold the same objects in the same order; those of the types named need only be equal."""
    return len(one) == len(other) and all(
        a is b or (isinstance(a, by_value) and a == b) for a, b in zip(one, other, strict=True)
    )
