"""Every edit says in the history what it did, comes back whole from JSON, and leaves the project before it alone."""

import pytest

from deftarc.core.document import Project
from deftarc.core.edit import EDIT, apply
from tests.every_edit import EDITS, WITHOUT_SCENE, harbour


@pytest.mark.parametrize(("kind", "fields", "label"), EDITS)
def test_an_edit_is_told_kept_and_made_again_from_its_json(kind, fields, label):
    before = harbour()
    as_it_was = before.model_dump_json()
    scene = {} if kind in WITHOUT_SCENE else {"scene": "crossing"}
    edit = EDIT.validate_python({"kind": kind, **scene, **fields})
    assert edit.label(before) == label
    after = apply(before, edit)
    assert after != before
    assert before.model_dump_json() == as_it_was
    again = EDIT.validate_json(edit.model_dump_json(exclude_defaults=True))
    assert again.label(before) == label
    # What an edit makes is a sound document: it is read back as it is.
    assert Project.model_validate_json(after.model_dump_json(exclude_defaults=True)) == after


def test_the_table_knows_the_edits_there_are():
    from typing import get_args

    from deftarc.core.edit import Edit

    kinds = {edit.model_fields["kind"].default for edit in get_args(get_args(Edit)[0])}
    told = {kind for kind, _, _ in EDITS}
    # These need something made before them, and are told in the tests of what makes it.
    elsewhere = {
        "add_scene", "delete_scene", "add_font", "forget_shelf", "unlink", "take_apart", "ungroup", "clear_loose", "restore_layers",
        "forget_ease", "forget_motion", "type_craft", "change_links", "change_shown", "cut_links", "carry_later", "lay_relations",
        "bring_again",
    }  # fmt: skip
    assert kinds == told | elsewhere
