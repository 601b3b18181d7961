"""Every edit says in the history what it did, comes back whole from JSON, and leaves the project before it alone."""

import pytest

from deftarc.core.document import Project
from deftarc.core.edit import EDIT, apply
from tests.every_edit import EDITS
from tests.prepared_edits import PREPARED, as_edit, prepared


@pytest.mark.parametrize(("kind", "fields", "label", "before"), [*((*each, ()) for each in EDITS), *PREPARED])
def test_an_edit_has_its_words_is_kept_and_is_made_again_from_its_json(kind, fields, label, before):
    before = prepared(before)
    as_it_was = before.model_dump_json()
    edit = as_edit(kind, fields)
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
    assert kinds == {each[0] for each in (*EDITS, *PREPARED)}
