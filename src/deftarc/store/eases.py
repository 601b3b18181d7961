"""Eases kept for all projects, by name."""

from deftarc.core.base import limits
from deftarc.core.curves.knots import OwnEase
from deftarc.store.named import NamedStore
from deftarc.store.tables import EaseRow


class EaseStore(NamedStore[OwnEase]):
    row, column, what = EaseRow, "knots", "ease"

    def written(self, thing: OwnEase) -> str:
        return thing.model_dump_json(exclude_defaults=True)

    def read(self, text: str) -> OwnEase:
        return OwnEase.model_validate_json(text)

    def most(self) -> int:
        return limits.MAX_OWN_EASES
