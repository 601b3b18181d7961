"""A fragment that is drawn anew at each move of a hand, told without those of its lines that stay.

A line that is one whole element is left out, with a blank in its place, where the page has the same line there; the
page leaves what it has there alone (``renew.js``). Only answers to what is tried do so: all others are told whole.
"""

import re
from functools import lru_cache

#: Stands for a line that the page has.
SAME = '<g same=""></g>'
_TAG = re.compile(r"<(/?)(\w+)[^>]*?(/?)>")
#: Elements of HTML that have no end.
_VOID = frozenset({"input", "br", "img", "hr"})


# Lines that stay are asked about again and again.
@lru_cache(maxsize=4096)
def is_whole(line: str) -> bool:
    """Whether a line is one element, from its start to its end."""
    depth = 0
    for tag in _TAG.finditer(line):
        if depth == 0 and tag.start() > 0:
            return False
        if tag[1]:
            depth -= 1
        elif not tag[3] and tag[2] not in _VOID:
            depth += 1
        if depth <= 0:
            return depth == 0 and tag.end() == len(line)
    return False


def changed_lines(now: str, before: str | None) -> str:
    """``now`` without the lines that are the same in what was told ``before``; whole where they have other lines."""
    if before is None:
        return now
    lines, old = now.split("\n"), before.split("\n")
    if len(lines) != len(old):
        return now
    return "\n".join(_left_out(line) if line == was else line for line, was in zip(lines, old, strict=True))


def _left_out(line: str) -> str:
    element = line.lstrip()
    return line[: len(line) - len(element)] + SAME if len(element) > len(SAME) and is_whole(element) else line


def filled(told: str, before: str) -> str:
    """The whole again of what ``changed_lines`` told: what a page makes of it."""
    if SAME not in told:
        return told
    pairs = zip(told.split("\n"), before.split("\n"), strict=True)
    return "\n".join(was if line.lstrip() == SAME else line for line, was in pairs)
