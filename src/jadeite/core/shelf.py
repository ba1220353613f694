"""The shelf: every shape made for the same contents, drawn, measured, to be compared."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from jadeite.core.contents import AnyThing, Block, FlatPack, Light
from jadeite.core.cutting import profile_of
from jadeite.core.errors import JadeiteError
from jadeite.core.folding import folded_faces
from jadeite.core.nets import Design, Piece, drawn_folds, piece_area
from jadeite.core.nets.arrivals import How, When
from jadeite.core.nets.model import Kind
from jadeite.core.nets.roles import Role
from jadeite.core.pictures import Camera, Palette, Picture, Scene, SceneStyle, net_picture
from jadeite.core.pictures.palette import BOARD_COLOURS
from jadeite.core.pipeline import (
    Work,
    answering,
    arrange_contents,
    plan_sheets,
    room_of,
    usual_brief,
    work_up,
)
from jadeite.core.project import Shape, Task, changed
from jadeite.core.shapes import (
    Option,
    OptionValue,
    ShapeFamily,
    all_families,
    family_by_key,
    resolve_options,
)

__all__ = [
    "FORM",
    "NETS",
    "SORTS",
    "ShelfEntry",
    "entry_of",
    "option_pictures",
    "ordinary",
    "sheets_of",
    "shelf",
    "sorted_shelf",
    "variants",
]

NETS, FORM = (150.0, 104.0), (110.0, 104.0)  # picture units of a tile; from memory
MOST_NETS = 4  # pieces drawn on a tile; from memory, more are too small to tell apart
BETWEEN = 5.0  # picture units between nets; from memory
LESS, MORE, SAME = 0.6, 1.5, 1e-6  # of a number, to show what it does; from memory
SMALL = 0.62  # of a hairline on a tile; from memory
# what a shape is shown round, by its purpose: from the invented scenario of the examples
ORDINARY: Mapping[str, tuple[AnyThing, ...]] = {
    "hold": (Block(name="a stack of note cards", length=90.0, width=60.0, height=40.0),),
    "light": (Light(name="battery light"),),
    "write": (FlatPack(name="a card", width=148.0, height=105.0, thickness=0.6),),
}
Size = tuple[float, float, float]

SORTS = (
    ("name", "name"),
    ("board", "board used"),
    ("size", "outside size"),
    ("pieces", "pieces"),
    ("glued", "glue joints"),
    ("minutes", "minutes"),
    ("sheets", "sheets"),
)


@dataclass(frozen=True)
class ShelfEntry:
    """One shape for the present contents.

    ``why`` says what keeps it from holding them, empty when it holds them;
    then the figures count: lengths in mm, ``area`` in mm², ``seconds`` of work.
    ``largest`` is the extent of its largest piece.  ``curved`` shapes have a
    curved score, which no perforation can take the place of.
    """

    key: str
    title: str
    why: str = ""
    inside: Size = (0.0, 0.0, 0.0)
    outside: Size = (0.0, 0.0, 0.0)
    area: float = 0.0
    pieces: int = 0
    glued: int = 0
    seconds: float = 0.0
    curved: bool = False
    opens: bool = True
    reached: bool = True
    nets: tuple[Picture, ...] = ()
    form: Picture | None = None
    sample: bool = False  # nothing is to go in yet: it is drawn round something ordinary


def _copies_once(pieces: Sequence[Piece]) -> list[Piece]:
    seen: dict[int, Piece] = {}
    for piece in pieces:
        seen.setdefault(id(piece.panels), piece)
    return list(seen.values())


def _outside(design: Design) -> Size:
    """Over the closed thing, by its middle surfaces."""
    points = np.concatenate([face.points for face in folded_faces(design)])
    x, y, z = np.ptp(points, axis=0).tolist()
    return x, y, z


def _seams(design: Design) -> int:
    """Glue joints that hold the shape: linings may be left out."""
    lines = {(p.name, q.name) for p in design.pieces for q in p.panels if q.role.traits.lines}
    glued = (j for j in design.joints if j.kind is Kind.GLUE)
    wound = sum(any(q.role.traits.wound for q in piece.panels) for piece in design.pieces)
    return wound + len({j.title for j in glued if j.tab not in lines})


def _opens_again(design: Design) -> bool:
    """Whether nothing that is folded after filling is glued."""
    closers = design.arrivals.folds(When.FILLED)
    glued = any(j.kind is Kind.GLUE and j.tab in closers for j in design.joints)
    return not glued and not design.arrivals.pairs(How.PRESSED)


def _reached(design: Design, task: Task) -> bool:
    """Whether every piece fits some sheet at hand within the cutter's reach, by its extent."""
    profile = profile_of(task)
    for piece in _copies_once(design.pieces):
        points = np.concatenate([panel.outline for panel in piece.panels])
        small, large = sorted(np.ptp(points, axis=0).tolist())
        fits = False
        for stock in task.stock:
            reach = (stock.width, stock.height)
            if profile.reach is not None:
                a, b = sorted(reach)
                c, d = sorted(profile.reach)
                reach = (min(a, c), min(b, d))
            low, high = sorted(v - 2 * profile.margin for v in reach)
            fits = fits or (small <= low + 1e-6 and large <= high + 1e-6)
        if not fits:
            return False
    return True


