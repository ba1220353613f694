"""Exports read back by libraries that know nothing of Jadeite."""

from __future__ import annotations

import csv
import io
import json
import re
from pathlib import Path

import ezdxf
import numpy as np
import pypdf
import pypdfium2
import pytest
import shapely
import trimesh
from ezdxf import recover
from lxml import etree
from svgelements import SVG
from svgelements import Path as SvgPath

from jadeite.core.errors import FieldError, FileError
from jadeite.core.formats import FORMATS, export_all
from jadeite.core.formats.export import piece_paths_at_origin
from jadeite.core.formats.page import MARGIN
from jadeite.core.formats.pages import print_pages
from jadeite.core.formats.pdf import pdf_bytes
from jadeite.core.formats.picture_svg import picture_svg
from jadeite.core.formats.tables import notebook_csv
from jadeite.core.formats.true_size import OVERLAP
from jadeite.core.nets import fold_lines, loops_of, piece_area, piece_polygon
from jadeite.core.pictures import LIGHT, Camera, Label, Picture, Scene, SceneStyle
from jadeite.core.pipeline import (
    SheetWork,
    Work,
    arrange_contents,
    plan_sheets,
    work_up,
)
from jadeite.core.project import Hollow, Project, Shape, Task, Trial, changed, slug
from tests import fold_reader
from tests.jobs import job_of

MM = 96 / 25.4  # svgelements reads into CSS pixels, 96 to the inch (CSS units, W3C)


@pytest.fixture(scope="module")
def job() -> tuple[Work, SheetWork]:
    """The eyepiece box, worked up and laid out."""
    from tests.conftest import CLOTH, EYEPIECE, FILTER_CASE

    project = changed(Task(), contents=(EYEPIECE, FILTER_CASE, CLOTH), copies=2)
    work = work_up(project, arrange_contents(project))
    assert work.design is not None
    return work, plan_sheets(project, work.design)


@pytest.fixture(scope="module")
def folder(job, tmp_path_factory) -> Path:  # type: ignore[no-untyped-def]
    """Every file of the job."""
    out = tmp_path_factory.mktemp("job")
    paths = export_all(job_of(job[0]), job[1], out)
    assert sorted(paths) == sorted(p for p in out.rglob("*") if p.is_file())
    return out


def test_svg_pieces_have_true_lengths(job, folder) -> None:  # type: ignore[no-untyped-def]
    """svgelements, with units applied, measures the same millimetres."""
    work, _ = job
    for piece in work.design.pieces:
        drawing = SVG.parse(folder / f"eyepiece-box-{piece.name}.svg", reify=True)
        lengths = {"cut": 0.0, "score": 0.0}
        for element in drawing.elements():
            if isinstance(element, SvgPath):
                role = element.values["data-role"]
                lengths[role] += element.length(error=1e-6) / MM
        cut = sum(loop.length for loop in loops_of(piece))
        score = sum(float(np.linalg.norm(b - a)) for (a, b), _ in fold_lines(piece))
        assert lengths["cut"] == pytest.approx(cut, abs=0.05)
        assert lengths["score"] == pytest.approx(score, abs=0.05)


def test_svg_is_as_the_format_says(folder) -> None:  # type: ignore[no-untyped-def]
    """Size in mm with a matching viewBox, roles in the order of working, nothing active."""
    for file in folder.glob("*.svg"):
        root = etree.parse(file).getroot()
        box = [float(v) for v in root.get("viewBox").split()]
        assert root.get("width") == f"{box[2]:.4f}mm"
        assert root.get("height") == f"{box[3]:.4f}mm"
        order = ["sheet", "pen", "score", "perforate", "cut"]
        roles = [g.get("id") for g in root.iter("{*}g")]
        assert roles == sorted(roles, key=order.index)
        for path in root.iter("{*}path"):
            assert path.get("class") == path.get("data-role")
            assert path.get("data-role") in order
        text = file.read_text(encoding="utf-8")
        assert "<script" not in text
        assert "href" not in text


def test_svg_is_never_mirrored(job, folder) -> None:  # type: ignore[no-untyped-def]
    """y points down, yet the net is as seen from its good side."""
    work, _ = job
    piece = work.design.piece("tray")
    _, _, height = piece_paths_at_origin(piece)
    root = etree.parse(folder / "eyepiece-box-tray.svg").getroot()
    outline = [p for p in root.iter("{*}path") if p.get("data-role") == "cut"][-1]
    numbers = outline.get("d").strip("MZ ").replace("L", " ").split()
    points = np.array([[float(v) for v in pair.split(",")] for pair in numbers])
    upright = np.column_stack([points[:, 0], height - points[:, 1]])
    assert shapely.Polygon(upright).area == pytest.approx(piece_polygon(piece).area, rel=1e-4)
    assert shapely.LinearRing(upright).is_ccw  # as in the model: counter-clockwise, y up


