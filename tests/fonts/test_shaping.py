"""Texts shaped with the shipped fonts: accents, letters a font lacks, directions, ligatures."""

from io import BytesIO

import numpy as np
import pytest
from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen

from deftarc.core.base.errors import Refusal
from deftarc.core.document.artwork import Text
from deftarc.core.evaluate import evaluate
from deftarc.demo.signal_font import signal_font
from deftarc.fonts.faces import FACES
from deftarc.fonts.shaping import Shaper
from tests.scenes import layer, numbers, scene

#: Capitals and small letters of the alphabets of Europe that are written in Latin.
EUROPE = (
    "ÀÁÂÃÄÅÆÇÈÉÊËÌÍÎÏÐÑÒÓÔÕÖØÙÚÛÜÝÞßàáâãäåæçèéêëìíîïðñòóôõöøùúûüýþÿ"
    "ĀāĂăĄąĆćĈĉĊċČčĎďĐđĒēĖėĘęĚěĜĝĞğĠġĢģĤĥĦħĨĩĪīĮįİıĴĵĶķĹĺĻļĽľŁłŃńŅņŇňŌōŐőŒœŔŕŖŗŘřŚśŜŝŞşŠšŢţŤťŪūŬŭŮůŰűŲųŴŵŶŷŸŹźŻżŽžȘșȚț"
)


@pytest.fixture
def shaper():
    return Shaper(lambda name: {"s": signal_font(), "h": hebrew()}[name[0]])


def hebrew():
    """A font of three right-to-left letters and two Latin ones, each a bar of its own height."""
    return bars({0x5D0: 100, 0x5D1: 200, 0x5D2: 300, ord("a"): 400, ord("b"): 500})


def bars(letters):
    """A font whose letters are bars, each of its own height."""
    made = FontBuilder(1000, isTTF=True)
    names = [".notdef", *(f"u{code:04x}" for code in letters)]
    made.setupGlyphOrder(names)
    made.setupCharacterMap({code: f"u{code:04x}" for code in letters})

    def bar(height):
        pen = TTGlyphPen(None)
        if height:
            pen.moveTo((0, 0))
            for corner in ((0, height), (400, height), (400, 0)):
                pen.lineTo(corner)
            pen.closePath()
        return pen.glyph()

    made.setupGlyf({".notdef": TTGlyphPen(None).glyph(), **{f"u{c:04x}": bar(h) for c, h in letters.items()}})
    made.setupHorizontalMetrics(dict.fromkeys(names, (500, 0)))
    made.setupHorizontalHeader(ascent=800, descent=-200)
    made.setupNameTable({"familyName": "Bars", "styleName": "Regular"})
    made.setupOS2()
    made.setupPost()
    out = BytesIO()
    made.save(out)
    return out.getvalue()


def apart_accents():
    return bars({ord("e"): 400, 0x301: 900})


def arabic():
    return bars({ord("س"): 300, ord("ل"): 400, ord("م"): 500, ord(" "): 0})


def heights(form):
    """The heights of the bars of a text, from left to right, in thousandths."""
    bars = form.letters.reshape(-1, 5, 2)
    order = np.argsort(bars[:, 0, 0])
    return [round(-1000 * float(bars[k, :, 1].min())) for k in order]


@pytest.mark.parametrize("face", FACES)
def test_every_shipped_face_writes_the_accents_of_europe(shaper, face):
    form, missing = shaper.shaped(Text(text=EUROPE, font=face))
    assert missing == ""
    # By itself, but for what only Esperanto, Livonian and a few others write: that comes from another shipped face.
    lent = {c for c in EUROPE if not any(ord(c) in part.letters for part in shaper.font(face))}
    assert lent <= set("ĈĉĜĝĤĥĨĩĴĵŌōŖŗŜŝŢţŬŭ")
    assert form.verbs.count("M") > len(EUROPE)


def test_decomposed_accents_are_the_composed_letters(shaper):
    one, other = (shaper.form(Text(text=words)) for words in ("Café", "Cafe\u0301"))
    assert one.verbs == other.verbs
    assert one.letters == pytest.approx(other.letters)


