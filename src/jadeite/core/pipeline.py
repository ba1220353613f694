"""From the document to everything that is computed from it.

    Project -> fit -> design -> proof and findings
                        |-> layout -> cutting plan
                        '-> lift -> assembly plan

Each arrow is one function with one result; :func:`work_up` runs the quick
ones, :func:`plan_sheets` lays out and plans the cutting.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from jadeite.core.assembly import (
    AssemblyPlan,
    Lift,
    adhesive_by_key,
    assembly_plan,
    lift_of,
)
from jadeite.core.boards import CATALOGUE, Board, Sag, board_by_key, floor_sag
from jadeite.core.contents import Arrangement, arrange, first_arrangement
from jadeite.core.contents.things import Block, Cylinder, FlatPack
from jadeite.core.cutting import CuttingPlan, cutting_plan, profile_by_key
from jadeite.core.errors import FieldError
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.folding import (
    Body,
    FoldedFace,
    JointReport,
    body_gap,
    box_body,
    crossings,
    cylinder_body,
    fold_matrices,
    folded_faces,
    joint_reports,
    loop_gap,
    tabs_in_one_place,
)
from jadeite.core.nets import Design, flat_findings, piece_area
from jadeite.core.project import Project
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.shapes import ShapeFamily, family_by_key, resolve_options
from jadeite.core.sheets import Layout, lay_out
from jadeite.core.units import format_length, number_text

__all__ = [
    "SheetWork",
    "Work",
    "arrange_contents",
    "boards_of",
    "bodies_of",
    "mass_of_contents",
    "plan_sheets",
    "prove",
    "quick_arrangement",
    "thing_names",
    "work_up",
]

SMALLEST = 15.0  # mm; no hollow is smaller (see the tray's own range)
INTO = 1e-6  # mm; rounding when contents lie against a face
LOOP = 1e-6  # mm; rounding of folds that close a loop
Size = tuple[float, float, float]


def boards_of(project: Project, family: ShapeFamily) -> dict[str, Board]:
    """The board of every part of the family."""
    return {
        part: board_by_key(project.board_of(part), field=f"board of the {title.lower()}")
        for part, title in family.parts
    }


def _area(project: Project) -> Callable[[Size], float]:
    family = family_by_key(project.shape.key)
    options = resolve_options(family, project.shape.options)
    boards = boards_of(project, family)
    return lambda size: family.board_area(size, boards, options)


def arrange_contents(
    project: Project, step: Callable[[float, str], None] | None = None
) -> Arrangement | None:
    """The best arrangement of the project's contents; may take seconds."""
    return arrange(
        project.contents,
        _area(project),
        project.objective,
        limit=project.inside,
        smallest=SMALLEST,
        step=step,
    )


def quick_arrangement(project: Project) -> Arrangement | None:
    """A good arrangement at once, until the best one arrives."""
    return first_arrangement(
        project.contents,
        _area(project),
        project.objective,
        limit=project.inside,
        smallest=SMALLEST,
    )


def mass_of_contents(project: Project) -> float:
    """Mass in g of everything that goes in."""
    return sum(thing.mass * thing.count for thing in project.contents)


def thing_names(project: Project) -> list[str]:
    """Names of the things, with their counts."""
    return [t.name if t.count == 1 else f"{t.count} × {t.name}" for t in project.contents]


def bodies_of(
    project: Project, arrangement: Arrangement | None, design: Design, facets: int = 24
) -> tuple[Body, ...]:
    """The things in their places in the shared space of the closed design."""
    if arrangement is None:
        return ()
    size, centre = design.hollow.size, np.array(design.hollow.centre)
    corner = centre - np.array(size) / 2
    slack = (np.array(size) - np.array(arrangement.inside)) / 2
    corner = corner + np.array([slack[0], slack[1], 0.0])
    out = []
    for place in arrangement.places:
        thing: Block | Cylinder | FlatPack = project.contents[place.thing]
        middle = corner + np.array(place.centre)
        if isinstance(thing, Cylinder):
            out.append(
                cylinder_body(thing.name, thing.diameter, thing.height, middle, place.axis, facets)
            )
        else:
            out.append(box_body(thing.name, place.solid, middle))
    return tuple(out)


