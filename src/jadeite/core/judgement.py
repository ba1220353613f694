"""What needs a look about the contents and the board."""

from __future__ import annotations

from jadeite.core.boards import CATALOGUE, Sag, board_by_key, floor_sag
from jadeite.core.contents import Arrangement
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.project import Project
from jadeite.core.shapes import ShapeFamily
from jadeite.core.units import number_text

__all__ = ["board_findings", "contents_findings", "mass_of_contents"]

INTO = 1e-6  # mm; rounding when contents lie against a face
Size = tuple[float, float, float]


def mass_of_contents(project: Project) -> float:
    """Mass in g of everything that goes in."""
    return sum(thing.mass * thing.count for thing in project.contents)


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


def board_findings(
    project: Project, family: ShapeFamily, sag: Sag | None, inside: Size, mass: float
) -> list[Finding]:
    """Whether the floor of the first part holds ``mass`` g, and what would."""
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
