"""Letters of one stroke: what they look like, how they stand apart, how words fill a room."""

from __future__ import annotations

import unicodedata

import numpy as np
import pytest
import shapely
from HersheyFonts import HersheyFonts
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import LineString, MultiLineString, Polygon, box

from jadeite.core.lettering import (
    Room,
    glyph_of,
    line_of,
    stencil,
    unwritable,
    written,
)
from jadeite.core.lettering.letters import STYLES, UNIT
from jadeite.core.lettering.spacing import AREA, FINE, white_between

LATIN = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789.,'-&"
ACCENTED = "áàâäãåāăąçćčďéèêëēėęěğíìîïīįķľłĺñńňóòôöõőøŕřśšşßťúùûüůűūųýÿźžżÁÅÇÉÖØŠÜŻŁ"
WORD = st.text(st.sampled_from(LATIN + ACCENTED), min_size=1, max_size=20)
NAME = st.lists(WORD, min_size=1, max_size=4).map(" ".join).filter(lambda s: len(s) <= 60)


@pytest.mark.parametrize("style", STYLES)
def test_every_letter_is_that_of_the_published_alphabet(style: str) -> None:
    """Hershey's own corners, as the package gives them: each lies on our stroke but for rounding.

    A corner that is rounded lies at most half of the rounded sides' sagitta away:
    2 units at up to 55 degrees is 2 (1 - cos 27.5) / 2 cos 27.5 < 0.5 units.
    """
    font = HersheyFonts()
    font.load_default_font(STYLES[style])
    for char in LATIN.replace("-", ""):
        lines = MultiLineString([LineString(s) for s in glyph_of(char, style).strokes])
        for stroke in font.all_glyphs[char].strokes:
            for x, y in stroke if len(stroke) > 1 else ():
                assert lines.distance(shapely.Point(x * UNIT, (9 - y) * UNIT)) < 0.5 * UNIT


def test_an_accent_is_above_or_below_its_letter_and_in_its_middle() -> None:
    """For every accented letter: the base's ink is kept, what is new lies clear of it."""
    for char in ACCENTED:
        base, *marks = unicodedata.normalize("NFD", char)
        if not marks or base in "ij" or marks[0] in "\u0327\u0328":  # a cedilla hangs on it
            continue
        plain, whole = glyph_of(base), glyph_of(char)
        old = [s.tobytes() for s in plain.strokes]
        new = [s for s in whole.strokes if s.tobytes() not in old]
        assert len(new) >= 1
        assert len(whole.strokes) - len(new) == len(old)
        ink = np.concatenate(new)
        assert ink[:, 1].min() > plain.box[3] or ink[:, 1].max() < min(plain.box[1], 0.0)
        middle = (plain.box[0] + plain.box[2]) / 2
        assert abs((ink[:, 0].min() + ink[:, 0].max()) / 2 - middle) < 1.2 * UNIT


def test_what_cannot_be_written_says_why() -> None:
    """Right to left, other alphabets, control characters; what looks alike is taken as such."""
    assert "right to left" in unwritable("משה")
    assert "right to left" in unwritable("مريم")
    assert "“王”" in unwritable("王 Li")
    assert "“Ω”" in unwritable("Ω")
    assert "cannot be seen" in unwritable("Ada\u200bRill")
    assert unwritable("O’Hara — “Bo”") == ""
    assert unwritable("æther", "script") != ""
    assert unwritable("æther Œuvre Straße") == ""


@settings(max_examples=300)
@given(one=st.sampled_from(LATIN), other=st.sampled_from(LATIN))
def test_property_the_white_between_two_letters_is_even(one: str, other: str) -> None:
    """Its area is the wanted one, unless ink would come too near; then it is more."""
    line, first = line_of(one + other), line_of(one)
    apart = line.strokes[len(first.strokes)][0, 0] - glyph_of(other).strokes[0][0, 0]
    white = white_between(one, other, float(apart))
    assert white >= AREA - 2 * FINE
    ink = [LineString(s) for s in line.strokes]
    count = len(first.strokes)
    near = shapely.union_all(ink[:count]).distance(shapely.union_all(ink[count:]))
    assert near > 2.4 * UNIT
    tucked = line.box[2] - line.box[0] <= sum(glyph_of(c).box[2] - glyph_of(c).box[0]
                                              for c in (one, other)) - 4.9 * UNIT  # fmt: skip
    assert white <= AREA + 2 * FINE or near < 5.5 * UNIT or tucked


