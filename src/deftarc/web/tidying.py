"""When Python looks through all it holds for what is no longer used: while no hand is waiting.

With a large project open that takes a tenth of a second and more, and by itself it would come in the middle of a drag.
"""

import asyncio
import gc
import time
from collections.abc import Callable

#: Seconds without a look after which the hand is taken to rest.
REST = 1.5
#: Seconds between two looks at whether anybody has anything open.
LONG = 10.0
#: Thresholds of the three generations. The young ones are looked through when there are so many more than before: an
#: edit of thousands of keys makes that many and lets as many go. All of it only where nobody ever rests.
HELD = (50_000, 20, 1_000)


class Tidying:
    """Collects all once after each stretch of work."""

    def __init__(
        self,
        clock: Callable[[], float] = time.monotonic,
        collect: Callable[[], object] = gc.collect,
        rest: Callable[[], bool] = lambda: False,
    ) -> None:
        self.clock, self.collect, self.rest = clock, collect, rest
        self.stirred: float | None = None
        self.looked = clock()

    def stir(self) -> None:
        """Somebody is at work."""
        self.stirred = self.clock()

    def tidy(self) -> bool:
        """Collects if there was work and it has come to rest; says whether it did."""
        if self.stirred is None or self.clock() - self.stirred < REST:
            return False
        self.stirred = None
        self.collect()
        return True

    async def go(self) -> None:
        """Goes on until it is cancelled."""
        before = gc.get_threshold()
        gc.set_threshold(*HELD)
        try:
            while True:
                await asyncio.sleep(REST / 3)
                self.tidy()
                if self.clock() - self.looked >= LONG:
                    self.looked = self.clock()
                    # In another thread: giving back what a large project took needs a moment.
                    await asyncio.to_thread(self.rest)
        finally:
            gc.set_threshold(*before)
