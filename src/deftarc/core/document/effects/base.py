"""Effects: how a layer, or a group painted as one, is treated before it is moved. One class a kind.

Lengths and directions are in the px of what is treated, so they grow and turn with it. Each kind is painted under
its id in both painters: ``paint/skia/effects`` and ``web/static/js/effects``.
"""

from typing import TYPE_CHECKING, ClassVar

from deftarc.core.base.arrays import Floats
from deftarc.core.base.model import Identity, Kinded
from deftarc.core.base.register import Register
from deftarc.core.document.properties import PROPERTIES, Property

#: An effect's numbers over time by the fields that keep them, (F or 1, components).
Values = dict[str, Floats]


class EffectBase(Kinded):
    """What every effect says of itself. ``id`` is its own in the layer's list, ``kind`` names what it does."""

    if TYPE_CHECKING:

        @property
        def kind(self) -> str: ...

    label: ClassVar[str] = ""
    #: Its icon in lists, and what it does, in a few words.
    icon: ClassVar[str] = "circle"
    about: ClassVar[str] = ""
    #: The ids of its properties.
    keyable: ClassVar[tuple[str, ...]] = ()
    #: What else of it can be chosen: by field, what each choice is called.
    choices: ClassVar[dict[str, dict[str, str]]] = {}
    id: Identity
    #: Switched off it stays in the list, and does nothing.
    on: bool = True

    @classmethod
    def facts(cls) -> tuple[Property, ...]:
        return tuple(PROPERTIES[name] for name in cls.keyable)

    @property
    def properties(self) -> tuple[str, ...]:
        """The names under which the layer has its properties."""
        return tuple(f"effect/{self.id}/{name}" for name in self.keyable)

    def counts(self, name: str) -> bool:
        """Whether a property of these means anything as the effect is chosen to be."""
        return name in self.keyable

    def told(self) -> dict[str, float]:
        """What painters are told of what is chosen, as numbers that do not change."""
        return {}

    @classmethod
    def reach(cls, values: Values) -> Floats:
        """How far beyond what it treats it paints, at most, in that's px: (F or 1,)."""
        raise NotImplementedError


EFFECTS: Register[type[EffectBase]] = Register("kinds of effect", lambda kind: kind.model_fields["kind"].default)
