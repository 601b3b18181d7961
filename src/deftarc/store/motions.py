"""Motions kept for all projects, by name."""

import logging

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.document.motion import SavedMotion
from deftarc.formats.motions import motion_of, told_motion
from deftarc.store.named import NamedStore
from deftarc.store.tables import MotionRow

log = logging.getLogger(__name__)


class MotionStore(NamedStore[SavedMotion]):
    row, column, what = MotionRow, "motion", "saved motion"

    def written(self, thing: SavedMotion) -> str:
        return told_motion(thing)

    def read(self, text: str) -> SavedMotion | None:
        try:
            return motion_of(text)
        except Refusal as error:
            log.error("a saved motion cannot be read: %s", error)
            return None

    def most(self) -> int:
        return limits.MAX_MOTIONS
