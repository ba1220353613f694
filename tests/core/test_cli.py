"""The command line, as scripts use it."""

from __future__ import annotations

import csv
import json
from pathlib import Path

import pytest

from jadeite import __version__, cli
from jadeite.core.boards import board_from_words
from jadeite.core.formats import load_project, save_project
from jadeite.core.formats.board_library import save_boards
from jadeite.core.project import Hollow, Task, changed
from tests.jobs import only, project_of


def run(capsys: pytest.CaptureFixture[str], *words: str) -> tuple[int, str, str]:
    """Exit code, output, errors."""
    try:
        code = cli.main(list(words))
    except SystemExit as exit_:
        code = int(exit_.code or 0)
    captured = capsys.readouterr()
    return code, captured.out, captured.err


@pytest.fixture
def box(tmp_path: Path) -> Path:
    """A project made by the command line."""
    file = tmp_path / "box.jadeite"
    assert cli.main(["new", "tray-with-lid", "--inside", "96x64x41mm", "-o", str(file)]) == 0
    return file


def test_new_takes_a_board_off_the_makers_own_shelf(capsys, tmp_path, monkeypatch) -> None:  # type: ignore[no-untyped-def]
    """The file then holds the board, so that it is whole elsewhere; a bad shelf is said."""
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    board = board_from_words("80 lb cover")
    shelf = tmp_path / "jadeite" / "boards.json"
    shelf.parent.mkdir()
    save_boards((board,), shelf)
    file = tmp_path / "own.jadeite"
    words = ("new", "sleeve", "--inside", "70x90x6mm", "--board", board.key, "-o", str(file))
    assert run(capsys, *words)[0] == 0
    project = only(load_project(file))
    assert project.own_boards == (board,)
    assert project.boards == {"sleeve": board.key}
    shelf.write_text("[]")
    code, _, err = run(capsys, *words)
    assert code == 2
    assert "boards.json" in err


def test_shapes_lists_options_with_ranges(capsys) -> None:  # type: ignore[no-untyped-def]
    """The record that the format promises."""
    code, out, _ = run(capsys, "shapes", "--json")
    assert code == 0
    tray = next(f for f in json.loads(out) if f["key"] == "tray-with-lid")
    for option in tray["options"]:
        assert {"key", "label", "unit", "default", "help"} <= set(option)
        assert ("choices" in option) != ("min" in option and "max" in option)
    depth = next(o for o in tray["options"] if o["key"] == "lid-depth")
    assert depth["min"] < depth["default"] < depth["max"]
    assert "tray-with-lid" in run(capsys, "shapes")[1]