def _curved(piece: Piece) -> bool:
    """Whether a score is curved between two bowed faces; teeth fold along straight ones."""
    return any(
        len(line) > 2 and piece.panel(piece.folds[number].child).role is Role.GORE
        for line, number in drawn_folds(piece)
    )


def _nets(
    pieces: Sequence[Piece], palette: Palette, colours: Mapping[str, str]
) -> tuple[Picture, ...]:
    """Nets side by side, all at one scale."""
    spans = [np.ptp(np.concatenate([p.outline for p in piece.panels]), axis=0) for piece in pieces]
    wide, tall = sum(float(s[0]) for s in spans), max(float(s[1]) for s in spans)
    room = NETS[0] - BETWEEN * (len(pieces) - 1)
    scale = min(room / wide, NETS[1] / tall)
    out, x = [], (room - wide * scale) / 2
    for piece, span in zip(pieces, spans, strict=True):
        width = float(span[0]) * scale
        net = net_picture(piece, palette, colours[piece.name], width, NETS[1], SMALL, scale)
        out.append(net.moved(x, 0.0))
        x += width + BETWEEN
    return tuple(out)


def entry_of(work: Work, palette: Palette) -> ShelfEntry:
    """A shape that has been worked up, drawn as real net and folded form."""
    family, design = work.family, work.design
    blocked = next((f.message for f in work.findings if f.level.word == "blocked"), "")
    if design is None or work.lift is None or work.assembly is None:
        why = next((f.message for f in work.findings), "Nothing is to go in yet.")
        return ShelfEntry(family.key, family.title, blocked or why)
    colours = work.colours
    base = BOARD_COLOURS[0][1]
    shown = _copies_once(design.pieces)[:MOST_NETS]
    nets = _nets(shown, palette, {p.name: colours.get(p.name, base) for p in shown})
    pose = work.lift.pose(1.0)
    scene = Scene(design, pose.matrices, ribbons=pose.ribbons)
    camera = scene.fitted(Camera(28, 32), *FORM, (3, 3, 6, 3))
    style = SceneStyle(palette, colours, SMALL, dimensions=False, names=False)
    return ShelfEntry(
        family.key,
        family.title,
        blocked,
        work.inside,
        _outside(design),
        sum(piece_area(piece) for piece in design.pieces),
        len(design.pieces),
        _seams(design),
        work.assembly.seconds,
        any(_curved(piece) for piece in shown),
        _opens_again(design),
        _reached(design, work.task),
        nets,
        scene.draw(camera, style),
    )


def small_form(work: Work, palette: Palette, size: tuple[float, float]) -> Picture | None:
    """The finished thing, drawn plain within a size in pixels; None where it is not made."""
    if work.design is None or work.lift is None:
        return None
    pose = work.lift.pose(1.0)
    scene = Scene(work.design, pose.matrices, ribbons=pose.ribbons)
    camera = scene.fitted(Camera(28, 32), *size, (1, 1, 1, 1))
    style = SceneStyle(palette, work.colours, SMALL, dimensions=False, names=False, shadow=False)
    return scene.draw(camera, style)


