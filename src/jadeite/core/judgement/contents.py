"""What needs a look about the things that go in, and what can hurt someone."""

from __future__ import annotations

from jadeite.core.contents import Arrangement, FlatPack, Loose, Standing, cautions_for
from jadeite.core.contents.loose import bulk_spread, bulk_volume
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets import Design
from jadeite.core.project import Face, Task
from jadeite.core.shapes import family_by_key
from jadeite.core.units import number_text, rounded_up

__all__ = ["cautions", "contents_findings", "mass_of_contents"]

INTO = 1e-6  # mm; rounding when contents lie against a face
Size = tuple[float, float, float]


def mass_of_contents(task: Task) -> float:
    """Mass in g of everything that goes in."""
    return sum(thing.each_mass * thing.count for thing in task.contents)


def contents_findings(task: Task, arrangement: Arrangement | None, inside: Size) -> list[Finding]:
    """What needs a look about the things and the hollow (mm) that is to hold them."""
    if arrangement is None:
        return []
    out: list[Finding] = []
    flat = isinstance(task.brief, Face)  # nothing lies over what is mounted on a face
    over = [need - have for need, have in zip(arrangement.inside, inside, strict=True)]
    worst = max(range(2 if flat else 3), key=lambda a: over[a])
    if over[worst] > INTO:
        names = ("width", "height") if flat else ("inside length", "inside width", "inside height")
        axis = names[worst]
        thing = _culprit(task, arrangement, worst)
        need = tuple(
            have if have >= n - INTO else rounded_up(n)
            for n, have in zip(arrangement.inside, inside, strict=True)
        )
        need = need[:2] if flat else need
        lacks = number_text(over[worst]) if over[worst] >= 0.1 else f"{over[worst]:.2g}"
        out.append(
            Finding(
                Level.BLOCKED,
                "contents-too-big",
                f"{thing} does not fit: the {axis} lacks {lacks} mm.",
                "contents",
                "contents",
                Cure(f"Use {number_text(need[worst])} mm", (("brief.size", need),)),
            )
        )
    out += _things_findings(task, inside)
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
    bears = not flat and not family_by_key(task.shape.key).flat  # a flat thing bears nothing
    if task.contents and mass_of_contents(task) == 0 and bears:
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


def _things_findings(task: Task, inside: Size) -> list[Finding]:
    """What people forget: the tag, the spread of loose fill, the lid over what stands."""
    out = []
    for thing in task.contents:
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


def _culprit(task: Task, arrangement: Arrangement, axis: int) -> str:
    """Name of the thing that ends farthest along an axis."""
    last = max(arrangement.places, key=lambda p: p.low[axis] + p.cell[axis])
    name = task.contents[last.thing].name
    return name[0].upper() + name[1:]


def cautions(task: Task, design: Design) -> list[Finding]:
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
        for c in cautions_for(task.contents, boards, task.fits)
    ]
