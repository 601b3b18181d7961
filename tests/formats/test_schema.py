"""The published JSON Schema takes every document that is written, and refuses what is refused, as far as a schema can."""

import copy
import json
import random

import jsonschema_rs
import pytest
from pydantic import ValidationError

from deftarc.core.document import Project
from deftarc.core.edit import EDIT, apply
from deftarc.demo import build
from tests.every_edit import EDITS, WITHOUT_SCENE, harbour

SCHEMA = jsonschema_rs.Draft202012Validator(Project.model_json_schema())
#: What one part of a document must be to another, which a schema cannot say: docs/format.md lists the same.
BETWEEN_PARTS = (
    "rising times", "lies on its path", "points exactly when it has keys", "passed in their order", "ends after it starts",
    "share one id", "carried by a layer that is not there", "carry each other in a ring", "wrong kind of track",
    "There is no property", "has no ", "as many numbers as", "has the points of its path", "A colour has four numbers",
    "handles of their own", "closed path", "runs back in time", "together reach", "linked", "split", "evenly", "One part",
    "above nought", "Takes have an id", "one set of takes", "order of their times", "A tied key", "What is tied",
    "held by nothing", "tied to one other", "A hold", "steps", "tension", "A loose", "whole frame", "craft", "knots", "begins", "rate",
)  # fmt: skip
UNSCENED = WITHOUT_SCENE


def documents():
    """The demo, the harbour, and the harbour after each kind of edit."""
    yield build()[0]
    yield harbour()
    for kind, fields, _ in EDITS:
        scene = {} if kind in UNSCENED else {"scene": "crossing"}
        yield apply(harbour(), EDIT.validate_python({"kind": kind, **scene, **fields}))


WRITTEN = [json.loads(each.model_dump_json(exclude_defaults=True)) for each in documents()]


def places(data, path=()):
    """The paths of all parts of a document, of long rows the first few."""
    if path:
        yield path
    rows = data.items() if isinstance(data, dict) else enumerate(data[:6]) if isinstance(data, list) else ()
    for name, inner in rows:
        yield from places(inner, (*path, name))


def mutant(dice):
    """A document with one thing in it that is gone, of another kind, too much, or strange."""
    made = copy.deepcopy(dice.choice(WRITTEN[1:]))
    path = dice.choice(list(places(made)))
    parent = made
    for name in path[:-1]:
        parent = parent[name]
    old = parent[path[-1]]
    how = dice.choice(["gone", "kind", "large", "negative", "strange", "words", "none", "nought"])
    if how == "gone":
        del parent[path[-1]]
    elif how == "strange" and isinstance(old, dict):
        old["wing"] = 1
    else:
        parent[path[-1]] = {
            "kind": {"a": 1} if not isinstance(old, dict) else 5, "large": 1e30, "negative": -7, "strange": [old],
            "words": "wibble", "none": None, "nought": 0,
        }[how]  # fmt: skip
    return made


def refused(data):
    """The first reason the application has to refuse a document; None where it takes it."""
    try:
        Project.model_validate_json(json.dumps(data))
    except ValidationError as error:
        return str(error)
    except ValueError as error:
        return str(error)
    return None


@pytest.mark.parametrize("n", range(len(WRITTEN)))
def test_what_is_written_is_taken(n):
    assert not list(SCHEMA.iter_errors(WRITTEN[n]))


def test_five_hundred_mutants_that_are_refused_are_refused_by_the_schema_too():
    dice = random.Random(30)
    seen = 0
    while seen < 500:
        made = mutant(dice)
        why = refused(made)
        if why is None:
            continue
        seen += 1
        if SCHEMA.is_valid(made):
            assert any(words in why for words in BETWEEN_PARTS), why


def test_five_hundred_mutants_that_are_taken_are_taken_once_they_are_written():
    dice = random.Random(31)
    seen = 0
    while seen < 500:
        made = mutant(dice)
        if refused(made) is not None:
            continue
        seen += 1
        again = Project.model_validate_json(json.dumps(made)).model_dump_json(exclude_defaults=True)
        assert SCHEMA.is_valid(json.loads(again))
