"""Write every file of a job."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from jadeite.core.cutting import CutPath, SheetCut, strokes_of
from jadeite.core.errors import FieldError
from jadeite.core.formats.atomic import write_all
from jadeite.core.nets import Piece
from jadeite.core.pipeline import JobWork, SheetWork, Work, at_hand
from jadeite.core.project import Correction, slug
from jadeite.core.sheets import GAP
from jadeite.core.sheets.marks import commanded, cut_where, mark_lines
from jadeite.core.units import System

if TYPE_CHECKING:
    from jadeite.core.formats.readback import Drawing

__all__ = [
    "EVERY",
    "FORMATS",
    "cut_files",
    "export_all",
    "piece_paths_at_origin",
    "plot_files",
    "read_back",
]

FORMATS = ("svg", "dxf", "pdf", "fold", "gltf", "csv")
EVERY = (*FORMATS, "hpgl", "gcode")  # those for machines that are told every stroke too
STEP_SIZE = (120.0, 90.0)  # mm, of a step's picture; from memory
AROUND = 5.0  # mm of paper drawn round a single piece; from memory


def piece_paths_at_origin(piece: Piece) -> tuple[tuple[CutPath, ...], float, float]:
    """Lines of one piece in mm with a little paper round it: paths, width, height."""
    points = np.concatenate([panel.outline for panel in piece.panels])
    low = points.min(axis=0) - AROUND
    width, height = (float(v) for v in np.ptp(points, axis=0) + 2 * AROUND)
    paths = [
        CutPath(step, piece.name, 0, line - low, 1, fold) for step, line, fold in strokes_of(piece)
    ]
    return tuple(paths), width, height


class _Paper(NamedTuple):
    """What is printed on, and the system of lengths in words."""

    name: str
    system: System


def export_all(
    job: JobWork,
    sheets: SheetWork,
    folder: Path,
    only: Iterable[str] = FORMATS,
    *,
    paper: str = "a4",
    system: System = "mm",
) -> list[Path]:
    """Write the chosen formats into a folder, which is made when missing.

    Everything is made in memory first, so a job that fails leaves no file.  Lengths in words
    are in ``system``; cut files are in mm always.

    Returns
    -------
    list of Path
        What was written.

    Raises
    ------
    FieldError
        An unknown format, or no design to write.
    FileError
        The folder or a file cannot be written.
    """
    chosen = list(dict.fromkeys(only))
    for name in chosen:
        if name not in EVERY:
            raise FieldError(
                "only", f"there is no format “{name[:20]}”", f"Use any of: {', '.join(EVERY)}."
            )
    if job.refused is not None and not job.whole:
        raise FieldError("export", "there is no design to write", str(job.refused.message))
    stem = slug(job.project.title) or "job"
    makers: dict[str, Callable[[JobWork, SheetWork, str, _Paper], dict[str, bytes]]] = {
        "svg": _svg,
        "dxf": _dxf,
        "pdf": _pdf,
        "fold": _fold,
        "gltf": _gltf,
        "csv": _csv,
        "hpgl": _hpgl,
        "gcode": _gcode,
    }
    made: dict[str, bytes] = {}
    for name in chosen:
        made |= makers[name](job, sheets, stem, _Paper(paper, system))
    read_back(made, [piece.piece for piece in job.pieces], sheets, stem)
    return write_all(folder, made)


def read_back(
    made: dict[str, bytes], pieces: Iterable[Piece], sheets: SheetWork, stem: str
) -> None:
    """Refuse cut files that are not the proved net, before anything is written."""
    from jadeite.core.formats.plot_reader import read_gcode, read_hpgl
    from jadeite.core.formats.readback import by_piece, check_passes, compare, read_dxf, read_svg

    nets = by_piece(pieces)
    readers = ((".svg", read_svg), (".dxf", read_dxf), (".plt", read_hpgl), (".gcode", read_gcode))
    for kind, reader in readers:
        for number, cut in enumerate(sheets.cutting.sheets, start=1):
            name = f"{stem}-sheet-{number}{kind}"
            if name not in made:
                continue
            placed = [
                (place.piece, nets[place.piece].moved(place.angle, place.x, place.y))
                for place in cut.sheet.placed
            ]
            drawing = reader(made[name])
            if kind in (".plt", ".gcode"):
                check_passes(name, drawing, [(path.role, path.passes) for path in cut.paths])
            if cut.sheet.printed:  # what is told to the cutter, and where that then cuts
                _as_cut(drawing, sheets.printer.correction, cut.sheet.size)
            compare(name, drawing, placed, sheet=cut.sheet.size, gap=GAP)
        known: set[tuple[int, int, bytes]] = set()
        for piece in pieces:
            name = f"{stem}-{piece.name}{kind}"
            same = (id(piece.panels), id(piece.veins), made.get(name, b""))
            if name in made and same not in known:
                known.add(same)
                x, y = AROUND - np.concatenate([p.outline for p in piece.panels]).min(axis=0)
                own = [(piece.name, nets[piece.name].moved(0.0, float(x), float(y)))]
                compare(name, reader(made[name]), own)


def _as_cut(drawing: Drawing, correction: Correction, size: tuple[float, float]) -> None:
    """The strokes of a printed sheet where they come out, in place of where they are drawn."""
    for role in drawing.lines.keys() - {"sheet", "print"}:
        lines = [cut_where(line, correction, size) for line in drawing.lines[role]]
        drawing.lines[role] = lines


def _commanded(cut: SheetCut, correction: Correction) -> SheetCut:
    """A printed sheet's strokes as the cutter is told them, so that it cuts along the print."""
    if not cut.sheet.printed or correction == Correction():
        return cut
    paths = tuple(
        replace(path, points=commanded(path.points, correction, cut.sheet.size))
        for path in cut.paths
    )
    return replace(cut, paths=paths)


