"""Prints: a picture, a colour or words on the good side of any flat panel.

A picture lies upright as the finished thing stands, and fills its panel; on a panel whose
outline was found in it, it lies where its figure is.  Along cut edges ink runs past the cut,
so that no white shows where the blade is a little off; at a fold it ends.
"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Polygon

from jadeite.core.dressings.dressing import Asked, Dressing, without
from jadeite.core.dressings.upright import upright
from jadeite.core.errors import FieldError
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.lettering import Room, unwritable, written
from jadeite.core.nets.model import Design, Floats, Panel, Piece, Printed, Register, Trace, Vein
from jadeite.core.photos import FAIR, GOOD, Ink, ppi, verdict
from jadeite.core.project import Photo, Print, Task
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.units import number_text

__all__ = ["BLEED", "LETTERS", "PRINTS", "print_findings", "region_of", "with_print"]

BLEED = 2.5  # mm of ink past a cut edge; common practice, 2 to 3
LETTERS, PEN = "plain", 0.6  # of printed words: style, and width of the line in mm; from memory
AROUND, LEAST_TALL = 3.0, 2.0  # mm; from memory, words keep from edges, and are no lower
LOWER = (1.0, 0.9, 0.8, 0.7, 0.6, 0.5, 0.4)  # of the height asked for, one after another
BESIDE = (0.0, 0.1, -0.1, 0.2, -0.2, 0.3, -0.3, 0.4, -0.4)  # of a room's height, likewise
SLIVER = 0.6  # mm; from memory, between flaps no narrower line of ink is printed
FINE = 1e-3  # mm; rounding


def with_print(design: Design, asked: Print, photo: Photo | None) -> Design:
    """The design with a print on one panel.

    Raises
    ------
    FieldError
        There is no such panel, it is bent or glued over, or the words have no room.
    """
    field = f"prints.{asked.piece}"
    if not design.has((asked.piece, asked.panel)):
        raise FieldError(field, f"there is no panel “{asked.panel[:40]}”", "Choose another panel.")
    piece = design.piece(asked.piece)
    panel = piece.panel(asked.panel)
    traits = panel.role.traits
    if traits.bends or traits.leans or traits.glue:
        why = "is glued over" if traits.glue else "is bent"
        raise FieldError(field, f"the {panel.title} {why}", "Choose another panel.")
    if asked.photo and photo is None:
        raise FieldError(field, f"the picture “{asked.photo}” is gone", "Choose another picture.")
    turn = upright(design, piece, panel) + asked.turn
    prints, veins = list(piece.prints), list(piece.veins)
    within = _rings(region_of(piece, panel))
    if asked.colour:
        prints.append(Printed(panel.name, within, asked.colour))
    if photo is not None:
        held = design.registers.get((piece.name, panel.name))
        if held is not None:
            veins = [vein for vein in veins if vein.trace is not Trace.PRINT]
            prints.append(_registered(panel, photo, held))
        else:
            prints.append(_filling(panel, within, asked, photo, turn))
    if asked.words.strip():
        veins += _words(panel, asked, turn, field)
    done = replace(piece, prints=tuple(prints), veins=tuple(veins))
    pieces = tuple(done if p is piece else p for p in design.pieces)
    return replace(design, pieces=pieces)


def region_of(piece: Piece, panel: Panel) -> MultiPolygon:
    """Where ink of a panel goes: over it, past its cut edges, not over other panels; mm."""
    own = Polygon(panel.outline)
    wide = own.buffer(BLEED, join_style="mitre", mitre_limit=2.0)
    others = [Polygon(p.outline).buffer(FINE) for p in piece.panels if p is not panel]
    left = wide.difference(shapely.union_all(others))
    left = left.buffer(-SLIVER, join_style="mitre").buffer(SLIVER, join_style="mitre").union(own)
    return MultiPolygon([p for p in shapely.get_parts(left) if p.intersects(own)])


def _rings(region: MultiPolygon) -> tuple[Floats, ...]:
    """Outlines and holes, (n, 2) each."""
    return tuple(
        np.array(ring.coords)[:-1]
        for part in region.geoms
        for ring in (part.exterior, *part.interiors)
    )


def _registered(panel: Panel, photo: Photo, held: Register) -> Printed:
    """A picture where its figure is the panel's outline; ink ends with the figure's own."""
    reach = held.side * held.spread + BLEED
    ring = np.array(Polygon(panel.outline).buffer(reach).exterior.coords)[:-1]
    ink = Ink(photo.file, photo.digest, held.figure, held.spread)
    return Printed(panel.name, (ring,), "", ink, held.side, held.centre)


def _filling(
    panel: Panel, within: tuple[Floats, ...], asked: Print, photo: Photo, turned: float
) -> Printed:
    """A picture that covers the whole region of a panel, moved and scaled as asked."""
    turn = math.radians(turned)
    back = np.array([[math.cos(turn), -math.sin(turn)], [math.sin(turn), math.cos(turn)]])
    points = np.concatenate(within) @ back  # as an upright picture sees them
    low, high = points.min(axis=0), points.max(axis=0)
    wide, high_ = photo.size
    side = max(wide, high_)
    fills = float(max((high - low)[0] / (wide / side), (high - low)[1] / (high_ / side)))
    moved = (high - low) * (asked.right / 100, asked.up / 100)
    at = ((low + high) / 2 + moved) @ back.T
    return Printed(
        panel.name, within, "", Ink(photo.file, photo.digest), fills * asked.scale / 100,
        (float(at[0]), float(at[1])), turned,
    )  # fmt: skip


def _words(panel: Panel, asked: Print, turned: float, field: str) -> list[Vein]:
    """Words in the middle of a panel, as printed lines.

    Raises
    ------
    FieldError
        They cannot be written, or have no room.
    """
    text = asked.words.strip()
    if why := unwritable(text, LETTERS):
        raise FieldError(field, why, "Write it by hand, or print it as a picture.")
    turn = math.radians(turned)
    back = np.array([[math.cos(turn), -math.sin(turn)], [math.sin(turn), math.cos(turn)]])
    points = panel.outline @ back
    low, high = points.min(axis=0) + AROUND, points.max(axis=0) - AROUND
    room = (float(high[0] - low[0]), float(high[1] - low[1]))
    if min(room) < LEAST_TALL:
        raise FieldError(field, f"the {panel.title} is too small for words", "Choose another.")
    shape = Polygon(panel.outline).buffer(FINE)
    for opening in panel.openings:
        shape = shape.difference(Polygon(opening.points)) if opening.closed else shape
    middle = (low + high) / 2 + (high - low) * (asked.right / 100, asked.up / 100)
    for share in LOWER:  # a notch or a window is written round: lower, or beside it
        tall = asked.tall * share
        if tall < LEAST_TALL:
            break
        said = written(text, Room(*room, tall, min(LEAST_TALL, tall), PEN, 0.0), LETTERS)
        for off in BESIDE:
            at = middle + np.array([0.0, off * room[1]])
            lines = [(stroke + at) @ back.T for stroke in said.strokes]
            if all(shape.covers(shapely.LineString(line)) for line in lines):
                return [Vein(line, Trace.PRINT) for line in lines]
    words = f"the {panel.title} has no room for “{text[:30]}”"
    raise FieldError(field, words, "Choose another panel, or fewer words.")


def _dress(draft: Design, asked: Asked) -> Design:
    task = asked.task
    photos = {photo.key: photo for photo in task.photos}
    sharp: list[Reckoning] = []
    for number, one in enumerate(task.prints):
        photo = photos.get(one.photo)
        try:
            draft = with_print(draft, one, photo)
        except FieldError as error:
            left = tuple(p for i, p in enumerate(task.prints) if i != number)
            cure = Cure("Leave it out", (("prints", left),))
            draft = without(draft, "print", f"{one.piece}/{one.panel}", error, cure)
            continue
        if photo is not None:
            sharp.append(_sharpness(draft.piece(one.piece).prints[-1], photo))
    if not sharp:
        return draft
    worst = min(sharp, key=lambda r: r.value)
    return replace(draft, sizes={**draft.sizes, "sharpness": worst})


def _sharpness(printed: Printed, photo: Photo) -> Reckoning:
    """Pixels an inch of a picture at the size in which it is printed."""
    value = ppi(max(photo.size), printed.side)
    return reckon(
        "Picture, pixels an inch", value, f"{verdict(value)}; enlarging adds no detail",
        given("longer side, pixels", float(max(photo.size)), ""),
        given("longer side, printed", printed.side),
        constant("sharp from", GOOD, "ppi", Mark.PRACTICE), unit="ppi",
    )  # fmt: skip


def print_findings(design: Design, task: Task) -> tuple[Finding, ...]:
    """What of the prints needs a look: a picture whose pixels will show."""
    sharp = design.sizes.get("sharpness")
    if sharp is None or sharp.value >= FAIR:
        return ()
    words = (
        f"The picture has {sharp.value:.0f} pixels an inch at this size, and under "
        f"{FAIR:.0f} they show. Take a larger picture, or make it smaller."
    )
    cure = None
    if task.brief.kind == "span" and design.registers:
        wide = math.floor(task.brief.width * sharp.value / FAIR)
        cure = Cure(
            f"Make it {number_text(float(wide))} mm wide",
            (("brief.width", float(wide)), ("brief.height", None)),
        )
    return (Finding(Level.LOOK, "picture-blurred", words, "picture", "shape", cure),)


PRINTS = Dressing("prints", _dress)
