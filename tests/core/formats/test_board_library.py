"""The maker's own boards, there and back again."""

from __future__ import annotations

import csv
import io
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jadeite.core.boards import CATALOGUE, Board, board_by_key, board_from_words
from jadeite.core.errors import FileError
from jadeite.core.formats import project_from_text, project_text
from jadeite.core.formats.board_library import (
    boards_csv,
    boards_from_csv,
    boards_json,
    load_boards,
    merged,
    save_boards,
)
from jadeite.core.project import Task, changed
from tests.jobs import project_of

OWN = replace(
    board_from_words("80 lb cover 11 pt"),
    title='=SUM(A1), "sand"',
    sheets=((304.8, 304.8), (215.9, 279.4)),
    price=0.65,
    colour="#E3D7BD",
)


@pytest.mark.parametrize("ending", ["json", "csv"])
def test_there_and_back(tmp_path: Path, ending: str) -> None:
    """The catalogue and an own board survive both kinds of file."""
    path = tmp_path / f"boards.{ending}"
    boards = (*CATALOGUE, OWN)
    save_boards(boards, path)
    assert load_boards(path) == boards


def test_csv_is_plain_for_a_spreadsheet() -> None:
    """One row for each, nothing that a spreadsheet would run."""
    rows = list(csv.DictReader(io.StringIO(boards_csv((OWN,)))))
    assert rows[0]["title"].startswith("'=")
    assert rows[0]["sheets_mm"] == "304.8x304.8; 215.9x279.4"
    assert rows[0]["basis_kind"] == "cover"


@given(
    st.floats(0.02, 3.0),
    st.floats(10, 2000),
    st.sampled_from(["long", "short", "none"]),
    st.text(st.characters(codec="utf-8", exclude_categories=["Cs", "Cc"]), min_size=1, max_size=20),
)
def test_property_any_board_survives(
    thickness: float, grammage: float, grain: str, note: str
) -> None:
    """Numbers to the last digit."""
    board = replace(OWN, thickness=thickness, grammage=grammage, grain=grain, note=note.strip())
    assert boards_from_csv(boards_csv((board,))) == (board,)


def test_a_short_table_is_enough() -> None:
    """Key, title, grammage and thickness; the rest is usual."""
    board = boards_from_csv("key,title,grammage_g_m2,thickness_mm\r\nkraft,Kraft,280,0.36\r\n")[0]
    assert (board.grammage, board.thickness, board.score) == (280.0, 0.36, "yes")


HEAD = "key,title,grammage_g_m2,thickness_mm,score\n"


@pytest.mark.parametrize(
    ("text", "place"),
    [
        ("", "row 1"),
        ("key,title\na,A\n", "the column grammage_g_m2 is missing"),
        (HEAD.replace("score", "weather") + "a,A,1,1,x\n", "there is no column “weather”"),
        (HEAD + "a,A,200,0.2,folded\n", "board 1, score"),
        (HEAD + "a,A,200,0.2,yes\na,A,200,0.2,yes\n", "“a” stands twice"),
        (HEAD + "a,A,200,thick,yes\n", "board 1, thickness"),
        (HEAD + "a,A,nan,0.2,yes\n", "board 1, grammage"),
        (HEAD + "a,A,200,0.2\n", "row 2"),
        (HEAD + 'a,"A,200,0.2\n', "CSV"),
        (HEAD.strip() + ",sheets_mm\na,A,200,0.2,yes,big\n", "row 2, sheets_mm"),
        (HEAD.strip() + ",basis_kind,basis_lb\na,A,200,0.2,yes,wool,3\n", "wool"),
    ],
)
def test_a_bad_table_names_the_place(text: str, place: str) -> None:
    """Row and column, or what is missing."""
    with pytest.raises(FileError) as caught:
        boards_from_csv(text)
    assert place in str(caught.value)


@pytest.mark.parametrize(
    ("text", "place"),
    [
        ("{", "line 1"),
        ("[]", "field format"),
        ('{"format": "jadeite-boards", "version": 9}', "newer Jadeite"),
        ('{"format": "jadeite-boards", "version": 1}', "field boards"),
        ('{"format": "jadeite-boards", "version": 1, "boards": [{"key": "a"}]}', "board 1"),
    ],
)
def test_a_bad_file_names_the_place(tmp_path: Path, text: str, place: str) -> None:
    """And the file stays as it was."""
    path = tmp_path / "boards.json"
    path.write_text(text)
    with pytest.raises(FileError) as caught:
        load_boards(path)
    assert place in str(caught.value)
    assert path.read_text() == text


def test_new_boards_replace_those_of_the_same_key() -> None:
    """Nothing else is lost."""
    other = replace(OWN, thickness=0.3)
    plain = board_by_key("text")
    assert merged((OWN, plain), (other,)) == (other, plain)
    assert '"jadeite-boards"' in boards_json(())


def test_a_project_carries_its_own_boards() -> None:
    """It opens where the library does not know them."""
    task = changed(Task(), own_boards=(OWN,), boards={"tray": OWN.key})
    project = project_of(task)
    again = project_from_text(project_text(project))
    assert again == project
    assert isinstance(again.own_boards[0], Board)
    broken = project_text(project).replace('"cover"', '"wool"')
    with pytest.raises(FileError, match="no kind of paper"):
        project_from_text(broken)