def test_joined_letters_meet_where_they_join() -> None:
    """In the joined hand the end of each small letter is the beginning of the next, all pairs."""
    small = "abcdefghijklmnopqrstuvwxyz"
    for one in small:
        for other in small:
            line, count = line_of(one + other, "script"), len(glyph_of(one, "script").strokes)
            first = shapely.union_all([LineString(s) for s in line.strokes[:count]])
            rest = shapely.union_all([LineString(s) for s in line.strokes[count:]])
            assert first.distance(rest) < 0.6 * UNIT, one + other  # a pen is wider than that


@settings(max_examples=300)
@given(
    name=NAME,
    style=st.sampled_from(list(STYLES)),
    wide=st.floats(20, 120),
    high=st.floats(8, 50),
    wanted=st.floats(4, 20),
)
def test_property_words_lie_in_their_room_centred_by_their_ink(
    name: str, style: str, wide: float, high: float, wanted: float
) -> None:
    """Every name of 1 to 60 letters; as high as wanted, or as the room allows; all of it there."""
    if unwritable(name, style):
        name = "Ada Rill"
    room = Room(wide, high, wanted, wanted / 2, 0.5)
    said = written(name, room, style)
    points = np.concatenate(said.strokes)
    low, most = points.min(axis=0), points.max(axis=0)
    assert np.abs((low + most) / 2).max() < 1e-6
    assert (most - low + 0.5 <= np.array([wide, high]) + 1e-6).all()
    assert said.capital <= wanted
    assert said.size == pytest.approx(most - low + 0.5)
    letters = [line_of(line, style) for line in said.lines]
    assert sum(len(line.strokes) for line in letters) == len(said.strokes)
    assert "".join("".join(said.lines).split()) == "".join(line_of(name, style).text.split())
    if said.capital < wanted / 2 - 1e-6 and len(said.lines) < 3:  # no more lines would do better
        assert " " not in " ".join(name.split()) or wide < 120


def test_a_name_shrinks_then_breaks_in_as_few_lines_as_it_takes() -> None:
    """One line while it is no lower than the least, then two, then three."""
    room = Room(64.0, 26.0, 9.0, 4.0, 0.5)
    assert written("Ada Rill", room).capital == 9.0
    shrunk = written("Zoë Grünwald-Hollin", room)
    assert len(shrunk.lines) == 1
    assert 4.0 <= shrunk.capital < 9.0
    broken = written("Maximilian Featherstone-Hollinrigg", room)
    assert broken.lines == ("Maximilian", "Featherstone-Hollinrigg")
    three = written("Maximilian Bartholomew Featherstonehaugh-Hollinrigg-Cholmondeley", room)
    assert len(three.lines) == 3
    assert written("M" * 60, room).capital < 4.0


@settings(max_examples=150)
@given(name=NAME, wanted=st.floats(8, 20))
def test_property_cut_letters_leave_one_sheet(name: str, wanted: float) -> None:
    """What is cut out for a name leaves the label in one part: nothing falls out of a letter.

    Cuts do not touch. That a bridge beside an accent may be narrow is said by the flat checks.
    """
    said = written(name, Room(400.0, 60.0, wanted, wanted, 0.9))
    cuts = [Polygon(ring) for ring in stencil(said, 0.9)]
    assert all(cut.is_valid for cut in cuts)
    near, far = shapely.STRtree(cuts).query(cuts, "intersects")
    assert (near == far).all()
    label = box(-220, -40, 220, 40)
    left = label.difference(shapely.union_all(cuts))
    dust = [part.area for part in shapely.get_parts(left) if part.area > 0.2]
    assert len(dust) == 1
