"""Those who have shown the token of a server, for as long as they go on using it."""

import hashlib
import logging
import secrets
import time
from collections.abc import Callable
from threading import Lock

from deftarc.store.logins import LoginStore
from deftarc.store.trouble import StoreTrouble

log = logging.getLogger(__name__)
#: Seconds without a request after which a login ends, and after which its use is noted on disk again.
IDLE, NOTED = 12 * 3600.0, 600.0


def key_of(kept: str) -> str:
    return hashlib.sha256(kept.encode("utf-8", "surrogatepass")).hexdigest()


class Logins:
    """Those who have shown the token. What a browser keeps is a random number: it is kept here as its hash, is of no
    use once it has ended, and cannot be made from the token.
    """

    def __init__(self, store: LoginStore, clock: Callable[[], float] = time.time) -> None:
        self.store, self.clock = store, clock
        self._turn = Lock()
        self._used = store.all()
        self._noted = dict(self._used)

    def begin(self) -> str:
        """A new login: what its browser is to keep. Those that ended long ago go."""
        made = secrets.token_urlsafe(32)
        key, now = key_of(made), self.clock()
        with self._turn:
            old = [each for each, used in self._used.items() if now - used > IDLE]
            for each in old:
                self._used.pop(each, None)
                self._noted.pop(each, None)
            self._used[key] = self._noted[key] = now
        try:
            self.store.keep(key, now)
            if old:
                self.store.end(old)
        except StoreTrouble as trouble:
            log.warning("a login could not be kept: %s", trouble)
        return made

    def known(self, kept: str) -> bool:
        """Whether what a browser keeps is of a login that lasts; it lasts on from now."""
        if not kept:
            return False
        key, now = key_of(kept), self.clock()
        with self._turn:
            used = self._used.get(key)
            if used is None or now - used > IDLE:
                return False
            self._used[key] = now
            note = now - self._noted.get(key, 0.0) > NOTED
            if note:
                self._noted[key] = now
        if note:
            try:
                self.store.keep(key, now)
            except StoreTrouble as trouble:
                log.warning("the use of a login could not be noted: %s", trouble)
        return True

    def lasts(self, kept: str) -> bool:
        """Whether a login lasts, without that being a use of it."""
        with self._turn:
            used = self._used.get(key_of(kept))
        return used is not None and self.clock() - used <= IDLE

    def end_all(self) -> None:
        """Everybody shows the token again."""
        with self._turn:
            self._used.clear()
            self._noted.clear()
        self.store.end()