@dataclass(frozen=True, eq=False)
class Work:
    """Everything known of a project at once; ``design`` is None when refused."""

    project: Project
    arrangement: Arrangement | None
    inside: Size
    family: ShapeFamily
    boards: Mapping[str, Board]
    design: Design | None
    joints: tuple[JointReport, ...]
    sizes: Mapping[str, Reckoning]
    findings: tuple[Finding, ...]
    sag: Sag | None

    @property
    def blocked(self) -> bool:
        """Whether a finding blocks."""
        return any(f.level is Level.BLOCKED for f in self.findings)

    @cached_property
    def lift(self) -> Lift | None:
        """The movement from flat to closed."""
        return None if self.design is None else lift_of(self.design)

    @cached_property
    def assembly(self) -> AssemblyPlan | None:
        """Steps and times."""
        if self.design is None or self.lift is None:
            return None
        adhesive = adhesive_by_key(self.project.adhesive)
        return assembly_plan(self.design, self.lift, adhesive, thing_names(self.project))

    @cached_property
    def bodies(self) -> tuple[Body, ...]:
        """The contents in the closed design."""
        if self.design is None:
            return ()
        return bodies_of(self.project, self.arrangement, self.design)


@dataclass(frozen=True, eq=False)
class SheetWork:
    """The layout, the cutting plan, and what they have to say."""

    layout: Layout
    cutting: CuttingPlan
    findings: tuple[Finding, ...]


def _inside(project: Project, arrangement: Arrangement | None) -> Size:
    if project.inside is not None:
        return project.inside
    if arrangement is None:
        raise FieldError(
            "contents",
            "nothing is to go in and no inside is given",
            "Add a thing, or type the inside size.",
        )
    return arrangement.inside


def prove(design: Design) -> tuple[tuple[JointReport, ...], tuple[Finding, ...]]:
    """Prove that a design closes; every failure blocks."""
    reports = joint_reports(design)
    found: list[Finding] = []
    for r in reports:
        if not r.closed:
            found.append(
                Finding(
                    Level.BLOCKED,
                    "joint-open",
                    f"{r.joint.title}: does not close. Angle {r.angle:.2f}°, distance "
                    f"{r.distance:.2f} mm for {r.wanted:.2f} mm, {r.landed:.0%} of it lands.",
                    "/".join(r.joint.tab),
                )
            )
    for one, other, area in tabs_in_one_place(reports):
        found.append(
            Finding(
                Level.BLOCKED,
                "tabs-in-one-place",
                f"{one.title} and {other.title} claim the same {area:.1f} mm².",
                "/".join(one.tab),
            )
        )
    joined = frozenset((p.name, f.parent, f.child) for p in design.pieces for f in p.folds)
    faces = folded_faces(design)
    for a, b, length in crossings(faces, joined):
        found.append(
            Finding(
                Level.BLOCKED,
                "panels-cross",
                f"{design.piece(a.piece).panel(a.panel).title} passes through "
                f"{design.piece(b.piece).panel(b.panel).title} over {length:.1f} mm.",
                f"{a.piece}/{a.panel}",
            )
        )
    for piece in design.pieces:
        gap = loop_gap(piece, fold_matrices(piece, design.placements[piece.name]))
        if gap > LOOP:
            found.append(
                Finding(
                    Level.BLOCKED,
                    "loop-open",
                    f"{piece.title}: a fold gapes by {gap:.2f} mm.",
                    piece.name,
                )
            )
        found += flat_findings(piece)
    found += _hollow_findings(design, faces)
    return reports, tuple(found)


