"""Who comes in: how one who guesses the token is slowed down, and which requests a page that came from here makes."""

import hashlib
import hmac
import math
import time
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field

from deftarc.app.logins import key_of

#: A token of fewer letters could be guessed.
LEAST_TOKEN = 20
#: So many wrong tokens are taken at once, of one address and of all together, and one more after so many seconds.
ONE, ALL = (5, 60.0), (60, 5.0)
MOST_ADDRESSES = 10_000


@dataclass
class Bucket:
    """Tries that are left, of ``most``; one comes back every ``every`` seconds."""

    most: int
    every: float
    left: float
    at: float

    def refill(self, now: float) -> None:
        self.left = min(self.most, self.left + (now - self.at) / self.every)
        self.at = now

    def wait(self) -> float:
        """Seconds until there is a try again; 0 where there is one."""
        return 0.0 if self.left >= 1 else (1 - self.left) * self.every


@dataclass
class Brake:
    """Slows down whoever guesses: by address, and all together, since guesses may come from many addresses."""

    clock: Callable[[], float] = time.monotonic
    _of: "OrderedDict[str, Bucket]" = field(default_factory=OrderedDict)
    _all: Bucket | None = None

    def _buckets(self, address: str) -> tuple[Bucket, Bucket]:
        now = self.clock()
        if self._all is None:
            self._all = Bucket(*ALL, float(ALL[0]), now)
        one = self._of.pop(address, None) or Bucket(*ONE, float(ONE[0]), now)
        self._of[address] = one
        while len(self._of) > MOST_ADDRESSES:
            self._of.popitem(last=False)
        for each in (one, self._all):
            each.refill(now)
        return one, self._all

    def wait(self, address: str) -> int:
        """Whole seconds until an address may try again; 0 where it may now."""
        return math.ceil(max(each.wait() for each in self._buckets(address)))

    def failed(self, address: str) -> None:
        for each in self._buckets(address):
            each.left -= 1


def page_token(secret: bytes, kept: str) -> str:
    """What a page shows with every request that changes something: only a page that was sent from here, to this
    browser, has it.
    """
    return hmac.new(secret, f"page {key_of(kept)}".encode(), hashlib.sha256).hexdigest()