def test_dxf_passes_the_audit(job, folder) -> None:  # type: ignore[no-untyped-def]
    """ezdxf: R2010, millimetres, a layer for each role, no errors."""
    work, _ = job
    for file in folder.glob("*.dxf"):
        document, auditor = recover.readfile(file)
        assert not auditor.has_errors
        assert document.dxfversion == "AC1024"
        assert document.header["$INSUNITS"] == 4
        assert {"CUT", "SCORE"} <= {layer.dxf.name for layer in document.layers}
    document = ezdxf.readfile(folder / "eyepiece-box-tray.dxf")
    ring = next(e for e in document.modelspace() if e.dxf.layer == "CUT")
    area = shapely.Polygon([(p[0], p[1]) for p in ring.get_points()]).area
    assert area == pytest.approx(piece_polygon(work.design.piece("tray")).area, rel=1e-6)


def test_pdf_square_measures_fifty_millimetres(folder) -> None:  # type: ignore[no-untyped-def]
    """Rendered by pypdfium2 at 300 dpi, the square's outer edges are 50 mm apart."""
    document = pypdfium2.PdfDocument(folder / "eyepiece-box.pdf")
    scale = 300 / 72
    image = np.asarray(document[0].render(scale=scale, grayscale=True).to_pil()).astype(int)
    per_mm = 300 / 25.4
    dark = image < 140
    band = dark[int(16 * per_mm) : int(62 * per_mm), int(140 * per_mm) :]
    columns = np.nonzero(band.mean(axis=0) > 0.9)[0]
    width = (columns.max() - columns.min()) / per_mm
    assert width == pytest.approx(50.0, abs=0.25)
    right = dark[int(10 * per_mm) : int(70 * per_mm), int(150 * per_mm) : int(195 * per_mm)]
    rows = np.nonzero(right.mean(axis=1) > 0.9)[0]
    assert (rows.max() - rows.min()) / per_mm == pytest.approx(50.0, abs=0.25)
    assert "50 mm" in document[0].get_textpage().get_text_range()


def test_every_sign_of_a_page_is_in_the_typeface(tmp_path) -> None:  # type: ignore[no-untyped-def]
    """A round box's rules have roots: fontTools finds a glyph for all that is printed."""
    from fontTools.ttLib import TTFont

    from jadeite.core.formats.fonts import FONT_FILES, spelled

    project = changed(Task(), shape=Shape(key="round-box"), brief=Hollow(size=(60.0, 60.0, 40.0)))
    work = work_up(project, None)
    pages = print_pages(job_of(work), plan_sheets(project, work.design), "a4")
    words = {
        sign
        for page in pages
        for picture, _ in page.layers
        for item in picture.items
        if isinstance(item, Label)
        for sign in spelled(item.text)
    }
    rules = "".join(value.rule for value in work.sizes.values())
    assert "√" in rules or "π" in rules
    fonts = Path(__file__).parents[3] / "src/jadeite/assets/fonts"
    for name in FONT_FILES.values():
        known = TTFont(fonts / name).getBestCmap()
        assert [sign for sign in words if ord(sign) not in known] == []


def test_pdf_holds_cover_nets_cutting_and_steps(job, folder) -> None:  # type: ignore[no-untyped-def]
    """pypdf finds the pages, A4, with the names and the last seam."""
    work, _ = job
    reader = pypdf.PdfReader(folder / "eyepiece-box.pdf")
    for page in reader.pages:
        assert float(page.mediabox.width) == pytest.approx(210 / 25.4 * 72, abs=0.01)
        assert float(page.mediabox.height) == pytest.approx(297 / 25.4 * 72, abs=0.01)
    text = "\n".join(page.extract_text() for page in reader.pages)
    for words in ("tray, 1 : 1", "lid, 1 : 1", "Cutting", "Assembly", work.assembly.last_seam):
        assert words in text


def test_pdf_nets_are_at_true_size(job) -> None:  # type: ignore[no-untyped-def]
    """The dark outline on the tray's page spans the net, in mm of the page."""
    work, sheets = job
    data = pdf_bytes(print_pages(job_of(work), sheets), "x")
    page = pypdfium2.PdfDocument(data)[1]
    image = np.asarray(page.render(scale=200 / 72, grayscale=True).to_pil()).astype(int)
    per_mm = 200 / 25.4
    area = image[int(22 * per_mm) : int(285 * per_mm)] < 150
    columns = np.nonzero(area.any(axis=0))[0]
    points = np.concatenate([p.outline for p in work.design.piece("tray").panels])
    width = (columns.max() - columns.min()) / per_mm
    assert min(abs(width - s) for s in np.ptp(points, axis=0)) < 0.5


