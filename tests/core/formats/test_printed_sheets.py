"""What is printed, read back from the files: the picture at its place, the marks at theirs."""

from __future__ import annotations

import io
import json
from pathlib import Path

import ezdxf
import numpy as np
import pypdf
import pytest
import shapely
from PIL import Image
from shapely.geometry import Polygon
from svgelements import SVG
from svgelements import Path as SvgPath

from jadeite.cli import main
from jadeite.core.cutting import profile_by_key
from jadeite.core.cutting.calibration import combs, cut_lines, printed_lines
from jadeite.core.errors import FileError
from jadeite.core.formats import load_project, save_project
from jadeite.core.formats.calibration_sheet import calibration_files
from jadeite.core.formats.export import export_all
from jadeite.core.pipeline import plan_job_sheets, work_up_job
from jadeite.core.project import Correction, Printer, edited
from jadeite.core.sheets.marks import MARK_AT, PAPERS, cut_where
from tests.core.photos.drawn import blob, painted, png

POINT = 72 / 25.4  # points per mm (ISO 32000)
MM = 96 / 25.4  # svgelements reads into CSS pixels, 96 to the inch (CSS units, W3C)
OUTLINE = blob(11, 0.24)
SIZE = (900, 700)


@pytest.fixture(scope="module")
def figure(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A project with a figure found in a picture, without a border."""
    folder = tmp_path_factory.mktemp("figure")
    (folder / "cat.png").write_bytes(png(painted(SIZE, OUTLINE)))
    file = folder / "figure.jadeite"
    assert main(["new", "printed-figure", "--width", "80mm", "--picture", str(folder / "cat.png"),
                 "--set", "edge=bleed", "--set", "round=0.4mm", "-o", str(file)]) == 0  # fmt: skip
    return file


def written(file: Path, folder: Path, **printer: object) -> dict[str, Path]:
    """All files of a project, by the end of their names."""
    project = load_project(file)
    if printer:
        project = edited(project, project.names[0], printer=Printer(**printer))
    job = work_up_job(project)
    out = export_all(job, plan_job_sheets(job), folder, ("svg", "dxf", "pdf"))
    return {path.name.removeprefix("printed-figure"): path for path in out}


def pictures_on(page: pypdf.PageObject) -> list[np.ndarray]:
    """The matrix, 2 x 3 in mm from the lower left, of each picture painted on a page."""
    found: list[np.ndarray] = []

    def visit(operator: bytes, operands: list, cm: list[float], tm: list[float]) -> None:
        if operator == b"Do":
            a, b, c, d, e, f = cm
            found.append(np.array([[a, c, e], [b, d, f]]) / POINT)

    page.extract_text(visitor_operand_before=visit)
    return found


def cut_outline(svg: Path) -> np.ndarray:
    """The longest cut of a file, (n, 2) mm, y up, by svgelements."""
    drawing = SVG.parse(str(svg))
    paths = [p for p in drawing.elements() if isinstance(p, SvgPath)]
    cuts = [p for p in paths if p.values.get("data-role") == "cut"]
    best = max(cuts, key=lambda p: p.length())
    points = np.array([[s.end.x, s.end.y] for s in best if s.end is not None]) / MM
    height = float(drawing.height) / MM
    return np.column_stack([points[:, 0], height - points[:, 1]])


def test_the_picture_lies_where_its_figure_is_cut(figure: Path, tmp_path: Path) -> None:
    """The outline that was painted, carried by the PDF's own matrix, is the cut: to 0.1 mm."""
    files = written(figure, tmp_path)
    page = pypdf.PdfReader(files["-print.pdf"]).pages[0]
    assert float(page.mediabox.width) / POINT == pytest.approx(210.0, abs=0.01)
    (matrix,) = pictures_on(page)
    # a picture fills the unit square of PDF, its foot at 0 (ISO 32000, 8.9.5)
    side = max(SIZE)
    unit = (OUTLINE * side + np.array(SIZE) / 2) / np.array(SIZE)
    printed = Polygon(unit @ matrix[:, :2].T + matrix[:, 2])
    cut = Polygon(cut_outline(files["-sheet-1.svg"]))
    assert printed.centroid.distance(cut.centroid) < 0.1
    assert printed.symmetric_difference(cut).area < 0.02 * cut.area
    assert shapely.hausdorff_distance(printed.exterior, cut.exterior) < 0.6


def test_ink_runs_past_the_cut_and_keeps_its_colour(figure: Path, tmp_path: Path) -> None:
    """The page rendered by another program: coloured for 2 mm beyond the cut, white after 4."""
    import pypdfium2

    files = written(figure, tmp_path)
    scale = 4.0
    page = pypdfium2.PdfDocument(files["-print.pdf"])[0].render(scale=scale * 25.4 / 72).to_numpy()
    cut = Polygon(cut_outline(files["-sheet-1.svg"]))
    for off, white in ((-1.0, False), (0.0, False), (2.0, False), (4.2, True)):
        ring = np.array(cut.buffer(off).exterior.coords)
        x = (ring[:, 0] * scale).astype(int)
        y = page.shape[0] - 1 - (ring[:, 1] * scale).astype(int)
        shades = page[y, x].astype(int).max(axis=1)
        assert ((shades > 250) if white else (shades < 225)).mean() > 0.99, off


def test_marks_are_where_they_are_said_in_all_three_files(figure: Path, tmp_path: Path) -> None:
    """Crosses 10 mm from both edges of the paper; the one at the lower left has no ring."""
    import pypdfium2

    files = written(figure, tmp_path)
    width, height = PAPERS["a4"]
    wanted = [(MARK_AT, MARK_AT), (width - MARK_AT, MARK_AT), (width - MARK_AT, height - MARK_AT),
              (MARK_AT, height - MARK_AT)]  # fmt: skip
    drawing = SVG.parse(str(files["-sheet-1.svg"]))
    lines = [p for p in drawing.elements() if isinstance(p, SvgPath)
             and p.values.get("data-role") == "print"]  # fmt: skip
    boxes = np.array([p.bbox() for p in lines]) / MM
    middles = (boxes[:, :2] + boxes[:, 2:]) / 2
    middles[:, 1] = height - middles[:, 1]
    counts = [int((np.abs(middles - at).max(axis=1) < 0.01).sum()) for at in wanted]
    assert counts == [2, 3, 3, 3]
    layer = [
        e for e in ezdxf.readfile(files["-sheet-1.dxf"]).modelspace() if e.dxf.layer == "PRINT"
    ]
    spots = np.array([np.mean([p[:2] for p in e.get_points()], axis=0) for e in layer])
    assert [int((np.abs(spots - at).max(axis=1) < 0.3).sum()) for at in wanted] == counts
    scale = 10.0
    page = pypdfium2.PdfDocument(files["-print.pdf"])[0].render(scale=scale * 25.4 / 72).to_numpy()
    dark = page.max(axis=2) < 110
    for number, (x, y) in enumerate(wanted):
        row, column = round((height - y) * scale), round(x * scale)
        part = dark[row - 60 : row + 60, column - 60 : column + 60]
        rows, columns = np.nonzero(part)
        middle = (rows.min() + rows.max()) / 2, (columns.min() + columns.max()) / 2
        assert middle == pytest.approx((60, 60), abs=1.5)  # 0.1 mm and a pixel
        ring = part[
            60 - 14 - 2 : 60 - 14 + 2, 60 + 14 - 2 : 60 + 14 + 2
        ].any()  # 2 mm at 45 degrees
        assert ring == bool(number)


def test_what_is_told_to_the_cutter_is_corrected_and_still_proved(
    figure: Path, tmp_path: Path
) -> None:
    """The file differs by the correction; run through the machine it is the very same cut."""
    plain = written(figure, tmp_path / "a")
    of = Correction(right=0.6, up=-0.3, turn=0.003, wide=0.002, high=-0.001)
    told = written(figure, tmp_path / "b", correction=of)
    one, other = (Polygon(cut_outline(f["-sheet-1.svg"])) for f in (plain, told))
    assert one.symmetric_difference(other).area > 0.01 * one.area
    came = Polygon(cut_where(np.array(other.exterior.coords), of, PAPERS["a4"]))
    assert came.symmetric_difference(one).area < 1e-4 * one.area
    # what is not printed has nothing to be corrected by
    assert told["-sheet-2.svg"].read_bytes() == plain["-sheet-2.svg"].read_bytes()
    assert told["-print.pdf"].read_bytes() == plain["-print.pdf"].read_bytes()


def test_mirrored_is_a_mirror_image(figure: Path, tmp_path: Path) -> None:
    """Print for film whose printed side lies down: the page flipped left to right."""
    import pypdfium2

    pages = []
    for name, mirrored in (("a", False), ("b", True)):
        file = written(figure, tmp_path / name, mirrored=mirrored)["-print.pdf"]
        pages.append(pypdfium2.PdfDocument(file)[0].render(scale=1.5).to_numpy().astype(int))
    middle = slice(60, 1180)  # between the words
    off = np.abs(pages[0][middle] - pages[1][middle, ::-1]).max(axis=2)
    assert float((off > 60).mean()) < 0.004
    assert float((np.abs(pages[0][middle] - pages[1][middle]).max(axis=2) > 60).mean()) > 0.02


def test_a_picture_that_is_gone_or_another_is_said(figure: Path, tmp_path: Path) -> None:
    """Nothing is written; the text says what to do."""
    project = load_project(figure)
    file = tmp_path / "moved.jadeite"
    save_project(project, file)
    copy = tmp_path / "cat.png"
    assert copy.read_bytes() == (figure.parent / "cat.png").read_bytes()
    copy.write_bytes(png(painted(SIZE, blob(4, 0.2))))
    with pytest.raises(FileError, match="has changed"):
        written(file, tmp_path / "out")
    copy.unlink()
    with pytest.raises(FileError, match="Put the picture back beside the project"):
        written(file, tmp_path / "out")
    assert not (tmp_path / "out").exists()


def test_a_project_names_only_pictures_beside_it(figure: Path, tmp_path: Path) -> None:
    """A file from elsewhere cannot make the program read what it should not."""
    data = json.loads(figure.read_text())
    assert data["photos"][0]["file"] == "cat.png"
    for name in ("/etc/hostname", "../cat.png", ".hidden.png"):
        data["photos"][0]["file"] = name
        other = tmp_path / "other.jadeite"
        other.write_text(json.dumps(data))
        with pytest.raises(FileError, match="beside the project"):
            load_project(other)


def test_another_picture_of_the_same_name_is_kept(figure: Path, tmp_path: Path) -> None:
    """Saved into a folder where that name is taken, a copy gets another."""
    taken = png(painted((40, 40), blob(1, 0.2)))
    (tmp_path / "cat.png").write_bytes(taken)
    kept = save_project(load_project(figure), tmp_path / "figure.jadeite")
    assert Path(kept.photos[0].file).name == "cat-2.png"
    assert (tmp_path / "cat.png").read_bytes() == taken
    assert load_project(tmp_path / "figure.jadeite") == kept


def test_the_calibration_sheet_has_its_combs_on_paper_and_in_the_cut() -> None:
    """By svgelements: 168 cuts where the combs are; on the rendered page every line is dark."""
    cutter = profile_by_key("large")
    of = Correction(right=0.5)
    made = calibration_files(Printer(correction=of), cutter)
    drawing = SVG.parse(io.StringIO(made["calibration.svg"].decode()))
    cuts = [p for p in drawing.elements() if isinstance(p, SvgPath)
            and p.values.get("data-role") == "cut"]  # fmt: skip
    size = PAPERS["a4"]
    wanted = [line for comb in combs(size, cutter.reach) for line in cut_lines(comb)]
    assert len(cuts) == len(wanted) == 8 * 21
    got = np.array([[[s.end.x, s.end.y] for s in p if s.end is not None] for p in cuts]) / MM
    got[..., 1] = size[1] - got[..., 1]
    assert got == pytest.approx(np.array(wanted) - (0.5, 0.0), abs=1e-3)
    import pypdfium2

    page = pypdfium2.PdfDocument(made["calibration.pdf"])[0].render(scale=8 * 25.4 / 72).to_numpy()
    for comb in combs(size, cutter.reach):
        for line in printed_lines(comb):
            x, y = line.mean(axis=0)
            spot = page[round((size[1] - y) * 8) - 1 : round((size[1] - y) * 8) + 2,
                        round(x * 8) - 1 : round(x * 8) + 2]  # fmt: skip
            assert spot.min() < 120


def test_the_picture_in_the_drawings_is_itself(figure: Path, tmp_path: Path) -> None:
    """A step's SVG holds the picture as PNG; no reference leads out of the file."""
    import base64

    files = written(figure, tmp_path)
    steps = [f for name, f in files.items() if "step" in name]
    held = [f.read_text() for f in steps if "<image" in f.read_text()]
    assert held
    data = held[0].split("base64,")[1].split('"')[0]
    with Image.open(io.BytesIO(base64.b64decode(data))) as image:
        assert image.size[0] / image.size[1] == pytest.approx(SIZE[0] / SIZE[1], rel=0.01)
    assert all('href="data:' in text for text in held)
