"""Under a hand in the lanes that moves many keys: what is in view of them, worked out without all the others."""

from itertools import compress

from deftarc.core.base.model import each_with
from deftarc.core.document import Scene
from deftarc.core.edit import EditBase, apply
from deftarc.core.edit.base import Apart, LaneName
from deftarc.core.edit.keys import grouped
from deftarc.store.projects import OpenProject
from deftarc.web.live.answering import Answering, kind_of
from deftarc.web.live.trying import LANE, keys_of, tell_selected
from deftarc.web.look import Look

#: A hand in the lanes that moves more keys than this, or whose whole answers take longer than so many seconds, is shown
#: what lies under it until it rests; with keys of more lanes than this without the picture.
MANY_KEYS, PATIENT, LANES_LIVE = 200, 0.025, 30


def is_heavy(look: Look, whole: tuple[tuple[str, str] | None, float] | None) -> bool:
    """Whether a hand that moves keys in the lanes would have to wait for all that follows; ``whole`` is what was held
    last, and how long its whole answer took.
    """
    slow = whole is not None and whole[0] == kind_of(look.changed(brief=False)) and whole[1] > PATIENT
    return look.held and not look.fresh and (slow or len(keys_of(look.edit)) > MANY_KEYS)


def in_many_lanes(edit: EditBase, here: Scene) -> Apart | None:
    """Where keys of many lanes go, if an edit can be told lane by lane."""
    apart = edit.moves_apart(here)
    return apart if apart is not None and len(apart.moves) > LANES_LIVE else None


def of_lanes_seen(
    look: Look, opened: OpenProject, here: Scene, edit: EditBase, apart: Apart, seen: set[LaneName]
) -> Answering:
    """The document with keys moved in the lanes that are seen, and left as they are in all others."""
    head = {"n": look.n, "revision": opened.revision, "tentative": True, "frame": look.frame}
    keys = keys_of(edit)
    tell_selected(head, look, keys, apart.lands)
    within = [] if seen.isdisjoint(apart.moves) else list(map(seen.__contains__, map(LANE, keys)))
    some = tuple(compress(keys, within))
    tried = apply(opened.project, edit.changed(keys=some)) if some else opened.project
    look = look.changed(keys=tuple(each_with(some, "time", compress(apart.lands, within))))
    return Answering(look, opened, tried, tried.scene(here.id), None, look.frame, edit, head)


def standing(look: Look) -> dict[LaneName, dict[int, int]]:
    """The selected keys by lane, where they stand already."""
    return {lane: {time: time for time in times} for lane, times in grouped(look.keys).items()}