def test_words_on_the_pages_are_in_inches_where_these_are_chosen() -> None:
    """Sizes, findings and steps; only the scale check and true sizes keep their mm."""
    project = changed(
        Task(), brief=Hollow(size=(127.0, 101.6, 76.2)), shape=Shape(key="chest"),
        boards={"tray": "text"},
    )  # fmt: skip
    work = work_up(project, None)
    told = {}
    for system in ("mm", "inches"):
        pages = print_pages(job_of(work), plan_sheets(project, work.design), "letter", system)
        cover_and_steps = [p for p in pages if any(
            isinstance(i, Label) and (i.text == "Sizes" or i.text.startswith("Assembly"))
            for picture, _ in p.layers for i in picture.items)]  # fmt: skip
        told[system] = [
            i.text for p in cover_and_steps for picture, _ in p.layers
            for i in picture.items if isinstance(i, Label)
        ]  # fmt: skip
    lengths = [w for w in told["mm"] if re.search(r"\d mm\b", w) and "50 mm" not in w]
    assert len(lengths) > 5
    left = [w for w in told["inches"] if re.search(r"\d mm\b", w) and "50 mm" not in w]
    assert left == []
    assert sum(" in" in w for w in told["inches"]) > 5


def test_pdf_tiles_a_large_piece_with_overlap() -> None:
    """A net larger than the page goes over several, with crosses to lay on one another."""
    project = changed(Task(), brief=Hollow(size=(280.0, 200.0, 60.0)))
    work = work_up(project, None)
    assert work.design is not None
    pages = print_pages(job_of(work), plan_sheets(project, work.design), "letter")
    words = [
        item.text
        for page in pages
        for picture, _ in page.layers
        for item in picture.items
        if isinstance(item, Label)
    ]
    tiles = [w for w in words if w.startswith("tray, 1 : 1")]
    assert len(tiles) > 1
    assert any("column 2 of 2" in w for w in tiles)
    assert sum("crosses" in w for w in words) >= len(tiles)
    assert {(p.width, p.height) for p in pages} == {(215.9, 279.4)}
    points = np.concatenate([p.outline for p in work.design.piece("tray").panels])
    room = (215.9 - 2 * MARGIN, 279.4 - 2 * MARGIN - 8)
    reach = [2 * r - OVERLAP for r in room]
    assert max(np.ptp(points, axis=0)) <= max(reach)


def test_fold_file_holds_the_contents_where_they_lie(job, folder) -> None:  # type: ignore[no-untyped-def]
    """Each thing inside the hollow, clear of every ply, clear of every other."""
    model = fold_reader.read(folder / "eyepiece-box.fold")
    assert fold_reader.structure_faults(model) == []
    assert fold_reader.open_joints(model) == []
    assert fold_reader.penetrations(model) == []
    assert len(model.contents) == 4
    size = fold_reader.inside_size(model, "tray")
    boxes = []
    for content in model.contents:
        pose = np.array(content["pose"])
        assert np.linalg.det(pose[:3, :3]) == pytest.approx(1.0)
        if content["kind"] == "cylinder":
            half = np.array([content["radius_mm"], content["radius_mm"], content["height_mm"] / 2])
        else:
            half = np.array(content["size_mm"]) / 2
        spread = np.abs(pose[:3, :3]) @ half
        boxes.append((pose[:3, 3] - spread, pose[:3, 3] + spread, content["name"]))
    for low, high, name in boxes:
        room = 0.0 if name == "cloth" else 1.5  # dropped in, from memory
        assert (np.abs([low[0], high[0]]) <= size[0] / 2 - room + 1e-6).all()
        assert (np.abs([low[1], high[1]]) <= size[1] / 2 - room + 1e-6).all()
    for i, (low, high, _) in enumerate(boxes):
        for other_low, other_high, _ in boxes[i + 1 :]:
            assert ((high <= other_low + 1e-6) | (other_high <= low + 1e-6)).any()


def test_fold_file_numbers_have_six_decimals_or_more(folder) -> None:  # type: ignore[no-untyped-def]
    """Exact enough that a reader can prove closure."""
    data = json.loads((folder / "eyepiece-box.fold").read_text())
    x = data["file_frames"][0]["vertices_coords"][0][0]
    assert x == pytest.approx(round(x, 9))
    assert data["frame_classes"] == ["creasePattern"]
    assert data["file_frames"][0]["frame_parent"] == 0
    assert data["file_frames"][2]["frame_parent"] == 2


