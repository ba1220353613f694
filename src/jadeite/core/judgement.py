"""What needs a look about the contents and the board."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from shapely.geometry import Polygon

from jadeite.core.boards import DEFAULT_BOARD, Sag, smallest_roll, with_own
from jadeite.core.choice import compare, stiffener_for
from jadeite.core.contents import Arrangement, FlatPack, Loose, Standing, cautions_for
from jadeite.core.contents.loose import bulk_spread, bulk_volume
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.folding import Body, JointReport, body_gap, folded_faces, round_gap
from jadeite.core.nets import Design, Piece
from jadeite.core.nets.rolled import tightest_roll
from jadeite.core.parts import part_of
from jadeite.core.placing import beyond_round
from jadeite.core.project import Project
from jadeite.core.shapes import ShapeFamily
from jadeite.core.units import number_text

__all__ = [
    "board_findings",
    "body_findings",
    "cautions",
    "contents_findings",
    "mass_of_contents",
    "overlay_findings",
    "round_findings",
]

TOUCH = 1e-3  # mm; rounding, a thing may touch a ply
UPRIGHT = 0.999  # cosine; rounding
INTO = 1e-6  # mm; rounding when contents lie against a face
SNUG = 0.3  # mm on each side; from memory, with less air a lid has to be pressed on
ROUNDING = 1e-9  # of a length; rounding
Size = tuple[float, float, float]


def mass_of_contents(project: Project) -> float:
    """Mass in g of everything that goes in."""
    return sum(thing.each_mass * thing.count for thing in project.contents)


def contents_findings(
    project: Project, arrangement: Arrangement | None, inside: Size
) -> list[Finding]:
    """What needs a look about the things and the hollow (mm) that is to hold them."""
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
    out += _things_findings(project, inside)
    if arrangement.gap > 0 and arrangement.grid is None:
        out.append(
            Finding(
                Level.NOTE,
                "arrangement-not-proved",
                "The arrangement is a good one, not proved the best: a better one could save "
                f"{100 * arrangement.gap:.0f} % at most.",
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


def round_findings(
    project: Project, arrangement: Arrangement | None, design: Design
) -> list[Finding]:
    """Whether what is in a shape that was measured for something round is round."""
    if arrangement is None:
        return []
    over = beyond_round(arrangement, design, project.contents)
    if over <= INTO:
        return []
    return [
        Finding(
            Level.BLOCKED,
            "measured-round",
            f"It is measured for something round, but what is in it reaches out of that by "
            f"{number_text(over)} mm.",
            "contents",
            "shape",
            Cure("Measure it for a block", (("shape.options.measured", "block"),)),
        )
    ]


def body_findings(bodies: Sequence[Body], design: Design) -> list[Finding]:
    """Things that a ply runs into, in the closed design: measured on each thing itself."""
    if not bodies:
        return []
    faces = folded_faces(design)
    out = []
    for body in bodies:
        points = np.concatenate(body.faces)
        centre = body.pose[:3, 3]
        if body.kind == "sphere":
            room, face = round_gap(faces, "ball", centre, body.size)
        elif body.kind == "cylinder" and abs(body.pose[2, 2]) > UPRIGHT:
            room, face = round_gap(faces, "cylinder", centre, body.size)
        else:
            room, face = body_gap(faces, points.min(axis=0), points.max(axis=0))
        if room < -TOUCH and face is not None:
            panel = design.piece(face.piece).panel(face.panel)
            out.append(
                Finding(
                    Level.BLOCKED,
                    "thing-hits-board",
                    f"{body.name[:1].upper()}{body.name[1:]} runs into {panel.title} by "
                    f"{number_text(-room)} mm.",
                    f"{face.piece}/{face.panel}",
                    "contents",
                )
            )
    return out


def overlay_findings(design: Design, joints: Sequence[JointReport]) -> list[Finding]:
    """Overlays over which something slides: they take from its air, and may leave none."""
    worst: tuple[float, float, str, str, str] | None = None
    for report in joints:
        if report.joint.kind != "slide":
            continue
        inner = design.piece(report.joint.target[0])
        outer = design.piece(report.joint.tab[0])
        air = report.distance - (inner.board.thickness + outer.board.thickness) / 2
        proud = _proud_under(design, report)
        if proud > 0 and air - proud < SNUG and (worst is None or air - proud < worst[0]):
            title = inner.panel(report.joint.target[1]).title
            where = "/".join(report.joint.target)
            worst = (air - proud, air, title, report.joint.title, where)
    if worst is None:
        return []
    left, air, panel, title, where = worst
    binds = left < 0
    return [
        Finding(
            Level.BLOCKED if binds else Level.LOOK,
            "overlay-under-lid",
            f"{title[0].upper()}{title[1:]}: the overlay on the {panel} takes "
            f"{number_text(air - left, 2)} mm of {number_text(air, 2)} mm of air; it "
            f"{'binds' if binds else 'is snug'}. Take it away, or make the lid less deep.",
            where,
        )
    ]


def _proud_under(design: Design, report: JointReport) -> float:
    """How far in mm overlays stand proud of a panel where another slides over it."""
    proud = 0.0
    level = {report.joint.target}
    while level:
        lying = [name for name, on in design.laid_flat.items() if on in level]
        under = [
            name
            for name in lying
            if report.place.intersection(Polygon(design.piece(name).panels[0].outline)).area > 0
        ]
        proud += max((design.piece(name).board.thickness for name in under), default=0.0)
        level = {(name, design.piece(name).panels[0].name) for name in under}
    return proud


def _things_findings(project: Project, inside: Size) -> list[Finding]:
    """What people forget: the tag, the spread of loose fill, the lid over what stands."""
    out = []
    for thing in project.contents:
        name = f"{thing.name[0].upper()}{thing.name[1:]}"
        words, code = "", ""
        if isinstance(thing, FlatPack) and thing.tag is not None:
            code = "tag-outside"
            if thing.tag.hangs == "outside":
                words = f"{name}: its tag hangs outside; leave a gap for the string."
        elif isinstance(thing, Loose):
            code = "fill-spread"
            room, spread = bulk_volume(thing).value, bulk_spread(thing).value
            words = (
                f"{name} takes {number_text(room, 0)} ml, more or less by "
                f"{number_text(spread, 0)} ml: try it in a mug first."
            )
        elif isinstance(thing, Standing) and thing.height > inside[2]:
            over = number_text(thing.height - inside[2])
            code = "stands-too-high"
            words = f"{name} stands {over} mm higher than the closed lid allows."
        if words:
            level = Level.NOTE
            out.append(Finding(level, code, words, "contents", "contents"))
    return out


def _culprit(project: Project, arrangement: Arrangement, axis: int) -> str:
    """Name of the thing that ends farthest along an axis."""
    last = max(arrangement.places, key=lambda p: p.low[axis] + p.cell[axis])
    name = project.contents[last.thing].name
    return name[0].upper() + name[1:]


def board_findings(
    project: Project,
    arrangement: Arrangement | None,
    family: ShapeFamily,
    design: Design,
    sag: Sag | None,
    inside: Size,
) -> list[Finding]:
    """Whether the floor holds, and what would; folds that a board does not make."""
    out: list[Finding] = []
    part = family.parts[0][0]
    if sag is not None and not sag.holds:
        choice = compare(project, arrangement, inside, (part,))
        better = choice.lightest
        cure = None
        if better is not None:
            cure = Cure(
                f"Use {better.board.title.lower()}", ((f"boards.{part}", better.board.key),)
            )
        else:
            cure = stiffener_for(project, arrangement, inside)
        tail = "" if cure else " No board here holds it: divide the load among more floors."
        mass = mass_of_contents(project)
        out.append(
            Finding(
                Level.LOOK,
                "floor-sags",
                f"The floor sags {number_text(sag.sag.value)} mm under {number_text(mass, 0)} g; "
                f"beyond {number_text(sag.limit.value)} mm the eye sees it.{tail}",
                f"{part}/{design.pieces[0].panels[0].name}",
                "board",
                cure,
            )
        )
    for piece in design.pieces:
        if piece.folds and not piece.board.folds:
            out.append(
                Finding(
                    Level.LOOK,
                    "board-does-not-fold",
                    f"{piece.title[0].upper()}{piece.title[1:]}: {piece.board.title.lower()} does "
                    "not fold. Cut each fold through and hinge it with a paper strip, or fold it "
                    "from card and glue this board on.",
                    piece.name,
                    "board",
                    Cure("Use medium card", ((f"boards.{part_of(piece.name)}", DEFAULT_BOARD),)),
                )
            )
            break
    out += _roll_findings(project, design)
    return out


def _roll_findings(project: Project, design: Design) -> list[Finding]:
    """A piece that is rolled tighter than its board allows; the worst one, with a thinner board."""
    worst: tuple[float, float, Piece] | None = None
    for piece in design.pieces:
        asked = tightest_roll(piece)
        if asked is None:
            continue
        over = smallest_roll(piece.board).value / asked
        if over > 1 + ROUNDING and (worst is None or over > worst[0]):
            worst = (over, asked, piece)
    if worst is None:
        return []
    over, asked, piece = worst
    rolls = [
        board
        for board in with_own(project.own_boards)
        if board.folds and smallest_roll(board).value <= asked
    ]
    cure = None
    if rolls:
        board = max(rolls, key=lambda b: b.thickness)
        cure = Cure(f"Use {board.title.lower()}", ((f"boards.{part_of(piece.name)}", board.key),))
    title = piece.title[0].upper() + piece.title[1:]
    return [
        Finding(
            Level.LOOK,
            "rolled-tight",
            f"{title}: it bends to {number_text(asked)} mm across; "
            f"{piece.board.title.lower()} kinks under {number_text(over * asked)} mm.",
            piece.name,
            "board",
            cure,
        )
    ]


def cautions(project: Project, design: Design) -> list[Finding]:
    """One plain sentence for everything here that can hurt someone."""
    boards = [piece.board for piece in design.pieces]
    return [
        Finding(
            Level.NOTE,
            f"caution-{c.key}",
            c.words,
            "contents",
            "board" if c.key == "dust" else "contents",
        )
        for c in cautions_for(project.contents, boards)
    ]
