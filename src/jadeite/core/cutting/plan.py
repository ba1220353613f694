"""Paths in their order: pen, scores, inner cut-outs, outlines, small before large."""

from __future__ import annotations

import itertools
from bisect import bisect_right
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.cutting.profiles import CutterProfile, profile_by_key
from jadeite.core.cutting.route import route
from jadeite.core.cutting.settings import setting_for
from jadeite.core.cutting.strokes import strokes_of
from jadeite.core.nets.model import Floats, Piece
from jadeite.core.project import Learned
from jadeite.core.sheets.plan import Layout, PlacedPiece, SheetPlan, placed_points

__all__ = [
    "CutPath",
    "CuttingPlan",
    "SheetCut",
    "cutting_plan",
    "place_at",
    "stroke_seconds",
    "travel_seconds",
]

SHARP = np.radians(30.0)  # from memory, a carriage runs through what turns by less
TRAVEL = 150.0  # mm/s with the tool lifted; from memory
ORDER = ("pen", "score", "perforate", "inner", "outline")
TOOLS = {
    "pen": "pen",
    "score": "scoring tool",
    "perforate": "blade",
    "inner": "blade",
    "outline": "blade",
}
BANDS = (1500.0, 10_000.0)  # mm², from memory: of boxes round outlines; the smaller are cut first
ROLES = {"pen": "pen", "score": "score", "perforate": "perforate", "inner": "cut", "outline": "cut"}


@dataclass(frozen=True, eq=False)
class CutPath:
    """One stroke on a sheet; points (n, 2) in mm, first repeated when closed."""

    step: str  # of ORDER
    piece: str
    copy: int
    points: Floats
    passes: int
    fold: int | None = None

    @property
    def role(self) -> str:
        """``pen``, ``score``, ``perforate`` or ``cut``."""
        return ROLES[self.step]

    @cached_property
    def length(self) -> float:
        """Length of one pass in mm."""
        return float(np.linalg.norm(np.diff(self.points, axis=0), axis=1).sum())

    @property
    def end(self) -> Floats:
        """Where the tool is after the last pass, (2,) mm: of an open stroke each comes back."""
        return np.asarray(self.points[0 if self.passes % 2 == 0 else -1])

    @cached_property
    def corners(self) -> int:
        """Corners within the stroke that are so sharp that a cutter stops there."""
        way = np.diff(self.points, axis=0)
        turns = np.arctan2(way[:, 1], way[:, 0])
        by = np.abs((np.diff(turns) + np.pi) % (2 * np.pi) - np.pi)
        return int((by > SHARP).sum())


@dataclass(frozen=True, eq=False)
class SheetCut:
    """A sheet with its paths in order and the time at which each begins, in s.

    ``profile`` is what cuts it: hands, where the board tears on a carrier.
    """

    sheet: SheetPlan
    board: Board
    paths: tuple[CutPath, ...]
    starts: tuple[float, ...]
    seconds: float
    tool_changes: int
    setting: str
    profile: CutterProfile
    force: int | None = None


@dataclass(frozen=True, eq=False)
class CuttingPlan:
    """All sheets in order, with the whole time in s."""

    sheets: tuple[SheetCut, ...]
    profile: CutterProfile

    @property
    def seconds(self) -> float:
        """Time for everything, loading and tool changes counted."""
        return sum(sheet.seconds for sheet in self.sheets)

    @property
    def tool_changes(self) -> int:
        """How often the tool is changed."""
        return sum(sheet.tool_changes for sheet in self.sheets)

    @property
    def setting_changes(self) -> tuple[tuple[int, str], ...]:
        """Sheet number (from 0) and setting, wherever the setting changes."""
        out: list[tuple[int, str]] = []
        for i, sheet in enumerate(self.sheets):
            if not out or out[-1][1] != sheet.setting:
                out.append((i, sheet.setting))
        return tuple(out)


def _paths(piece: Piece, place: PlacedPiece, passes: int) -> list[CutPath]:
    out = []
    for step, points, fold in strokes_of(piece):
        times = passes if step in ("inner", "outline", "perforate") else 1
        out.append(
            CutPath(step, place.piece, place.copy, placed_points(points, place), times, fold)
        )
    return out