def test_gltf_has_the_area_of_the_panels(job, folder) -> None:  # type: ignore[no-untyped-def]
    """trimesh loads it, in metres, y up."""
    work, _ = job
    scene = trimesh.load(folder / "eyepiece-box.glb")
    for piece in work.design.pieces:
        mesh = scene.geometry[piece.name]
        assert mesh.area * 1e6 == pytest.approx(piece_area(piece), rel=1e-5)
    height = np.ptp(scene.bounds[:, 1]) * 1000
    assert height == pytest.approx(work.sizes["outside-height"].value, abs=0.3)


def test_cut_list_agrees_with_shapely(job, folder) -> None:  # type: ignore[no-untyped-def]
    """Areas and lengths in the table, computed independently."""
    work, _ = job
    text = (folder / "eyepiece-box-cut-list.csv").read_bytes().decode("utf-8-sig")
    rows = {row["piece"]: row for row in csv.DictReader(io.StringIO(text))}
    for piece in work.design.pieces:
        union = shapely.union_all(
            [shapely.Polygon(p.outline) for p in piece.panels], grid_size=1e-7
        )
        row = rows[piece.name]
        assert float(row["area_mm2"]) == pytest.approx(union.area, abs=1.0)
        assert float(row["cut_mm"]) == pytest.approx(union.length, abs=0.5)
        assert int(row["copies"]) == 2
        assert row["board"] == "medium-card"


def test_notebook_table_keeps_text_as_text() -> None:
    """What a spreadsheet would run as a formula is kept as words."""
    trial = Trial(
        date="2026-10-03", board="text", intended=(1.0, 2.0, 3.0), clearance=1.6, note="=1+1"
    )
    rows = list(csv.reader(io.StringIO(notebook_csv(changed(Project(), trials=(trial,))))))
    assert rows[1][0] == "2026-10-03"
    assert rows[1][-2] == "'=1+1"
    assert len(rows[0]) == len(rows[1])


def test_only_what_is_asked_for_is_written(job, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """--only; an unknown format is refused before anything is written."""
    work, sheets = job
    made = export_all(job_of(work), sheets, tmp_path / "a", ["fold"])
    assert all(p.suffix == ".fold" for p in made)
    with pytest.raises(FieldError, match="svg, dxf, pdf"):
        export_all(job_of(job[0]), job[1], tmp_path / "b", ["fold", "doc"])
    assert not (tmp_path / "b").exists()
    assert FORMATS == ("svg", "dxf", "pdf", "fold", "gltf", "csv")


def test_a_folder_that_cannot_be_written_is_named(job, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """A file stands where the folder should be."""
    (tmp_path / "taken").write_text("x")
    with pytest.raises(FileError, match="taken"):
        export_all(job_of(job[0]), job[1], tmp_path / "taken" / "deep", ["csv"])


def test_stems_are_plain_file_names(job, tmp_path) -> None:  # type: ignore[no-untyped-def]
    """No path, no space, never empty."""
    assert slug("Eyepiece box / №1") == "eyepiece-box-1"
    made = export_all(job_of(job[0], "../.."), job[1], tmp_path, ["fold"])
    assert [p.name for p in made] == ["job.fold"]


def test_every_step_has_its_picture(job, folder) -> None:  # type: ignore[no-untyped-def]
    """In a folder of their own, 120 mm wide, with something drawn inside."""
    work, _ = job
    files = sorted((folder / "steps").glob("*.svg"))
    assert len(files) == len(work.assembly.steps)
    for file in files:
        root = etree.parse(file).getroot()
        assert (root.get("width"), root.get("viewBox")) == ("120mm", "0 0 120 90")
        assert len(list(root.iter("{*}path"))) > 8


def test_step_pictures_are_svg_too(job) -> None:  # type: ignore[no-untyped-def]
    """The table's drawing written as SVG parses, with its labels."""
    work, _ = job
    pose = work.lift.pose(0.8)
    scene = Scene(work.design, pose.matrices, work.bodies, pose.contents)
    camera = scene.fitted(Camera(), 400, 300, (10, 10, 10, 10))
    data = picture_svg(scene.draw(camera, SceneStyle(LIGHT)), 400, 300)
    root = etree.fromstring(data)
    labels = [t.text for t in root.iter("{*}text")]
    assert {"eyepiece", "filter case", "cloth"} <= set(labels)
    assert Picture().items == []
