"""Every template escapes what it is given, and nothing but our own functions makes markup."""

import re
from pathlib import Path

import pytest

from deftarc.web.context import HERE, templates

SOURCE = HERE.parent
TEMPLATES = [path for path in sorted((HERE / "templates").rglob("*")) if path.is_file()]
#: The functions that put markup together of numbers and of what they escape themselves.
MAKERS = {"web/context.py", "web/panels/bead.py", "web/panels/pair/handles.py", "web/panels/figures/panel.py"}


@pytest.mark.parametrize("path", TEMPLATES, ids=lambda path: path.name)
def test_no_template_says_that_something_is_safe(path):
    text = path.read_text()
    assert not re.search(r"\|\s*safe\b|autoescape|Markup", text)
    # An attribute without quotes ends at the first space of what is put into it.
    assert not re.search(r"\s[\w-]+=\{\{", text)


def test_every_template_is_escaped_whatever_its_ending():
    assert {path.suffix for path in TEMPLATES} == {".html", ".svg"}
    assert templates.env.autoescape is True
    made = templates.env.from_string("{{ name }}").render(name="<evil-x>")
    assert made == "&lt;evil-x&gt;"


def test_markup_is_made_in_few_places():
    makers = {
        str(path.relative_to(SOURCE)) for path in SOURCE.rglob("*.py") if re.search(r"\bMarkup\(", path.read_text())
    }
    assert makers == MAKERS


def test_scripts_make_elements_of_what_the_server_drew_alone():
    known = {
        "dialogs.js", "easing.js", "fragments.js", "render.js", "rows.js", "tryouts.js", "register.js",
    }  # fmt: skip
    scripts = (Path(HERE) / "static" / "js").rglob("*.js")
    sinks = {path.name for path in scripts if re.search(r"innerHTML|outerHTML|insertAdjacentHTML", path.read_text())}
    assert sinks <= known, sinks - known
