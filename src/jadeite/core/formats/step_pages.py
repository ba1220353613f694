"""The steps of assembly as pages: six on each, a picture and what the hands do."""

from __future__ import annotations

from jadeite.core.assembly import AssemblyPlan, Step
from jadeite.core.folding import folded_faces
from jadeite.core.formats.fonts import wrapped
from jadeite.core.formats.page import BODY, HAIR, HEAD, LEADING, MARGIN, SMALL, Page
from jadeite.core.pictures import LIGHT, Camera, Picture, Scene, SceneStyle
from jadeite.core.pictures.side import clearest_side
from jadeite.core.pipeline import Work
from jadeite.core.units import System, format_duration, in_system

__all__ = ["step_pages", "step_picture"]

STEP_WIDTH, STEP_HEIGHT = 80.0, 60.0  # mm, of a step's picture with its heading
TOP, ROW = 30.0, 84.0  # mm, where the first row begins, and from row to row
FOOTER = 5.0  # mm of it at the foot of a page
CAUTION = 2.6  # mm, size of its text
GAP, LEAST_TALL = 2.0, 16.0  # mm, before the next row, and of a picture at the least


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
        work.design,
        matrices,
        work.bodies,
        pose.contents,
        flat=step.lift == 0.0,
        hidden=hidden,
        ribbons=pose.ribbons,
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


def step_pages(
    work: Work, size: tuple[float, float], title: str, system: System = "mm"
) -> list[Page]:
    """Every step of one item, on pages of a size in mm; none where there is no plan."""
    plan = work.assembly
    if plan is None:
        return []
    pages: list[Page] = []
    columns = (MARGIN, size[0] - MARGIN - STEP_WIDTH)
    rows = (TOP, TOP + ROW, TOP + 2 * ROW)
    for number in range(len(plan.steps)):
        slot = number % 6
        if slot == 0:
            pages.append(Page(*size))
            _steps_head(pages[-1], plan, title if number == 0 else f"{title}, continued")
        x, y = columns[slot % 2], rows[slot // 2]
        high = min(ROW, size[1] - MARGIN - FOOTER - y)
        _put_step(pages[-1], work, number, (x, y, high), system)
    return pages


def _put_step(
    page: Page, work: Work, number: int, place: tuple[float, float, float], system: System
) -> None:
    """A step on a page from its upper left on, as high as there is room: x, y and height, mm.

    The picture makes room for long words.
    """
    assert work.assembly is not None
    step = work.assembly.steps[number]
    x, y, high = place
    title, detail = (in_system(words, system) for words in (step.title, step.detail))
    end = page.block(f"{number + 1}  {title}", x, y, STEP_WIDTH, weight=600)
    times = _times(step)
    tells = len(wrapped(detail, SMALL, STEP_WIDTH)) + len(wrapped(times, SMALL, STEP_WIDTH))
    warns = len(wrapped(step.caution, CAUTION, STEP_WIDTH)) if step.caution else 0
    words = LEADING * (tells * SMALL + warns * CAUTION) + GAP
    top = end - BODY * LEADING + 6.0  # lines of a heading after the first take of the picture
    words_at = y + min(STEP_HEIGHT - 6.0, high - words)
    tall = max(LEAST_TALL, words_at - 4.0 - top)
    picture = step_picture(work, number, STEP_WIDTH, tall, HAIR).moved(x, top)
    page.layers.append((picture, (x, top, STEP_WIDTH, tall)))  # no shade on words
    end = page.block(detail, x, words_at, STEP_WIDTH, SMALL)
    end = page.block(times, x, end, STEP_WIDTH, SMALL, colour=LIGHT.quiet)
    if step.caution:
        page.block(step.caution, x, end, STEP_WIDTH, CAUTION, colour=LIGHT.amber_text)


def _times(step: Step) -> str:
    """How long the hands are at it, and what has to be waited for."""
    times = f"hands {format_duration(step.hands)}"
    if step.hold:
        times += f" · hold {format_duration(step.hold)}"
    if step.wait:
        times += f" · wait {format_duration(step.wait)} before it"
    return times