def ordinary(family: ShapeFamily) -> Task:
    """A task in which a shape is shown as itself, of something ordinary for its purpose."""
    things = ORDINARY.get(family.purpose, ()) if family.answers[0] == "hollow" else ()
    brief = usual_brief(family, sized=not things)
    return changed(
        Task(), contents=things, brief=brief, shape=Shape(key=family.key), usual_windows=True
    )


def _made(task: Task | None, family: ShapeFamily, kept: Mapping[str, Mapping[str, Any]]) -> Work:
    """The task in another shape, its options as they were left; as itself where nothing goes in."""
    options = dict(kept.get(family.key, {}))
    if task is None:
        other = ordinary(family)
    else:
        other = changed(answering(task, family), shape=Shape(key=family.key, options=options))
        if not other.contents and room_of(other).limit is None:
            sample = ordinary(family)
            other = changed(other, contents=sample.contents, brief=sample.brief)
    return work_up(other, arrange_contents(other, quick=True))


def shelf(
    task: Task | None,
    kept: Mapping[str, Mapping[str, Any]],
    palette: Palette,
    tell: Callable[[ShelfEntry], None],
    part: slice = slice(None),
) -> None:
    """Every shape for the task's contents, told one by one, the open one first.

    Without a task each is shown as itself, round something ordinary.  ``part``
    picks some of all shapes, so that several processes may share them.
    """
    families = all_families()
    if task is not None:
        families = tuple(sorted(families, key=lambda f: f.key != task.shape.key))
        kept = {**kept, task.shape.key: task.shape.options}
    for family in families[part]:
        try:
            work = _made(task, family, kept)
            sample = task is None or work.task.contents != task.contents
            tell(replace(entry_of(work, palette), sample=sample))
        except JadeiteError as error:
            tell(ShelfEntry(family.key, family.title, str(error)))


def sheets_of(
    task: Task | None, key: str, kept: Mapping[str, Mapping[str, Any]]
) -> tuple[int, int] | None:
    """How many sheets a shape takes, and how many pieces fit none; None when it is refused."""
    if task is not None:
        kept = {**kept, task.shape.key: task.shape.options}
    try:
        work = _made(task, family_by_key(key), kept)
    except JadeiteError:
        return None
    if work.design is None:
        return None
    layout = plan_sheets(work.task, work.design).layout
    return len(layout.sheets), len(layout.unplaced)


def variants(option: Option, value: OptionValue) -> tuple[OptionValue, ...]:
    """Values of an option that show what it does: every choice, or less and more of a number."""
    if option.choices:
        return tuple(key for key, _ in option.choices)
    if option.words is not None:
        return option.shows or (value,)
    now = float(value)
    less, more = max(option.low, LESS * now), min(option.high, MORE * max(now, option.low))
    if option.unit == "count":
        less, more = max(option.low, now - 2.0), min(option.high, now + 2.0)
    if option.unit in ("deg", "%"):
        less, more = max(option.low, now - 12.0), min(option.high, now + 12.0)
    return tuple(dict.fromkeys(v for v in (less, more) if abs(v - now) > SAME)) or (now,)


def option_pictures(
    task: Task, palette: Palette, tell: Callable[[str, OptionValue, ShelfEntry], None]
) -> None:
    """The open shape with every option set one way and another, told one by one."""
    family = family_by_key(task.shape.key)
    values = resolve_options(family, task.shape.options)
    for option in family.options:
        for value in variants(option, values[option.key]):
            options = {**task.shape.options, option.key: value}
            try:
                entry = entry_of(_made(task, family, {family.key: options}), palette)
            except JadeiteError as error:
                entry = ShelfEntry(family.key, family.title, str(error))
            tell(option.key, value, entry)


def sorted_shelf(
    entries: Sequence[ShelfEntry], by: str, sheets: Mapping[str, tuple[int, int]]
) -> list[ShelfEntry]:
    """Entries by one of :data:`SORTS`; those that cannot hold the contents come last."""
    far = float("inf")

    def rank(entry: ShelfEntry) -> tuple[bool, float, str]:
        x, y, z = entry.outside
        value = {
            "name": 0.0,
            "board": entry.area,
            "size": x * y * z,
            "pieces": float(entry.pieces),
            "glued": float(entry.glued),
            "minutes": entry.seconds,
            "sheets": float(sheets[entry.key][0]) if entry.key in sheets else far,
        }[by]
        return bool(entry.why), value, entry.title

    return sorted(entries, key=rank)
