"""A track's numbers as its property's components: kept within what it allows, linked scale as two axes."""

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.document.layer import Layer
from deftarc.core.document.properties import PROPERTIES


def shown_values(layer: Layer, name: str, samples: Floats) -> Floats:
    """A track's samples (F, 1 or 2) as the property's components: linked scale becomes its two axes."""
    if name == "scale":
        second = layer.scale_ratio * (samples if layer.scale_link == "linked" else _reciprocal(samples))
        return np.concatenate([samples, second], axis=1)
    facts = PROPERTIES[name]
    if facts.low is not None or facts.high is not None:
        samples = np.clip(samples, facts.low, facts.high)
    return np.round(samples) if facts.whole else samples


def _reciprocal(samples: Floats) -> Floats:
    """1/s with s kept off nought, so that an area link stays finite."""
    return 1.0 / np.where(np.abs(samples) < 1e-6, np.copysign(1e-6, samples), samples)