def cut_files(
    pieces: Iterable[Piece], sheets: SheetWork, stem: str, title: str, kind: str
) -> dict[str, bytes]:
    """A cut file for each sheet and one for each piece, by name; ``kind`` is ``svg`` or ``dxf``."""
    from jadeite.core.formats.cut_svg import cut_svg, sheet_svg
    from jadeite.core.formats.dxf import dxf_text

    out = {}
    for number, cut in enumerate(sheets.cutting.sheets, start=1):
        name, words = f"{stem}-sheet-{number}.{kind}", f"{title}, sheet {number}: {cut.setting}"
        marks = mark_lines(cut.sheet.size) if cut.sheet.printed else ()
        cut = _commanded(cut, sheets.printer.correction)
        if kind == "svg":
            out[name] = sheet_svg(cut, words, marks)
        else:
            out[name] = dxf_text(cut.paths, marks).encode()
    drawn: dict[
        tuple[int, int], bytes
    ] = {}  # by net: a DXF file of another piece cut alike is the same
    for piece in pieces:
        paths, width, height = piece_paths_at_origin(piece)
        key = id(piece.panels), id(piece.veins)
        data = drawn.get(key)
        if kind == "svg":
            data = cut_svg(paths, width, height, f"{title}, {piece.title}")
        elif data is None:
            data = drawn[key] = dxf_text(paths).encode()
        out[f"{stem}-{piece.name}.{kind}"] = data
    return out


def _each(job: JobWork, stem: str) -> Iterator[tuple[str, str, Work]]:
    """Beginning of the file names, title and work of every item."""
    for name, work in job.works.items():
        if job.several:
            yield f"{stem}-{slug(name)}", f"{job.project.title}, {name}", work
        else:
            yield stem, job.project.title, work