def _ordered(paths: list[CutPath]) -> list[CutPath]:
    """Step by step, small outlines before large ones so that the sheet stays firm."""
    out: list[CutPath] = []
    here = (0.0, 0.0)
    for step in ORDER:
        group = [_begun(path) for path in paths if path.step == step]
        bands = [group]
        if step == "outline":
            sizes = np.array([float(np.prod(np.ptp(path.points, axis=0))) for path in group])
            bands = [
                [path for path, size in zip(group, sizes, strict=True) if low <= size < high]
                for low, high in itertools.pairwise((0.0, *BANDS, np.inf))
            ]
        for band in bands:
            if not band:
                continue
            ends = np.array([path.points[[0, -1]] for path in band])
            for i, turned in zip(*route(ends, here), strict=True):
                path = band[i]
                out.append(replace(path, points=path.points[::-1]) if turned else path)
            here = (float(out[-1].points[-1, 0]), float(out[-1].points[-1, 1]))
    return out


def _begun(path: CutPath) -> CutPath:
    """A closed path from its corner between the longest edges: no nick where it is fine."""
    points = path.points
    if len(points) < 4 or not np.array_equal(points[0], points[-1]):
        return path
    long = np.linalg.norm(np.diff(points, axis=0), axis=1)
    first = int(np.minimum(long, np.roll(long, 1)).argmax())
    return replace(path, points=np.vstack([points[first:-1], points[: first + 1]]))


def travel_seconds(length: float, profile: CutterProfile) -> float:
    """How long a way of so many mm takes with the tool lifted, s."""
    if length <= 0:
        return 0.0
    if not profile.acceleration:
        return length / TRAVEL
    full = TRAVEL**2 / profile.acceleration  # mm, to come to that speed and to a stop
    if length >= full:
        return length / TRAVEL + TRAVEL / profile.acceleration
    return 2.0 * float(np.sqrt(length / profile.acceleration))


def stroke_seconds(path: CutPath, profile: CutterProfile) -> float:
    """How long a stroke takes, s: every pass at speed, and what each stop costs.

    From a stand and to one a length takes longer by the speed over the acceleration; a sharp
    corner is such a stop.
    """
    speed = profile.speed(path.role)
    seconds = path.length / speed
    if profile.acceleration:
        seconds += (1 + path.corners) * speed / profile.acceleration
    return seconds * path.passes


def cutting_plan(
    pieces: Sequence[Piece],
    layout: Layout,
    profile: CutterProfile,
    heavier: str = "second-pass",
    learned: Sequence[Learned] = (),
) -> CuttingPlan:
    """Paths, passes and times for every sheet of a layout."""
    by_name: Mapping[str, Piece] = {piece.name: piece for piece in pieces}
    by_hand = profile_by_key("hand")
    sheets = []
    tools = {own.key: "" for own in (profile, by_hand)}  # in each, from sheet to sheet
    for sheet in layout.sheets:
        board = by_name[sheet.placed[0].piece].board
        setting = setting_for(board, heavier, profile, learned, sheet.stock.name)
        paths = _ordered(
            [
                p
                for place in sheet.placed
                for p in _paths(by_name[place.piece], place, setting.passes)
            ]
        )
        own = by_hand if board.pressure == "by-hand" else profile.cutting_at(setting.speed)
        clock, changes, starts = own.loading, 0, []
        here, tool = np.zeros(2), tools[own.key]
        for path in paths:
            if TOOLS[path.step] != tool:
                changes += bool(tool)
                clock += own.tool_change if tool else 0.0
                tool = TOOLS[path.step]
            clock += travel_seconds(float(np.linalg.norm(path.points[0] - here)), own) + own.lift
            starts.append(clock)
            clock += stroke_seconds(path, own)
            here = path.end
        tools[own.key] = tool
        cut = SheetCut(
            sheet,
            board,
            tuple(paths),
            tuple(starts),
            clock,
            changes,
            setting.words,
            own,
            setting.force,
        )
        sheets.append(cut)
    return CuttingPlan(tuple(sheets), profile)


def place_at(sheet: SheetCut, seconds: float) -> tuple[int, float]:
    """Number of the path under way at a time, and how much of it is done, 0 to 1.

    Before the first path begins the number is -1.
    """
    i = bisect_right(sheet.starts, seconds) - 1
    if i < 0:
        return -1, 0.0
    path = sheet.paths[i]
    takes = stroke_seconds(path, sheet.profile)
    return i, min(1.0, (seconds - sheet.starts[i]) / takes) if takes > 0 else 1.0
