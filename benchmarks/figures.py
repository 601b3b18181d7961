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


def told(what: str, figure: str, bar: str, kept: bool) -> None:
    print(f"{'ok  ' if kept else 'MISS'}  {what:<58} {figure:<44} bar {bar}", flush=True)
