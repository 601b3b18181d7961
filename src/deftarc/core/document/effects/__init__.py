"""Effects: how layers are treated. A class a kind, collected from a file each."""

from typing import TYPE_CHECKING, Annotated, Any, Union

from pydantic import Field

from deftarc.core.base.register import collect
from deftarc.core.document.effects.base import EFFECTS, EffectBase, Values

collect(__name__, __path__, ("base", "shadow", "blur", "colour", "crop"))

if TYPE_CHECKING:
    Effect = EffectBase
else:
    Effect: Any = Annotated[Union[tuple(EFFECTS.values())], Field(discriminator="kind")]  # noqa: UP007

__all__ = ["EFFECTS", "Effect", "EffectBase", "Values"]
