"""A project in which every text is markup: names and words of all kinds, found by walking the models."""

from itertools import count

from pydantic import ValidationError

from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Frozen

#: Ten sorts. Each would make an element `evil-x`, run something that says so, or ask for something at /evil.
SORTS = (
    '<evil-x></evil-x><iframe srcdoc="<script src=/static/vendor/htmx/htmx.min.js></script>"></iframe>',
    "<img src=/evil onerror=window.evil=1><evil-x>",
    '"><svg onload=window.evil=1><evil-x/></svg>',
    "' onmouseover=window.evil=1 data-evil='",
    "<evil-x hx-post=/evil hx-trigger=load data-evil>",
    "</title></text><script>window.evil=1</script><evil-x>",
    "]]></style><style>*{background:url(/evil)}</style><evil-x>",
    "{{ 7 * 7 }}{% include 'start.html' %}${window.evil=1}<evil-x>",
    '"] , [data-evil] > evil-x, a:not([href="javascript:window.evil=1',
    "--><math><mtext></mtext><evil-x><a href=javascript:window.evil=1>\u202eevil\u2066",
)


def marked_up(model, numbers=None):
    """The same thing with each of its texts one of the sorts: each that may be anything, as the models themselves say."""
    numbers = numbers or count()
    for name in type(model).model_fields:
        value = getattr(model, name)
        for made in _candidates(value, numbers):
            if made is not value and _sound(changed := model.model_copy(update={name: made})):
                model = changed
                break
    return model


def _candidates(value, numbers):
    """What a field may be instead, the most marked up first."""
    if isinstance(value, str):
        number = next(numbers)
        for length in (110, 40, 20):
            yield f"{number}{SORTS[number % len(SORTS)]}"[:length]
    elif isinstance(value, Frozen):
        yield marked_up(value, numbers)
    elif isinstance(value, tuple):
        made = tuple(next(iter(_candidates(each, numbers)), each) for each in value)
        if any(a is not b for a, b in zip(made, value, strict=True)):
            yield made
        # Where not all of them can be, some may.
        for n, each in enumerate(value):
            if made[n] is not each:
                yield (*value[:n], made[n], *value[n + 1 :])
    elif isinstance(value, dict):
        made = {name: next(iter(_candidates(each, numbers)), each) for name, each in value.items()}
        if any(made[name] is not value[name] for name in value):
            yield made


def _sound(model):
    """Whether a thing may be so: what is an id, a colour or one of some words may not, nor what others name."""
    try:
        type(model).model_validate(model.model_dump())
    except (ValidationError, Refusal, ValueError, TypeError, KeyError):
        return False
    return True


def texts_of(model, at=""):
    """Each text of a thing, with the fields that lead to it."""
    if isinstance(model, Frozen):
        for name in type(model).model_fields:
            yield from texts_of(getattr(model, name), f"{at}.{name}")
    elif isinstance(model, tuple):
        for each in model:
            yield from texts_of(each, at)
    elif isinstance(model, dict):
        for each in model.values():
            yield from texts_of(each, at)
    elif isinstance(model, str):
        yield at, model