def test_a_letter_is_put_together_of_what_the_face_has_before_another_face_is_asked(shaper):
    # The signal font has no accents at all: a letter of another face, with curves.
    assert "C" in shaper.form(Text(text="é", font="own-s")).verbs
    form = Shaper(lambda name: apart_accents()).form(Text(text="é", font="own-a"))
    assert len(heights(form)) == 2
    assert "C" not in form.verbs


def test_a_tab_goes_on_to_the_next_stop_and_controls_take_no_room(shaper):
    def begins(words, **how):
        form = shaper.form(Text(text=words, font="own-h", align="start", **how))
        bars = form.letters.reshape(-1, 5, 2)
        return sorted(round(float(bar[:, 0].min()), 6) for bar in bars), form

    one, _ = begins("a\tb")
    stop = one[1]
    assert stop > 0.5
    assert begins("aa\tb")[0][2] == stop
    assert begins("\tb")[0] == [stop]
    assert begins("ab\u200e")[0] == begins("a\u2066\u2069b")[0] == begins("ab")[0]
    # Spacing does not count them either.
    shifts = [begins(words, letter_spacing=0.1)[1].shifts[:, 0].max() for words in ("ab", "a\u200eb", "ab\u2069")]
    assert shifts == [1, 1, 1]


def test_spacing_tears_no_joined_word_apart():
    face = Shaper(lambda name: arabic())
    words = Text(text="سلم سل", font="own-a", align="start")
    spaced = words.changed(letter_spacing=0.3)
    # Three letters, a blank, two letters: the gaps are those about the blank.
    assert sorted(set(face.form(spaced).shifts[:, 0])) == [0, 2]
    assert face.form(spaced).verbs == face.form(words).verbs
    # Each is a letter of its own all the same.
    assert len(set(face.form(spaced).places)) == 5


def test_a_letter_that_a_font_lacks_comes_from_a_shipped_face(shaper):
    form, missing = shaper.shaped(Text(text="BELL o", font="own-s"))
    assert missing == ""
    # The signal font has lines only; an o of another face has curves.
    assert "C" in form.verbs
    assert "C" not in shaper.form(Text(text="BELL", font="own-s")).verbs


def test_a_letter_that_no_font_has_is_told_by_name_and_drawn_as_nothing(shaper):
    form, missing = shaper.shaped(Text(text="Quay ま", font="young-serif-400"))
    assert "hiragana letter ma" in missing
    plain, none = shaper.shaped(Text(text="Quay ", font="young-serif-400"))
    assert none == ""
    assert form.verbs == plain.verbs
    assert shaper.trouble(Text(text="Quay ま", font="young-serif-400")) == missing


@pytest.mark.parametrize(
    ("words", "order"),
    [
        ("אבג", [300, 200, 100]),
        ("abאבג", [400, 500, 300, 200, 100]),
        ("אבab", [400, 500, 200, 100]),
        ("אabב", [200, 400, 500, 100]),
        ("ab\u202eab\u202c", [400, 500, 500, 400]),
    ],
)
def test_mixed_directions_follow_the_unicode_algorithm(shaper, words, order):
    assert heights(shaper.form(Text(text=words, font="own-h"))) == order


def test_spaced_letters_make_no_ligatures(shaper):
    joined = Text(text="office", font="young-serif-400")
    spaced = joined.changed(letter_spacing=0.1)
    assert shaper.form(spaced).verbs != ""
    assert len(np.unique(shaper.form(spaced).shifts[:, 0])) == 6
    # Keyed, they are apart at all times, at nought as well.
    made = layer("Word", joined, letter_spacing=numbers((0, 0), (20, 0.2)))
    item = evaluate(scene(made), [0], shaper.form).leaf("word")
    assert item.outline.verbs[0] == shaper.form(spaced).verbs


def test_a_font_that_is_not_here_is_refused_by_what_is_asked_and_drawn_as_nothing():
    def none(name):
        raise Refusal("There is no file here.")

    shaper = Shaper(none)
    with pytest.raises(Refusal):
        shaper.shaped(Text(text="Quay", font="own-x"))
    assert shaper.form(Text(text="Quay", font="own-x")).verbs == ""
