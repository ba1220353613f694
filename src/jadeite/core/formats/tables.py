"""Tables in CSV: the cut list and the notebook."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Mapping, Sequence

import numpy as np

from jadeite.core.cutting import CuttingPlan
from jadeite.core.cutting.advice import advice_for
from jadeite.core.nets import fold_lines, loops_of, piece_area
from jadeite.core.nets.veins import cut_through
from jadeite.core.pipeline import AtHand, JobPiece
from jadeite.core.project import Project

__all__ = ["bought_csv", "csv_text", "cut_list_csv", "notebook_csv", "plain_cell", "sheet_list_csv"]

FORMULA = ("=", "+", "-", "@", "\t", "\r")


def csv_text(rows: Iterable[Sequence[object]]) -> str:
    """Rows as CSV; text that a spreadsheet would run as a formula is kept as text."""
    out = io.StringIO()
    csv.writer(out, lineterminator="\r\n").writerows([[_safe(c) for c in row] for row in rows])
    return out.getvalue()


def _safe(cell: object) -> object:
    if isinstance(cell, str) and cell[:1] in FORMULA:
        return "'" + cell
    return cell


def plain_cell(cell: str) -> str:
    """A cell as it was before :func:`csv_text` kept it from being run."""
    return cell[1:] if cell[:1] == "'" and cell[1:2] in FORMULA else cell


def sheet_list_csv(plan: CuttingPlan, titles: Mapping[str, str]) -> str:
    """A row for each sheet in the order of cutting: carrier, tools, setting, time, what to save."""
    rows: list[Sequence[object]] = [
        ["sheet", "stock", "board", "carrier", "tools", "setting", "minutes", "cut_m", "scored_m",
         "used_percent", "pieces", "look", "lift", "save"]
    ]  # fmt: skip
    for number, cut in enumerate(plan.sheets, start=1):
        told = advice_for(cut, number, titles)
        rows.append(
            [
                number,
                cut.sheet.stock.name,
                cut.board.key,
                told.carrier,
                ", ".join(told.tools),
                told.setting,
                round(told.seconds / 60, 1),
                round(told.cut / 1000, 2),
                round(told.score / 1000, 2),
                round(100 * cut.sheet.used),
                len(cut.sheet.placed),
                told.look,
                told.lift,
                told.save,
            ]
        )
    return csv_text(rows)


def cut_list_csv(pieces: Iterable[JobPiece], plan: CuttingPlan) -> str:
    """What is cut: a row for each piece, with sheet, size, board and lengths in mm."""
    sheets: dict[str, set[int]] = {}
    for number, sheet in enumerate(plan.sheets, start=1):
        for place in sheet.sheet.placed:
            sheets.setdefault(place.piece, set()).add(number)
    rows: list[Sequence[object]] = [
        [
            "piece",
            "copies",
            "board",
            "grammage_g_m2",
            "thickness_mm",
            "width_mm",
            "height_mm",
            "area_mm2",
            "cut_mm",
            "folds",
            "fold_mm",
            "sheets",
            "item",
        ]
    ]
    for cut in pieces:
        piece = cut.piece
        points = np.concatenate([p.outline for p in piece.panels])
        width, height = np.ptp(points, axis=0)
        folds = fold_lines(piece)
        length = sum(float(np.linalg.norm(line[1] - line[0])) for line, _ in folds)
        rows.append(
            [
                piece.name,
                cut.count,
                piece.board.key,
                round(piece.board.grammage, 1),
                piece.board.thickness,
                round(float(width), 3),
                round(float(height), 3),
                round(piece_area(piece), 1),
                round(sum(lp.length for lp in loops_of(piece)) + cut_through(piece), 2),
                len(folds),
                round(length, 2),
                " ".join(str(n) for n in sorted(sheets.get(piece.name, ()))),
                cut.item,
            ]
        )
    return csv_text(rows)


def bought_csv(things: Iterable[AtHand]) -> str:
    """What is needed besides board: a row for each, lengths in mm."""
    rows: list[Sequence[object]] = [
        ["item", "what", "count", "across_mm", "length_mm", "length_in_all_mm", "thick_mm"]
    ]
    for thing in things:
        across, length = round(thing.across, 2), round(thing.length, 1)
        whole = round(thing.count * thing.length, 1)
        rows.append([thing.item, thing.name, thing.count, across, length, whole, thing.thick])
    return csv_text(rows)


def notebook_csv(project: Project) -> str:
    """Every trial: intended and measured in mm, verdict, note."""
    rows: list[Sequence[object]] = [
        [
            "date",
            "board",
            "intended_length_mm",
            "intended_width_mm",
            "intended_height_mm",
            "measured_length_mm",
            "measured_width_mm",
            "measured_height_mm",
            "lid_clearance_mm",
            "verdict",
            "by_mm",
            "note",
            "item",
        ]
    ]
    for t in project.trials:
        measured = t.measured or ("", "", "")
        rows.append(
            [
                t.date,
                t.board,
                *t.intended,
                *measured,
                t.clearance,
                t.verdict,
                "" if t.by is None else t.by,
                t.note,
                t.item,
            ]
        )
    return csv_text(rows)