def _svg(job: JobWork, sheets: SheetWork, stem: str, paper: _Paper) -> dict[str, bytes]:
    from jadeite.core.formats.page import HAIR
    from jadeite.core.formats.picture_svg import picture_svg
    from jadeite.core.formats.step_pages import step_picture

    out = cut_files([p.piece for p in job.pieces], sheets, stem, job.project.title, "svg")
    for own, _, work in _each(job, stem):
        steps = work.assembly.steps if work.assembly is not None else ()
        for number in range(len(steps)):
            picture = step_picture(work, number, *STEP_SIZE, HAIR)
            name = f"steps/{own}-step-{number + 1:02d}.svg"
            out[name] = picture_svg(picture, *STEP_SIZE, "mm")
    return out


def plot_files(sheets: SheetWork, stem: str, title: str, kind: str) -> dict[str, bytes]:
    """Every sheet for a machine that is told every stroke."""
    from jadeite.core.formats.plotter import gcode_text, hpgl_text

    writer, suffix = {"hpgl": (hpgl_text, "plt"), "gcode": (gcode_text, "gcode")}[kind]
    out = {}
    for number, cut in enumerate(sheets.cutting.sheets, start=1):
        told = _commanded(cut, sheets.printer.correction)
        words = f"{title}, sheet {number}"
        out[f"{stem}-sheet-{number}.{suffix}"] = writer(told, words).encode("ascii")
    return out


def _hpgl(job: JobWork, sheets: SheetWork, stem: str, paper: _Paper) -> dict[str, bytes]:
    return plot_files(sheets, stem, job.project.title, "hpgl")


def _gcode(job: JobWork, sheets: SheetWork, stem: str, paper: _Paper) -> dict[str, bytes]:
    return plot_files(sheets, stem, job.project.title, "gcode")


def _dxf(job: JobWork, sheets: SheetWork, stem: str, paper: _Paper) -> dict[str, bytes]:
    return cut_files([p.piece for p in job.pieces], sheets, stem, job.project.title, "dxf")


def _pdf(job: JobWork, sheets: SheetWork, stem: str, paper: _Paper) -> dict[str, bytes]:
    from jadeite.core.formats.pages import print_pages
    from jadeite.core.formats.pdf import pdf_bytes
    from jadeite.core.formats.printed_sheets import printed_pages

    out = {
        f"{stem}.pdf": pdf_bytes(
            print_pages(job, sheets, paper.name, paper.system), job.project.title
        )
    }
    printed = printed_pages(sheets)
    if printed:
        out[f"{stem}-print.pdf"] = pdf_bytes(printed, f"{job.project.title}, to print on")
    return out


def _fold(job: JobWork, sheets: SheetWork, stem: str, paper: _Paper) -> dict[str, bytes]:
    from jadeite.core.formats.fold_file import fold_text

    out = {}
    for own, title, work in _each(job, stem):
        assert work.design is not None
        text = fold_text(work.design, work.bodies, title, work.findings)
        out[f"{own}.fold"] = text.encode()
    return out


def _gltf(job: JobWork, sheets: SheetWork, stem: str, paper: _Paper) -> dict[str, bytes]:
    from jadeite.core.formats.solid import gltf_bytes

    out = {}
    for own, _, work in _each(job, stem):
        assert work.design is not None
        out[f"{own}.glb"] = gltf_bytes(work.design)
    return out


def _csv(job: JobWork, sheets: SheetWork, stem: str, paper: _Paper) -> dict[str, bytes]:
    from jadeite.core.formats.tables import bought_csv, cut_list_csv, notebook_csv, sheet_list_csv

    cut, besides = cut_list_csv(job.pieces, sheets.cutting), at_hand(job.works)
    bought = {f"{stem}-bought.csv": bought_csv(besides).encode("utf-8-sig")} if besides else {}
    titles = {piece.piece.name: piece.piece.title for piece in job.pieces}
    return bought | {
        f"{stem}-sheets.csv": sheet_list_csv(sheets.cutting, titles).encode("utf-8-sig"),
        f"{stem}-cut-list.csv": cut.encode("utf-8-sig"),
        f"{stem}-notebook.csv": notebook_csv(job.project).encode("utf-8-sig"),
    }