def _hollow_findings(design: Design, faces: tuple[FoldedFace, ...]) -> list[Finding]:
    centre, half = np.array(design.hollow.centre), np.array(design.hollow.size) / 2
    room, face = body_gap(faces, centre - half, centre + half)
    if room >= -INTO or face is None:
        return []
    panel = design.piece(face.piece).panel(face.panel)
    return [
        Finding(
            Level.BLOCKED,
            "hollow-small",
            f"{panel.title} of the {face.piece} reaches {-room:.2f} mm into the hollow.",
            f"{face.piece}/{face.panel}",
        )
    ]


def _contents_findings(
    project: Project, arrangement: Arrangement | None, inside: Size
) -> list[Finding]:
    if arrangement is None:
        return []
    out: list[Finding] = []
    over = [need - have for need, have in zip(arrangement.inside, inside, strict=True)]
    worst = max(range(3), key=lambda a: over[a])
    if over[worst] > INTO:
        axis = ("length", "width", "height")[worst]
        thing = _culprit(project, arrangement, worst)
        need = tuple(round(n + 0.049, 1) for n in arrangement.inside)
        out.append(
            Finding(
                Level.BLOCKED,
                "contents-too-big",
                f"{thing} does not fit: the inside {axis} lacks {number_text(over[worst])} mm.",
                "contents",
                "contents",
                Cure(f"Use {number_text(need[worst])} mm", (("inside", need),)),
            )
        )
    if not arrangement.exact and sum(t.count for t in project.contents) > 6:
        out.append(
            Finding(
                Level.NOTE,
                "arrangement-quick",
                "With more than six things the arrangement is a good one, not proved the best.",
                "contents",
                "contents",
            )
        )
    if project.contents and mass_of_contents(project) == 0:
        out.append(
            Finding(
                Level.NOTE,
                "mass-unknown",
                "No weight is given, so the floor's sag is not known.",
                "contents",
                "contents",
            )
        )
    return out


def _culprit(project: Project, arrangement: Arrangement, axis: int) -> str:
    """Name of the thing that ends farthest along an axis."""
    last = max(arrangement.places, key=lambda p: p.low[axis] + p.cell[axis])
    name = project.contents[last.thing].name
    return name[0].upper() + name[1:]


def _board_findings(
    project: Project, family: ShapeFamily, sag: Sag | None, inside: Size, mass: float
) -> list[Finding]:
    out: list[Finding] = []
    part = family.parts[0][0]
    if sag is not None and not sag.holds:
        better = next(
            (
                b
                for b in CATALOGUE
                if b.thickness > board_by_key(project.board_of(part)).thickness
                and floor_sag(b, inside[0], inside[1], mass).holds
            ),
            None,
        )
        cure = None
        if better is not None:
            cure = Cure(f"Use {better.title.lower()}", ((f"boards.{part}", better.key),))
        tail = "" if better else " No board here holds it: divide the load or add a stiffener."
        out.append(
            Finding(
                Level.LOOK,
                "floor-sags",
                f"The floor sags {number_text(sag.sag.value)} mm under {number_text(mass, 0)} g; "
                f"beyond {number_text(sag.limit.value)} mm the eye sees it.{tail}",
                f"{part}/floor",
                "board",
                cure,
            )
        )
    return out