def test_new_sets_board_and_options(capsys, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """Only what was set is in the file."""
    file = tmp_path / "a.jadeite"
    code, _, err = run(
        capsys,
        "new",
        "tray-with-lid",
        "--board",
        "craft-board",
        "--inside",
        "4x3x2in",
        "--set",
        "lid-depth=2 cm",
        "--set",
        "tabs=outside",
        "-o",
        str(file),
    )
    assert (code, err) == (0, "")
    project = only(load_project(file))
    assert project.shape.options == {"lid-depth": 20.0, "tabs": "outside"}
    assert project.boards == {"tray": "craft-board", "lid": "craft-board"}
    assert project.inside == pytest.approx((101.6, 76.2, 50.8))


@pytest.mark.parametrize(
    ("words", "part"),
    [
        (("new", "pyramid-of-gold"), "tray-with-lid"),
        (("new", "tray-with-lid", "--inside", "0x60x40mm"), "inside, length"),
        (("new", "tray-with-lid", "--inside=-5x60x40mm"), "inside, length"),
        (("new", "tray-with-lid", "--inside", "nanx60x40mm"), "inside, length"),
        (("new", "tray-with-lid", "--inside", "10000000x60x40mm"), "inside, length"),
        (("new", "tray-with-lid", "--inside", "10x60x40mm"), "Use 15.0 mm"),
        (("new", "tray-with-lid", "--inside", "twelve"), "three lengths"),
        (("new", "tray-with-lid", "--board", "plywood"), "medium-card"),
        (("new", "tray-with-lid", "--set", "lid-depth"), "option=value"),
        (("new", "tray-with-lid", "--set", "colour=red"), "lid-depth"),
        (("new", "tray-with-lid", "--set", "lid-depth=deep"), "lid-depth"),
        (("new", "tray-with-lid", "--set", "tabs=both"), "inside, outside"),
    ],
)
def test_bad_words_give_one_line_and_exit_two(words, part, capsys, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """The field and the cure, no traceback, no file."""
    file = tmp_path / "a.jadeite"
    code, out, err = run(capsys, *words, "-o", str(file))
    assert code == 2
    assert out == ""
    assert err.count("\n") == 1
    assert part in err
    assert not file.exists()


def test_check_tells_sizes_findings_joints(capsys, box) -> None:  # type: ignore[no-untyped-def]
    """And exits 0 when nothing blocks."""
    code, out, _ = run(capsys, "check", str(box), "--json")
    told = json.loads(out)
    assert code == 0
    assert set(told) == {"sizes", "findings", "joints", "bought", "sheets"}
    assert told["bought"] == []
    assert len([j for j in told["joints"] if j["kind"] == "glue"]) == 8
    for joint in told["joints"]:
        assert set(joint) == {"kind", "tab", "target", "angle_deg", "distance_mm", "landed"}
    code, out, _ = run(capsys, "check", str(box))
    assert code == 0
    assert "8 of 8 glue joints" in out


def test_what_is_needed_besides_board_is_told_and_written(capsys, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """A pearl and a wire for each of three flowers: in words, as JSON, in the tables."""
    file, out_folder = tmp_path / "bloom.jadeite", tmp_path / "out"
    words = ("--set", "centre-piece=pearl", "--set", "stem=wire", "--copies", "3")
    code, _, err = run(capsys, "new", "layered-flower", "--width", "90mm", *words, "-o", str(file))
    assert (code, err) == (0, "")
    code, out, _ = run(capsys, "check", str(file), "--json")
    assert [(b["name"], b["count"], b["length_mm"]) for b in json.loads(out)["bought"]] == [
        ("stem wire", 3, 175.0),
        ("pearl", 3, 0.0),
    ]
    _, out, _ = run(capsys, "check", str(file))
    assert "Besides board: 3 pearls, 5.0 mm" in out
    code, _, _ = run(capsys, "export", str(file), "--only", "csv", "-o", str(out_folder))
    assert code == 0
    (table,) = out_folder.glob("*-bought.csv")
    rows = list(csv.reader(table.read_text(encoding="utf-8-sig").splitlines()))
    assert rows[1][1:] == ["stem wire", "3", "0.9", "175.0", "525.0", "0.0"]


def test_an_outline_of_petals_is_read_from_a_drawing(capsys, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """By its file name; it is kept in the project as numbers."""
    drawing, file = tmp_path / "petal.svg", tmp_path / "bloom.jadeite"
    path = '<path d="M20 60 Q-5 20 20 0 Q45 20 20 60 Z"/>'
    drawing.write_text(f'<svg xmlns="http://www.w3.org/2000/svg">{path}</svg>', "utf-8")
    words = ("new", "layered-flower", "--width", "90mm", "--set", f"outline={drawing}")
    code, _, err = run(capsys, *words, "-o", str(file))
    assert (code, err) == (0, "")
    kept = json.loads(file.read_text("utf-8"))["items"][0]["shape"]["options"]["outline"]
    assert kept.startswith("own widths=1-")
    assert run(capsys, "check", str(file))[0] == 0


def test_a_piece_that_fits_no_sheet_needs_a_look_but_does_not_block(capsys, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """A finding, exit 0."""
    file = tmp_path / "large.jadeite"
    save_project(project_of(changed(Task(), brief=Hollow(size=(600.0, 500.0, 100.0)))), file)
    code, out, _ = run(capsys, "check", str(file), "--json")
    assert code == 0
    finding = next(f for f in json.loads(out)["findings"] if f["code"] == "piece-fits-no-sheet")
    assert finding["level"] == "look"
    assert "larger sheet" in finding["message"]


def test_contents_that_do_not_fit_block(capsys, tmp_path, eyepiece_box) -> None:  # type: ignore[no-untyped-def]
    """Exit 1; the thing is named, with what lacks and a size that works."""
    file = tmp_path / "tight.jadeite"
    save_project(project_of(changed(eyepiece_box, brief=Hollow(size=(80.0, 70.0, 40.0)))), file)
    code, out, _ = run(capsys, "check", str(file), "--json")
    assert code == 1
    finding = next(f for f in json.loads(out)["findings"] if f["level"] == "blocked")
    assert finding["code"] == "contents-too-big"
    assert "lacks 10.0 mm" in finding["message"]
    assert finding["cure"]
    code, _, err = run(capsys, "export", str(file), "-o", str(tmp_path / "out"))
    assert code == 2
    assert "Nothing was written" in err
    assert not (tmp_path / "out").exists()


def test_export_writes_and_lists(capsys, box, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """Only what is asked for."""
    code, out, _ = run(capsys, "export", str(box), "-o", str(tmp_path / "o"), "--only", "svg,csv")
    assert code == 0
    listed = [Path(line) for line in out.splitlines()]
    assert all(p.exists() for p in listed)
    assert {p.suffix for p in listed} == {".svg", ".csv"}
    code, _, err = run(capsys, "export", str(box), "-o", str(tmp_path / "p"), "--only", "doc")
    assert (code, "svg,dxf,pdf" in err) == (2, True)


def test_missing_files_help_and_version(capsys, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """Every command helps; a missing file is one line."""
    for words in (
        ["check", str(tmp_path / "no.jadeite")],
        ["export", str(tmp_path / "no.jadeite"), "-o", str(tmp_path)],
        [str(tmp_path / "no.jadeite")],
    ):
        code, _, err = run(capsys, *words)
        assert code == 2
        assert "no such file" in err
        assert err.count("\n") == 1
    assert run(capsys, "--version")[1].strip() == f"Jadeite {__version__}"
    for words in (["--help"], *([c, "--help"] for c in cli.COMMANDS)):
        code, out, _ = run(capsys, *words)
        assert code == 0
        assert "usage: jadeite" in out
    assert run(capsys, "chekc")[0] == 2
    assert run(capsys, "--nonsense")[0] == 2


def test_unknown_keys_in_a_file_are_named(capsys, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """A shape or board that this version does not have."""
    for text, part in (
        ('{"format": "jadeite-project", "version": 1, "shape": {"key": "teapot"}}', "teapot"),
        (
            '{"format": "jadeite-project", "version": 1, "inside": [60, 50, 40],'
            ' "boards": {"tray": "plywood"}}',
            "plywood",
        ),
        (
            '{"format": "jadeite-project", "version": 1, "inside": [60, 50, 40],'
            ' "cutter": "laser"}',
            "laser",
        ),
    ):
        file = tmp_path / "a.jadeite"
        file.write_text(text)
        code, _, err = run(capsys, "check", str(file))
        assert code == 2
        assert part in err


def test_a_net_that_no_cut_parts_cleanly_is_said(capsys, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """A steep flared tray on a middle cutter: a panel would be left as a hair."""
    file = tmp_path / "flared.jadeite"
    words = ("new", "flared-tray", "--inside", "62x62x94mm", "--set", "measured=round")
    more = ("--set", "flare=11", "--cutter", "middle", "-o", str(file))
    assert run(capsys, *words, *more)[0] == 0
    code, out, err = run(capsys, "check", str(file))
    assert code in (0, 1)
    assert err == ""
    assert "Closes:" in out


def test_one_board_for_all_leaves_parts_that_need_their_own(capsys, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """A latch's pad must be thicker than the latch, whatever the chest is made of."""
    file = tmp_path / "chest.jadeite"
    words = ("new", "chest", "--inside", "90x60x40mm", "--board", "heavy-card", "-o", str(file))
    assert run(capsys, *words) == (0, "", "")
    assert "pad" not in only(load_project(file)).boards


def test_an_empty_inside_is_an_error(capsys, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """Not taken for none given."""
    file = tmp_path / "none.jadeite"
    code, _, err = run(capsys, "new", "tray-with-lid", "--inside", "", "-o", str(file))
    assert code == 2
    assert "inside" in err
    assert not file.exists()


def test_windows_in_walls_leave_covered_walls_whole(capsys, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """Behind a rolled-over wall nothing shines through; a single wall gets its window."""
    for walls, made in (("double", False), ("single", True)):
        file = tmp_path / f"{walls}.jadeite"
        words = ("new", "tray-with-lid", "--inside", "90x70x50mm", "--set", f"tray-walls={walls}")
        code, _, err = run(capsys, *words, "--window", "walls=leaves", "-o", str(file))
        if made:
            assert code == 0, err
        if code == 0:
            code, out, _ = run(capsys, "check", str(file), "--json")
            codes = {f["code"] for f in json.loads(out)["findings"]}
            assert "cutout-covered" not in codes
        else:
            assert "window" in err


def test_flowers_are_made_by_their_finished_width(capsys, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """The sizes that scripts read; a ring's words are typed with commas or spaces."""
    file = tmp_path / "flower.jadeite"
    words = ["new", "layered-flower", "--width", "120mm", "--set", "petals=5,4,4,3,3"]
    assert run(capsys, *words, "-o", str(file))[0] == 0
    code, out, _ = run(capsys, "check", str(file), "--json")
    assert code == 0
    sizes = json.loads(out)["sizes"]
    assert sizes["finished-width"]["value"] == pytest.approx(120.0, abs=0.01)
    assert 8.0 < sizes["finished-height"]["value"] < 40.0
    assert 70.0 < sizes["fullness"]["value"] <= 100.0
    rolled = tmp_path / "rolled.jadeite"
    assert run(capsys, "new", "rolled-flower", "--width", "30mm", "-o", str(rolled))[0] == 0
    sizes = json.loads(run(capsys, "check", str(rolled), "--json")[1])["sizes"]
    assert {"finished-width", "finished-height", "fullness", "hollow-centre"} <= set(sizes)
    assert sizes["strip-length"]["value"] > 400.0


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (["--set", "petals=5 x"], "petals"),
        (["--set", "outline=rose"], "outline"),
        (["--inside", "60x60x40mm"], "--width"),
        (["--width", "9mm"], "Use 25"),
    ],
)
def test_what_a_flower_cannot_be_is_said(
    capsys, tmp_path: Path, words: list[str], said: str
) -> None:  # type: ignore[no-untyped-def]
    """One line that names the field and what works; nothing is written."""
    file = tmp_path / "flower.jadeite"
    code, _, err = run(capsys, "new", "layered-flower", *words, "-o", str(file))
    assert code == 2
    assert said in err
    assert not file.exists()


def test_sheets_and_glue_are_said(capsys, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """By name (ISO 216: A4 is 210 x 297 mm) or by size, with a count; the whole job has them."""
    file = tmp_path / "tray.jadeite"
    words = ("new", "tray-with-lid", "--inside", "60x50x30mm", "-o", str(file))
    more = ("--sheet", "A4:5", "--sheet", "8x20in", "--glue", "glue-stick")
    assert run(capsys, *words, *more) == (0, "", "")
    project = load_project(file)
    assert [(s.name, s.width, s.height, s.count) for s in project.stock] == [
        ("A4", 210.0, 297.0, 5),
        ("8x20in", pytest.approx(203.2), pytest.approx(508.0), None),
    ]
    assert project.adhesive == "glue-stick"
    code, out, _ = run(capsys, "check", str(file))
    assert (code, "Closes:" in out) == (0, True)
    for wrong, part in (("a9", "a4"), ("a4:0", "a4:5"), ("0x5mm", "210x594mm")):
        code, _, err = run(capsys, *words, "--sheet", wrong)
        assert code == 2
        assert "--sheet" in err
        assert part in err
    assert "glue-stick" in run(capsys, *words, "--glue", "paste")[2]
    assert load_project(file) == project


def test_sheets_at_hand_come_from_a_table_and_are_counted(capsys, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """Offcuts of it are used first; check tells of sheets and of the fewest, also as JSON."""
    table = tmp_path / "sheets.csv"
    table.write_text(
        "name,width_mm,height_mm,count,board,outline_mm\r\n"
        "12 × 12 in,304.8,304.8,3,,\r\n"
        "left over,250,250,1,medium-card,0 0; 250 0; 250 250; 60 250\r\n"
    )
    file = tmp_path / "box.jadeite"
    words = ("new", "tray-with-lid", "--inside", "60x40x20mm", "-o", str(file))
    assert run(capsys, *words, "--stock", str(table))[0] == 0
    code, out, _ = run(capsys, "check", str(file))
    assert code == 0
    assert "Sheets: 0, by their area no fewer than 0; and 1 offcut" in out
    _, out, _ = run(capsys, "check", "--json", str(file))
    assert json.loads(out)["sheets"] == {"whole": 0, "offcuts": 1, "fewest": 0, "left": 0}
    code, _, err = run(capsys, *words, "--stock", str(table), "--sheet", "a4")
    assert code == 2
    assert "--stock" in err
    table.write_text("name,width_mm\r\n")
    code, _, err = run(capsys, *words, "--stock", str(table))
    assert code == 2
    assert "height_mm is missing" in err
