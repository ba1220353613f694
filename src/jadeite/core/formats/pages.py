"""The printed job: a cover with the scale check, nets at true size, then the steps.

Pages are pictures in millimetres, so the PDF and the printer get the same.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

import numpy as np

from jadeite.core.assembly import AssemblyPlan
from jadeite.core.assembly.clock import numbered
from jadeite.core.folding import folded_faces
from jadeite.core.formats.fonts import wrapped
from jadeite.core.formats.reckoning_text import reckoning_text
from jadeite.core.nets.model import Floats, Piece
from jadeite.core.pictures import (
    LIGHT,
    Camera,
    Label,
    Path,
    Picture,
    Scene,
    SceneStyle,
    Stroke,
    sheet_picture,
)
from jadeite.core.pictures.flat import Transform, piece_paths
from jadeite.core.pictures.side import clearest_side
from jadeite.core.pipeline import JobPiece, JobWork, SheetWork, Work, at_hand
from jadeite.core.units import System, counted, format_duration

__all__ = ["PAPERS", "Page", "print_pages", "step_picture", "true_size_pages"]

PAPERS = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}  # mm; published: ISO 216, Y14.1
MARGIN = 12.0  # mm; from memory, what home printers leave white and a little more
OVERLAP = 10.0  # mm; from memory, tiles overlap by this
CHECK = 50.0  # mm; side of the scale check square, design rule
HAIR = 0.2  # mm
BODY, SMALL, HEAD = 3.6, 3.1, 5.6  # mm, text sizes
LEADING = 1.4  # of the size, from line to line
STEP_WIDTH, STEP_HEIGHT = 80.0, 60.0  # mm, of a step's picture


@dataclass
class Page:
    """One page: pictures in mm from the upper left, each with an optional clip."""

    width: float
    height: float
    layers: list[tuple[Picture, tuple[float, float, float, float] | None]] = field(
        default_factory=list
    )

    def text(
        self,
        words: str,
        x: float,
        y: float,
        size: float = BODY,
        *,
        weight: int = 400,
        colour: str = LIGHT.ink,
        anchor: str = "start",
    ) -> None:
        """A line of text whose middle line is at y."""
        self.layers.append(
            (Picture(items=[Label(words, x, y, size, colour, anchor, weight)]), None)
        )

    def block(
        self,
        words: str,
        x: float,
        y: float,
        width: float,
        size: float = BODY,
        *,
        colour: str = LIGHT.ink,
        weight: int = 400,
    ) -> float:
        """Wrapped text from y on; returns where it ends."""
        for line in wrapped(words, size, width, weight):
            self.text(line, x, y, size, colour=colour, weight=weight)
            y += size * LEADING
        return y


def print_pages(job: JobWork, sheets: SheetWork, paper: str = "a4") -> list[Page]:
    """Every page of the job.

    Raises
    ------
    KeyError
        A paper that is not in :data:`PAPERS`.
    """
    size = PAPERS[paper]
    pages = _cover(job, sheets, size)
    for cuts in _alike(job.pieces):
        titles = [cut.piece.title for cut in cuts]
        pages += true_size_pages(cuts[0].piece, size, titles, sum(cut.count for cut in cuts))
    pages += _cutting(sheets, size)
    for name, work in job.works.items():
        pages += _steps(work, size, f"Assembly of the {name}" if job.several else "Assembly")
    for number, page in enumerate(pages, start=1):
        page.text(
            f"{job.project.title} · {number} of {len(pages)}",
            size[0] - MARGIN,
            size[1] - 7,
            SMALL,
            colour=LIGHT.quiet,
            anchor="end",
        )
    return pages


def _alike(pieces: Iterable[JobPiece]) -> Iterable[list[JobPiece]]:
    """Pieces that are cut alike from one board together: one print is the pattern for all."""
    out: dict[tuple[int, str, str], list[JobPiece]] = {}
    for cut in pieces:
        key = (id(cut.piece.panels), cut.piece.board.key, cut.colour)
        out.setdefault(key, []).append(cut)
    return out.values()


def _cover(job: JobWork, sheets: SheetWork, size: tuple[float, float]) -> list[Page]:
    """Scale check, sizes and findings."""
    page = Page(*size)
    project = job.project
    system: System = "mm"
    page.text(project.title, MARGIN, 20, 9.0, weight=700)
    first = next(iter(job.works.values()), None)
    what = ", ".join(project.names) if job.several or first is None else first.family.title
    page.text(project.occasion or what, MARGIN, 28, BODY, colour=LIGHT.quiet)
    square = np.array([[0, 0], [CHECK, 0], [CHECK, CHECK], [0, CHECK]], dtype=float)
    square += (size[0] - MARGIN - CHECK, 14.0)
    check = Picture(items=[Path((square,), stroke=Stroke(LIGHT.ink, HAIR))])
    middle = square.mean(axis=0)
    check.add(Label("50 mm", float(middle[0]), float(middle[1]) - 3, 5.0, LIGHT.ink, weight=600))
    check.add(
        Label("measure this square", float(middle[0]), float(middle[1]) + 4, SMALL, LIGHT.quiet)
    )
    page.layers.append((check, None))
    y = page.block(
        "Print at 100 %, not fitted to the page. If the square does not measure 50 mm "
        "both ways, correct the printer's scale first.",
        MARGIN,
        38,
        110,
        SMALL,
        colour=LIGHT.quiet,
    )
    flow = _Flow(page, max(y, 14 + CHECK) + 10)
    wide = size[0] - 2 * MARGIN
    for number, (name, work) in enumerate(job.works.items()):
        flow.y += 6 if number else 0
        flow.head(f"Sizes of the {name}" if job.several else "Sizes")
        _sizes(flow, work, wide, system)
        if work.task.names:
            flow.y += 6
            flow.head(f"{work.task.count} × {name}, one for each")
            _lines(flow, ", ".join(work.task.names), wide)
    besides = at_hand(job.works)
    schools = {name: work.school for name, work in job.works.items()}
    glued = {name: one for name, one in schools.items() if one and (one.grams or one.tape)}
    if besides or glued:
        flow.y += 6
        flow.head("Besides board")
    for name, school in glued.items():
        who = f"{name[0].upper()}{name[1:]}: " if job.several else ""
        takes = school.takes(job.works[name].task.count, system)
        _lines(flow, f"{who}{school.adhesive.title}, {takes}.", wide)
    for thing in besides:
        who = f"{thing.item[0].upper()}{thing.item[1:]}: " if job.several else ""
        _lines(flow, f"{who}{thing.words(system)}.", wide)
    found = [*job.findings, *(f for w in job.works.values() for f in w.findings), *sheets.findings]
    if found:
        flow.y += 6
        flow.head("To look at")
    for finding in found:
        _lines(flow, f"{finding.level.word}: {finding.message}", wide)
    return flow.pages


def _lines(flow: _Flow, words: str, wide: float) -> None:
    """Wrapped text that is not parted by the end of a page."""
    lines = wrapped(words, BODY, wide)
    y = flow.take(BODY * LEADING * len(lines))
    for i, line in enumerate(lines):
        flow.page.text(line, MARGIN, y + i * BODY * LEADING)


def _sizes(flow: _Flow, work: Work, wide: float, system: System) -> None:
    """Every size with its rule."""
    for value in work.sizes.values():
        rule = wrapped(value.rule or str(value.mark), SMALL, wide - 98)[:2]
        y = flow.take(SMALL * 1.35 * (len(rule) - 1) + BODY * 1.5)
        flow.page.text(value.name, MARGIN, y)
        figure = reckoning_text(value, system)
        flow.page.text(figure, MARGIN + 92, y, weight=600, anchor="end")
        for i, line in enumerate(rule):
            below = y + i * SMALL * 1.35
            flow.page.text(line, MARGIN + 98, below, SMALL, colour=LIGHT.quiet)


class _Flow:
    """Text from top to bottom, on as many pages as it needs."""

    def __init__(self, page: Page, y: float) -> None:
        self.pages, self.y, self._title = [page], y, ""

    @property
    def page(self) -> Page:
        """That which is being filled."""
        return self.pages[-1]

    def take(self, height: float) -> float:
        """Room of a height in mm that is not parted; returns where it begins."""
        if self.y + height > self.page.height - MARGIN:
            self.pages.append(Page(self.page.width, self.page.height))
            self.y = MARGIN + 8
            self.page.text(f"{self._title}, continued", MARGIN, self.y, HEAD, weight=600)
            self.y += 8
        y, self.y = self.y, self.y + height
        return y

    def head(self, title: str) -> None:
        """A heading, never the last line of a page."""
        if self.y + 24 > self.page.height - MARGIN:
            self.pages.append(Page(self.page.width, self.page.height))
            self.y = MARGIN + 8
        self._title = title
        self.page.text(title, MARGIN, self.y, HEAD, weight=600)
        self.y += 8


def true_size_pages(
    piece: Piece, size: tuple[float, float], titles: Sequence[str] = (), count: int = 1
) -> list[Page]:
    """A net at 1 : 1, over several pages where one does not hold it.

    ``titles`` are those of all pieces that are cut alike, ``count`` is how often in all.
    """
    points = np.concatenate([panel.outline for panel in piece.panels])
    low, span = points.min(axis=0), np.ptp(points, axis=0)
    head = 8.0
    room = (size[0] - 2 * MARGIN, size[1] - 2 * MARGIN - head)
    turned = _tiles(span, room[::-1]) < _tiles(span, room)
    if turned:  # a quarter turn saves paper
        span = span[::-1]
    counts = [_count(float(s), r) for s, r in zip(span, room, strict=True)]
    pages = []
    for row in range(counts[1]):
        for column in range(counts[0]):
            page = Page(*size)
            dx = column * (room[0] - OVERLAP) if counts[0] > 1 else (span[0] - room[0]) / 2
            dy = row * (room[1] - OVERLAP) if counts[1] > 1 else 0.0
            x, y = MARGIN - float(dx), MARGIN + head - float(dy)
            place = _Turned(turned, float(low[0]), float(low[1]), x, y, span)
            net = Picture(items=list(piece_paths(piece, place, LIGHT, HAIR, "#FFFFFF")))
            clip = (MARGIN, MARGIN + head, room[0], room[1])
            page.layers.append((net, clip))
            name = f"{numbered(titles or [piece.title])}, 1 : 1, good side up"
            name += f" · cut {count} of it" if count > 1 else ""
            if counts[0] * counts[1] > 1:
                name += f" · column {column + 1} of {counts[0]}, row {row + 1} of {counts[1]}"
                page.layers.append((_overlap_marks(clip), None))
            page.text(name, MARGIN, MARGIN + 1, BODY, weight=600)
            pages.append(page)
    return pages


def _count(length: float, room: float) -> int:
    if length <= room:
        return 1
    return math.ceil((length - OVERLAP) / (room - OVERLAP))


def _tiles(span: Floats, room: tuple[float, ...]) -> int:
    return math.prod(_count(float(s), r) for s, r in zip(span, room, strict=True))


class _Turned(Transform):
    """Flat mm to page mm, perhaps after a quarter turn (never a mirror)."""

    def __init__(
        self, turned: bool, low_x: float, low_y: float, x: float, y: float, span: Floats
    ) -> None:
        super().__init__(1.0, x, y)
        self.turned, self.low, self.span = turned, (low_x, low_y), span

    def __call__(self, points: Floats) -> Floats:
        u, v = points[:, 0] - self.low[0], points[:, 1] - self.low[1]
        if self.turned:
            u, v = float(self.span[0]) - v, u
        return np.column_stack([self.x + u, self.y + float(self.span[1]) - v])


def _overlap_marks(clip: tuple[float, float, float, float]) -> Picture:
    """Corner crosses and the lines up to which neighbouring pages overlap."""
    x, y, w, h = clip
    picture = Picture()
    river = Stroke(LIGHT.river, HAIR)
    for cx in (x + OVERLAP, x + w - OVERLAP):
        for cy in (y + OVERLAP, y + h - OVERLAP):
            cross = (np.array([[cx - 4, cy], [cx + 4, cy]]), np.array([[cx, cy - 4], [cx, cy + 4]]))
            picture.add(Path(cross, closed=False, stroke=river))
    edge = np.array([[x, y], [x + w, y], [x + w, y + h], [x, y + h]])
    picture.add(Path((edge,), stroke=Stroke(LIGHT.river, HAIR, (2.0, 2.0))))
    picture.add(
        Label(
            "lay the crosses of neighbouring pages on one another",
            x + w / 2,
            y + h + 2.4,
            2.6,
            LIGHT.river,
        )
    )
    return picture


def _cutting(sheets: SheetWork, size: tuple[float, float]) -> list[Page]:
    if not sheets.cutting.sheets:
        return []
    plan = sheets.cutting
    pieces = {name: cut.piece for name, cut in sheets.pieces.items()}
    colours = sheets.colours
    pages: list[Page] = []
    y = size[1]
    for number, cut in enumerate(plan.sheets, start=1):
        stock = cut.sheet.stock
        scale = min((size[0] - 2 * MARGIN - 16) / stock.width, 95.0 / stock.height)
        need = stock.height * scale + 40
        if y + need > size[1] - MARGIN:
            pages.append(Page(*size))
            y = MARGIN + 4
            pages[-1].text(
                "Cutting" if len(pages) == 1 else "Cutting, continued", MARGIN, y, HEAD, weight=600
            )
            y += 8
            if len(pages) == 1:
                total = format_duration(plan.seconds)
                pages[-1].text(
                    f"{plan.profile.title} · {total} · {counted(plan.tool_changes, 'tool change')}",
                    MARGIN,
                    y,
                    BODY,
                    colour=LIGHT.quiet,
                )
                y += 7
        page = pages[-1]
        page.text(f"Sheet {number}: {cut.setting}", MARGIN, y, BODY, weight=600)
        picture = sheet_picture(cut, pieces, LIGHT, colours, scale, 0.27)
        page.layers.append((picture.moved(MARGIN, y + 2), None))
        y += stock.height * scale + 28
    return pages


def step_picture(work: Work, number: int, width: float, height: float, unit: float) -> Picture:
    """The picture of one assembly step, fitted into width x height."""
    assert work.design is not None
    assert work.lift is not None
    assert work.assembly is not None
    step = work.assembly.steps[number]
    pose = work.lift.pose(step.lift)
    names = work.lift.in_picture(step)
    hidden = frozenset(p.name for p in work.design.pieces if names and p.name not in names)
    row = step.operation == "shape" and step.left_out
    matrices = work.lift.in_a_row(step) if row else pose.matrices
    scene = Scene(
        work.design, matrices, work.bodies, pose.contents, flat=step.lift == 0.0, hidden=hidden
    )
    camera = Camera(yaw=0.0, pitch=90.0)
    if step.lift > 0.0 and not step.above:
        faces = folded_faces(work.design, matrices)
        shown = [face for face in faces if face.piece not in hidden]
        camera = clearest_side(shown, set(step.panels), Camera(yaw=24.0, pitch=38.0))
    edge = 3 * unit
    camera = scene.fitted(camera, width, height, (edge, edge, edge, edge))
    style = SceneStyle(
        LIGHT,
        work.colours,
        unit,
        dimensions=False,
        lit=work.lit,
        names=pose.contents is not None and not work.lift.covered(step.lift),
        point_out=frozenset(step.panels)
        if step.operation in ("glue", "roll", "raise")
        else frozenset(),
    )
    return scene.draw(camera, style)


def _steps_head(page: Page, plan: AssemblyPlan, title: str) -> None:
    """What a page of steps is of; both lines end in dots where a name is long."""
    wide = page.width - 2 * MARGIN
    dry = format_duration(plan.dry_at)
    words = f"{format_duration(plan.seconds)} in all, dry after {dry} · last seam: {plan.last_seam}"
    for line, y, high, weight in ((title, 14.0, HEAD, 600), (words, 20.5, BODY, 400)):
        first, *more = wrapped(line, high, wide, weight)
        colour = LIGHT.ink if high == HEAD else LIGHT.quiet
        page.text(first + "…" * bool(more), MARGIN, y, high, weight=weight, colour=colour)


def _steps(work: Work, size: tuple[float, float], title: str) -> list[Page]:
    plan = work.assembly
    if plan is None:
        return []
    pages: list[Page] = []
    columns = (MARGIN, size[0] - MARGIN - STEP_WIDTH)
    rows = (30.0, 30.0 + 84.0, 30.0 + 168.0)
    for number, step in enumerate(plan.steps):
        slot = number % 6
        if slot == 0:
            pages.append(Page(*size))
            _steps_head(pages[-1], plan, title if number == 0 else f"{title}, continued")
        page = pages[-1]
        x, y = columns[slot % 2], rows[slot // 2]
        end = page.block(f"{number + 1}  {step.title}", x, y, STEP_WIDTH, weight=600)
        more = end - y - BODY * LEADING  # lines after the first: the picture makes room
        tall = STEP_HEIGHT - 16 - more
        picture = step_picture(work, number, STEP_WIDTH, tall, HAIR).moved(x, y + 6 + more)
        page.layers.append((picture, (x, y + 6 + more, STEP_WIDTH, tall)))  # no shade on words
        end = page.block(step.detail, x, y + STEP_HEIGHT - 6, STEP_WIDTH, SMALL)
        times = f"hands {format_duration(step.hands)}"
        if step.hold:
            times += f" · hold {format_duration(step.hold)}"
        if step.wait:
            times += f" · wait {format_duration(step.wait)} before it"
        page.text(times, x, end, SMALL, colour=LIGHT.quiet)
        if step.caution:
            page.block(step.caution, x, end + SMALL * 1.4, STEP_WIDTH, 2.6, colour=LIGHT.amber_text)
    return pages