def work_up(project: Project, arrangement: Arrangement | None) -> Work:
    """Sizes, design, proof and findings of a project with an arrangement.

    Raises
    ------
    FieldError
        Only for a key that does not exist (shape, board, option); a size that
        cannot be is a finding.
    """
    family = family_by_key(project.shape.key)
    options = resolve_options(family, project.shape.options)
    boards = boards_of(project, family)
    mass = mass_of_contents(project)
    design: Design | None = None
    joints: tuple[JointReport, ...] = ()
    found: list[Finding] = []
    inside: Size = (0.0, 0.0, 0.0)
    sag = None
    try:
        inside = _inside(project, arrangement)
        found += _contents_findings(project, arrangement, inside)
        design = family.build(inside, boards, options)
        joints, proof = prove(design)
        found += proof
        found += design.findings
        if mass > 0:
            sag = floor_sag(boards[family.parts[0][0]], inside[0], inside[1], mass)
        found += _board_findings(project, family, sag, inside, mass)
    except FieldError as error:
        empty = error.field == "contents"
        found.append(
            Finding(
                Level.NOTE if empty else Level.BLOCKED,
                "nothing-inside" if empty else "size-refused",
                str(error),
                error.field,
                "contents",
                _nearest(inside),
            )
        )
    sizes = dict(design.sizes) if design else {}
    sizes |= _totals(design, mass, joints)
    if sag is not None:
        sizes["floor-sag"], sizes["floor-sag-limit"] = sag.sag, sag.limit
    order = sorted(found, key=lambda f: -f.level)
    return Work(
        project, arrangement, inside, family, boards, design, joints, sizes, tuple(order), sag
    )


def _nearest(inside: Size) -> Cure | None:
    """The nearest inside that every shape can have."""
    if not any(inside):
        return None
    near = tuple(min(max(v, SMALLEST), 1000.0) for v in inside)
    if near == inside:
        return None
    text = " × ".join(number_text(v) for v in near)
    return Cure(f"Use {text} mm", (("inside", near),))


def _totals(
    design: Design | None, mass: float, joints: tuple[JointReport, ...]
) -> dict[str, Reckoning]:
    if design is None:
        return {}
    areas = [(piece, piece_area(piece)) for piece in design.pieces]
    board = reckon(
        "Board used",
        sum(a for _, a in areas),
        "all panels of all pieces",
        *(given(piece.title, a, "mm2") for piece, a in areas),
        unit="mm2",
    )
    weight = reckon(
        "Finished weight",
        sum(a * p.board.grammage / 1e6 for p, a in areas),
        "area times grammage, contents not counted",
        *(
            given(f"{p.title}, {p.board.grammage:.0f} g/m²", a * p.board.grammage / 1e6, "g")
            for p, a in areas
        ),
        unit="g",
    )
    glued = [r for r in joints if r.joint.kind == "glue"]
    apart = max((abs(r.distance - r.wanted) for r in glued), default=0.0)
    closes = reckon(
        "Largest gap in a seam",
        apart,
        "distance of the plies against half of both thicknesses",
        given("glue joints", len(glued), ""),
    )
    return {
        "board-area": board,
        "weight": weight,
        "contents-mass": given("Contents", mass, "g"),
        "seam-gap": closes,
    }


def plan_sheets(
    project: Project, design: Design, step: Callable[[float, str], None] | None = None
) -> SheetWork:
    """Lay the pieces out on the stock and plan the cutting."""
    profile = profile_by_key(project.cutter)
    layout = lay_out(
        design.pieces,
        project.stock,
        copies=project.copies,
        reach=profile.reach,
        margin=profile.margin,
        free_turns=project.free_turns,
        colours=project.colours,
        step=step,
    )
    found = []
    for name, copies in _count(layout.unplaced).items():
        piece = design.piece(name)
        points = np.concatenate([panel.outline for panel in piece.panels])
        width, height = np.ptp(points, axis=0)
        size = f"{format_length(width)} × {format_length(height)}"
        short = any(stock.count is not None for stock in project.stock)
        why = (
            "The stock does not suffice for"
            if short
            else "No sheet at hand that the cutter reaches holds"
        )
        found.append(
            Finding(
                Level.LOOK,
                "piece-fits-no-sheet",
                f"{why} {copies} × {piece.title} ({size}): add a larger sheet or another cutter.",
                name,
                "sheets",
            )
        )
    return SheetWork(
        layout, cutting_plan(design.pieces, layout, profile, project.heavier), tuple(found)
    )


def _count(unplaced: tuple[tuple[str, int], ...]) -> dict[str, int]:
    out: dict[str, int] = {}
    for name, _ in unplaced:
        out[name] = out.get(name, 0) + 1
    return out
