"""Taking and printing figures: medians of interleaved runs, percentiles, one line a budget row."""

import time
from collections.abc import Callable

import numpy as np


def seconds(work: Callable[[], object]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def ratio(ours: Callable[[], object], theirs: Callable[[], object], runs: int = 40) -> tuple[float, float, float]:
    """Median of the pairwise ratio, and both medians in seconds, taken in turn A B A B …"""
    pairs = np.array([(seconds(ours), seconds(theirs)) for _ in range(runs)])
    return float(np.median(pairs[:, 0] / pairs[:, 1])), *(float(x) for x in np.median(pairs, axis=0))


def pace(runs: int = 400) -> float:
    """Milliseconds that one fixed piece of work takes just now, a median. Figures of two sittings can be laid beside
    each other only where this was the same: a machine shared with others is at times half as quick.
    """
    names, row = {str(k): k for k in range(300)}, np.arange(60.0)

    def work() -> None:
        for name, k in names.items():
            f"{name} {k}"
        for _ in range(60):
            row * 2 + row
        " ".join(map(str, row.tolist()))

    return float(np.median([seconds(work) for _ in range(runs)])) * 1e3


def told(what: str, figure: str, bar: str, kept: bool) -> None:
    print(f"{'ok  ' if kept else 'MISS'}  {what:<58} {figure:<44} bar {bar}", flush=True)
