"""What every document model is: plain data, alike when its fields are."""

from tests.scenes import floated


def test_tracks_are_alike_whatever_they_have_worked_out():
    """Kept arrays are no part of a track: laid side by side they raised an error."""
    one, other = floated(), floated()
    shorter = one.changed(keys=one.keys[:-1])
    assert one.curve.measures.size == other.curve.measures.size > shorter.curve.measures.size
    assert one is not other
    assert one == other
    assert hash(one) == hash(other)
    assert one != shorter
    assert one != "a track"
