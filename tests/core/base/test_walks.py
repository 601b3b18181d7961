"""Walks over what lies within what, however deep."""

import sys

import pytest

from deftarc.core.base.walks import ring_in, walked


def depth(nested):
    return 1 + (yield depth(nested[0])) if nested else 0


def test_a_walk_goes_deeper_than_calls_may():
    nested = ()
    for _ in range(200_000):
        nested = (nested,)
    assert walked(depth(nested)) == 200_000
    assert sys.getrecursionlimit() < 200_000


def test_what_is_raised_far_down_is_raised_in_who_asked():
    def failing():
        raise ValueError("deep")
        yield

    def asking(n):
        try:
            return (yield failing() if n == 0 else asking(n - 1))
        except ValueError as error:
            if n == 3:
                return str(error)
            raise

    assert walked(asking(5)) == "deep"
    with pytest.raises(ValueError, match="deep"):
        walked(asking(2))


def test_a_ring_is_found_and_what_only_looks_like_one_is_none():
    needs = {"a": "b", "b": "cd", "c": "e", "d": "e", "e": ""}
    assert ring_in(needs, needs.__getitem__) is None
    needs["e"] = "b"
    assert ring_in(needs, needs.__getitem__) == ["b", "c", "e"]
    assert ring_in("x", lambda _: "x") == ["x"]
    long = ring_in(range(100_000), lambda n: ((n + 1) % 100_000,))
    assert len(long) == 100_000
