"""What becomes of masks in Lottie: its own, or layers through which others show."""

import numpy as np

from deftarc.core.evaluate import MaskAt

#: How a layer shows through the one above it.
ALPHA, NOT_ALPHA, LUMA = 1, 2, 3


def mask_list(masks: tuple[MaskAt, ...]) -> list[tuple[str, MaskAt | None]] | None:
    """Masks as Lottie's own, each with its mode, None being all there is; None where they are not of one contour each,
    or more than players agree on: several that are put together, or one that is cut out.
    """
    if any(mask.inverted or verbs.count("M") != 1 for mask in masks for verbs in mask.outline.verbs):
        return None
    if all(mask.mode == "add" for mask in masks):
        return [("a", mask) for mask in masks]
    return [("a", None), (masks[0].mode[0], masks[0])] if len(masks) == 1 else None


def factors_of(masks: tuple[MaskAt, ...]) -> list[tuple[tuple[MaskAt, ...], int]] | None:
    """Masks as mattes of what is already cut by those before: those put together, and each that is cut out or to which
    all is held, with how it is meant. None where what comes to it is no row of such: players do not agree on mattes
    within mattes.
    """
    count = next((k for k, mask in enumerate(masks) if mask.mode != "add"), len(masks))
    added, rest = masks[:count], masks[count:]
    if any(mask.mode == "add" for mask in rest) or (count > 1 and any(mask.inverted for mask in added)):
        return None
    if any(mask.inverted and np.any(mask.opacity < 1) for mask in masks):
        return None
    out: list[tuple[tuple[MaskAt, ...], int]] = []
    if added:
        out.append((added, NOT_ALPHA if added[0].inverted else ALPHA))
    return out + [((mask,), ALPHA if (mask.mode == "intersect") != mask.inverted else NOT_ALPHA) for mask in rest]


def sayable_masks(masks: tuple[MaskAt, ...]) -> bool:
    """Whether masks can be said: those without soft edges that are laid on or cut out one after the other."""
    if not masks:
        return True
    return not any(np.any(mask.feather > 0) for mask in masks) and factors_of(masks) is not None


__all__ = ["ALPHA", "LUMA", "NOT_ALPHA", "factors_of", "mask_list", "sayable_masks"]
