"""Hostile files of saved motions by name."""

import copy
import json
from functools import cache

from deftarc.core.words.shipped_motions import shipped
from deftarc.formats.motions import write_motions

#: What a field of a motion is made.
WRONG = [None, "", "x" * 100_000, -1, 1e308, [], {}, True, [[[[]]]], {"a": {"b": {}}}, "1e999", 10**400]


def fields(told, way=()):
    """Every place in some data."""
    entries = told.items() if isinstance(told, dict) else enumerate(told) if isinstance(told, list) else ()
    for key, each in entries:
        yield (*way, key)
        yield from fields(each, (*way, key))


def changed(told, way, value):
    made = copy.deepcopy(told)
    here = made
    for key in way[:-1]:
        here = here[key]
    here[way[-1]] = value
    return json.dumps(made).encode()


@cache
def files():
    whole = write_motions([shipped()[1]])
    told = json.loads(whole)
    ways = list(fields(told))
    out = {f"{way} {n}": changed(told, way, WRONG[n % len(WRONG)]) for n, way in enumerate(ways)}
    out |= {f"cut at {n}": whole[: len(whole) * n // 9] for n in range(9)}
    many = {**told, "motions": told["motions"] * 201}
    out |= {
        "deep": b"[" * 200_000, "deep objects": b'{"a":' * 90_000, "none": b'{"format": 6, "kind": "saved-motions", "motions": []}',
        "not utf-8": b"\xff\xfe{}", "nulls": b"\0" * 900, "later": changed(told, ("format",), 7), "two of a name": changed(
            told, ("motions",), told["motions"] * 2), "too many": json.dumps(many).encode(), "infinite": whole.replace(b"-420", b"Infinity"),
        "long": b'{"format": 6, "kind": "saved-motions", "motions": [' + b"0," * 4_000_000 + b"0]}", "a list": b"[1, 2]", "a word": b'"motions"',
    }  # fmt: skip
    return out
