"""Write every file of a job."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from pathlib import Path

import numpy as np

from jadeite.core.cutting import CutPath, strokes_of
from jadeite.core.errors import FieldError, FileError
from jadeite.core.formats.atomic import reason, write_whole
from jadeite.core.nets import Design, Piece
from jadeite.core.pipeline import SheetWork, Work
from jadeite.core.sheets import GAP

__all__ = ["FORMATS", "cut_files", "export_all", "piece_paths_at_origin", "read_back"]

FORMATS = ("svg", "dxf", "pdf", "fold", "gltf", "csv")
STEP_SIZE = (120.0, 90.0)  # mm, of a step's picture; from memory
AROUND = 5.0  # mm of paper drawn round a single piece; from memory


def file_stem(title: str) -> str:
    """A title as a file name: lower case, words joined by hyphens."""
    stem = re.sub(r"[^a-z0-9]+", "-", title.lower()).strip("-")
    return stem[:60] or "box"


def piece_paths_at_origin(piece: Piece) -> tuple[tuple[CutPath, ...], float, float]:
    """Lines of one piece in mm with a little paper round it: paths, width, height."""
    points = np.concatenate([panel.outline for panel in piece.panels])
    low = points.min(axis=0) - AROUND
    width, height = (float(v) for v in np.ptp(points, axis=0) + 2 * AROUND)
    paths = [
        CutPath(step, piece.name, 0, line - low, 1, fold) for step, line, fold in strokes_of(piece)
    ]
    return tuple(paths), width, height


def export_all(
    work: Work,
    sheets: SheetWork,
    folder: Path,
    only: Iterable[str] = FORMATS,
    *,
    paper: str = "a4",
) -> list[Path]:
    """Write the chosen formats into a folder, which is made when missing.

    Everything is made in memory first, so a job that fails leaves no file.

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
        if name not in FORMATS:
            raise FieldError(
                "only", f"there is no format “{name[:20]}”", f"Use any of: {', '.join(FORMATS)}."
            )
    if work.design is None:
        raise FieldError("export", "there is no design to write", str(work.findings[0].message))
    stem = file_stem(work.project.title)
    makers: dict[str, Callable[[Work, SheetWork, str, str], dict[str, bytes]]] = {
        "svg": _svg,
        "dxf": _dxf,
        "pdf": _pdf,
        "fold": _fold,
        "gltf": _gltf,
        "csv": _csv,
    }
    made: dict[str, bytes] = {}
    for name in chosen:
        made |= makers[name](work, sheets, stem, paper)
    read_back(made, work.design.pieces, sheets, stem)
    try:
        for name in made:
            (folder / name).parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FileError(str(folder), reason(error)) from error
    out = []
    for name, data in made.items():
        write_whole(folder / name, data)
        out.append(folder / name)
    return out


def read_back(
    made: dict[str, bytes], pieces: Iterable[Piece], sheets: SheetWork, stem: str
) -> None:
    """Refuse cut files that are not the proved net, before anything is written."""
    from jadeite.core.formats.readback import by_piece, compare, read_dxf, read_svg

    nets = by_piece(pieces)
    for kind, reader in ((".svg", read_svg), (".dxf", read_dxf)):
        for number, cut in enumerate(sheets.cutting.sheets, start=1):
            name = f"{stem}-sheet-{number}{kind}"
            if name not in made:
                continue
            placed = [
                (place.piece, nets[place.piece].moved(place.angle, place.x, place.y))
                for place in cut.sheet.placed
            ]
            stock = cut.sheet.stock
            size = (stock.width, stock.height)
            compare(name, reader(made[name]), placed, sheet=size, gap=GAP)
        for piece in pieces:
            name = f"{stem}-{piece.name}{kind}"
            if name in made:
                x, y = AROUND - np.concatenate([p.outline for p in piece.panels]).min(axis=0)
                own = [(piece.name, nets[piece.name].moved(0.0, float(x), float(y)))]
                compare(name, reader(made[name]), own)


def cut_files(
    design: Design, sheets: SheetWork, stem: str, title: str, kind: str
) -> dict[str, bytes]:
    """A cut file for each sheet and one for each piece, by name; ``kind`` is ``svg`` or ``dxf``."""
    from jadeite.core.formats.cut_svg import cut_svg, sheet_svg
    from jadeite.core.formats.dxf import dxf_text

    out = {}
    for number, cut in enumerate(sheets.cutting.sheets, start=1):
        name, words = f"{stem}-sheet-{number}.{kind}", f"{title}, sheet {number}: {cut.setting}"
        out[name] = sheet_svg(cut, words) if kind == "svg" else dxf_text(cut.paths).encode()
    for piece in design.pieces:
        paths, width, height = piece_paths_at_origin(piece)
        words = f"{title}, {piece.title}"
        out[f"{stem}-{piece.name}.{kind}"] = (
            cut_svg(paths, width, height, words) if kind == "svg" else dxf_text(paths).encode()
        )
    return out


def _svg(work: Work, sheets: SheetWork, stem: str, paper: str) -> dict[str, bytes]:
    from jadeite.core.formats.pages import HAIR, step_picture
    from jadeite.core.formats.picture_svg import picture_svg

    assert work.design is not None
    out = cut_files(work.design, sheets, stem, work.project.title, "svg")
    steps = work.assembly.steps if work.assembly is not None else ()
    for number in range(len(steps)):
        picture = step_picture(work, number, *STEP_SIZE, HAIR)
        out[f"steps/{stem}-step-{number + 1:02d}.svg"] = picture_svg(picture, *STEP_SIZE, "mm")
    return out


def _dxf(work: Work, sheets: SheetWork, stem: str, paper: str) -> dict[str, bytes]:
    assert work.design is not None
    return cut_files(work.design, sheets, stem, work.project.title, "dxf")


def _pdf(work: Work, sheets: SheetWork, stem: str, paper: str) -> dict[str, bytes]:
    from jadeite.core.formats.pages import print_pages
    from jadeite.core.formats.pdf import pdf_bytes

    return {f"{stem}.pdf": pdf_bytes(print_pages(work, sheets, paper), work.project.title)}


def _fold(work: Work, sheets: SheetWork, stem: str, paper: str) -> dict[str, bytes]:
    from jadeite.core.formats.fold_file import fold_text

    assert work.design is not None
    text = fold_text(work.design, work.bodies, work.project.title, work.findings)
    return {f"{stem}.fold": text.encode()}


def _gltf(work: Work, sheets: SheetWork, stem: str, paper: str) -> dict[str, bytes]:
    from jadeite.core.formats.solid import gltf_bytes

    assert work.design is not None
    return {f"{stem}.glb": gltf_bytes(work.design)}


def _csv(work: Work, sheets: SheetWork, stem: str, paper: str) -> dict[str, bytes]:
    from jadeite.core.formats.tables import cut_list_csv, notebook_csv

    assert work.design is not None
    cut = cut_list_csv(work.design, work.project, sheets.cutting)
    return {
        f"{stem}-cut-list.csv": cut.encode("utf-8-sig"),
        f"{stem}-notebook.csv": notebook_csv(work.project).encode("utf-8-sig"),
    }
