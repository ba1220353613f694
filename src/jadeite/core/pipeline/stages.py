"""The stages by which a task is worked up; each adds to what is known, and knows no other."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, field, replace

import numpy as np

from jadeite.core.boards import Board, Sag
from jadeite.core.choice import floor_of, lightest_for_floor, plies_on, with_board
from jadeite.core.contents import Arrangement
from jadeite.core.cutting.profiles import profile_of
from jadeite.core.dressings import DIVIDER, boards_of, name_findings, print_findings
from jadeite.core.errors import FieldError
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.judgement import (
    board_findings,
    cautions,
    contents_findings,
    mass_of_contents,
    overlay_findings,
    ply_findings,
    round_findings,
    showing_findings,
    strength_findings,
)
from jadeite.core.nets import Design, Panel
from jadeite.core.pipeline.cures import Tried, cured, offered, refusal
from jadeite.core.pipeline.made import Made, builder, make, roomier
from jadeite.core.pipeline.room import Size, inside_of
from jadeite.core.pipeline.totals import lines_time, totals, weight_of
from jadeite.core.project import Task
from jadeite.core.proof import prove
from jadeite.core.reckoning import Reckoning
from jadeite.core.shapes import OptionValue, ShapeFamily, family_by_key, resolve_options
from jadeite.core.shapes.registry import NONE, SOME
from jadeite.core.units import format_length, number_text

__all__ = ["STAGES", "Known", "begun", "refused"]

POST_STEPS = (20.0, 50.0, 100.0, 250.0)  # g; common practice, from the lightest letter on
SAME = 1e-3  # mm; rounding
CANNOT_GO_IN = ("thing-cannot-pass", "thing-hits-board", "lid-hits")


@dataclass(frozen=True, eq=False)
class Known:
    """What is known of a task so far; lengths in mm, masses in g.

    ``task`` is that of the document, with a board where one that nobody chose gave way.

    ``tried`` works up another task, for cures; None where none are offered.
    """

    task: Task
    arrangement: Arrangement | None
    family: ShapeFamily
    options: Mapping[str, OptionValue]
    boards: Mapping[str, Board]
    mass: float
    tried: Tried | None
    inside: Size = (0.0, 0.0, 0.0)
    made: Made | None = None
    sag: Sag | None = None
    found: tuple[Finding, ...] = ()
    sizes: Mapping[str, Reckoning] = field(default_factory=dict)

    @property
    def design(self) -> Design:
        """The design, once it is made."""
        assert self.made is not None
        return self.made.design


def begun(task: Task, arrangement: Arrangement | None, tried: Tried | None) -> Known:
    """What stands in the document.

    Raises
    ------
    FieldError
        A key that does not exist: shape, option or board.
    """
    family = family_by_key(task.shape.key)
    options = resolve_options(family, task.shape.options)
    boards = boards_of(task, family)
    return Known(task, arrangement, family, options, boards, mass_of_contents(task), tried)


def _sized(known: Known) -> Known:
    """How large the inside is asked to be."""
    return replace(known, inside=inside_of(known.task, known.arrangement, known.boards))


def _made(known: Known) -> Known:
    """The design and its proof; the inside may have given way to the shape."""
    made = make(known.task, known.arrangement, known.family, known.boards, known.options)
    return replace(known, made=made, inside=made.inside)


def _loaded(known: Known) -> Known:
    """How far the floor sags under what stands on it; a flat thing lies on the table."""
    if known.mass <= 0 or known.design.hollow is None or known.family.flat:
        return known
    mouth, boards = known.family.mouth, known.boards
    floor = floor_of(known.task.contents, known.arrangement, known.inside, mouth)
    own = boards[known.family.parts[0][0]]
    sag = floor.sag(own, *plies_on(known.design), boards[DIVIDER])
    return replace(known, sag=sag)


def _stout(known: Known) -> Known:
    """A board that nobody chose gives way where the floor would sag: to the lightest that holds."""
    own = known.family.parts[0][0]
    free = [p for p in known.family.parts_for_one_board if p not in known.task.boards]
    if known.sag is None or known.sag.holds or own not in free:
        return known
    better = lightest_for_floor(known.task, known.arrangement, known.inside, known.design)
    if better is None:
        return known
    try:
        again = begun(with_board(known.task, free, better.key), known.arrangement, known.tried)
        for stage in (_sized, _made, _loaded):
            again = stage(again)
    except FieldError:
        return known
    blocked = any(f.level is Level.BLOCKED for f in again.made.findings) if again.made else True
    if blocked or again.sag is None or not again.sag.holds:
        return known
    words = (
        f"{better.title}, as the floor of {known.boards[own].title.lower()} sags "
        f"{number_text(known.sag.sag.value)} mm under {number_text(known.mass, 0)} g."
    )
    note = Finding(Level.NOTE, "usual-gave-way", words, f"boards.{own}", "board")
    return replace(again, found=(note,))


def _judged(known: Known) -> Known:
    """All that needs a look or blocks, by everything that holds for any made thing."""
    found = tuple(finding for judge in JUDGEMENTS for finding in judge(known))
    return replace(known, found=(*known.found, *found))


def _cured(known: Known) -> Known:
    """Only those cures are left that end what they are offered for."""
    if known.tried is None:
        return known
    return replace(known, found=tuple(offered(known.task, known.found, known.tried)))


def _totalled(known: Known) -> Known:
    """The figures of the whole."""
    assert known.made is not None
    sizes = dict(known.design.sizes) | totals(known.design, known.mass, known.made.joints)
    with suppress(FieldError):  # a cutter that there is not is refused where sheets are laid out
        profile = profile_of(known.task)
        sizes |= lines_time(known.design, profile, known.task.heavier, known.task.learned)
    if known.sag is not None:
        sizes |= {"floor-sag": known.sag.sag, "floor-sag-limit": known.sag.limit}
    return replace(known, sizes=sizes)


Stage = Callable[[Known], Known]
STAGES: tuple[Stage, ...] = (
    _sized,
    _made,
    _loaded,
    _stout,
    _judged,
    _cured,
    _totalled,
)


def refused(known: Known, error: FieldError) -> Known:
    """Why there is no design: nothing is asked for yet, or the shape cannot be."""
    if error.field == "contents":
        words = f"{error.problem[0].upper()}{error.problem[1:]}. {error.cure}"
        finding = Finding(Level.NOTE, "nothing-inside", words, "contents", "contents")
    elif known.tried is not None:
        finding = refusal(error, known.task, known.inside, known.family, known.tried)
    else:
        finding = Finding(Level.BLOCKED, "size-refused", str(error), error.field, "contents")
    return replace(known, found=(*known.found, finding))


def _getting_in(known: Known) -> Sequence[Finding]:
    """The proof, and what cannot go in, with the inside that lets it in if one of a few does."""
    assert known.made is not None
    found = known.made.findings
    if known.tried is None or not any(f.code in CANNOT_GO_IN for f in found):
        return found
    task, places = known.task, known.arrangement
    build = builder(task, places, known.family, known.boards, known.options)
    asked = places.inside if places is not None else known.inside
    x, y, z = (max(have, wants) for have, wants in zip(known.inside, asked, strict=True))
    more = roomier(task, places, (x, y, z), build)
    if more is None:
        cure = _fewer(known, found)
        return [replace(f, cure=cure) if cure and f.code in CANNOT_GO_IN else f for f in found]
    words = " × ".join(format_length(v) for v in more[1])
    cure = Cure(f"Use {words} inside", (("brief.size", more[1]),))
    return [replace(f, cure=cure) if f.code in CANNOT_GO_IN else f for f in found]


def _fewer(known: Known, found: Sequence[Finding]) -> Cure | None:
    """As many pieces in the way, such as dividing ones, as leave room for everything."""
    assert known.tried is not None
    for finding in found:
        piece = finding.where.partition("/")[0]
        if finding.code not in CANNOT_GO_IN:
            continue
        parts = [own.part for own in known.design.pieces if own.name == piece]
        key, value = known.family.when.get(parts[0], ("", NONE)) if parts else ("", NONE)
        if value != SOME:
            continue
        option = next(o for o in known.family.options if o.key == key)
        for count in range(round(float(known.options[key])) - 1, -1, -1):
            cure = Cure(f"{option.label}: {count}", ((f"shape.options.{key}", float(count)),))
            after = known.tried(cured(known.task, cure))
            if after is not None and not any(f.code in CANNOT_GO_IN for f in after):
                return cure
    return None


def _overlaid(known: Known) -> Sequence[Finding]:
    assert known.made is not None
    joints = known.made.joints
    found = [_taken_away(f, known.task) for f in overlay_findings(known.design, joints)]
    return [*found, *ply_findings(known.design, joints)]


def _taken_away(finding: Finding, task: Task) -> Finding:
    """A finding about an overlay, with the cure that leaves it off."""
    left = tuple(o for o in task.overlays if f"{o.piece}/{o.panel}" != finding.where)
    return replace(finding, cure=Cure("Take that overlay away", (("overlays", left),)))


def _moving(known: Known) -> Sequence[Finding]:
    """What moves once it is made closes at every opening as well, with the same nets."""
    if known.family.moves is None or known.tried is None:
        return ()
    keys, values = known.family.moves
    nets = {piece.name: piece.panels for piece in known.design.pieces}
    for value in values:
        options = {**known.options, **dict.fromkeys(keys, value)}
        build = builder(known.task, known.arrangement, known.family, known.boards, options)
        other = build(known.inside)
        blocked = [f for f in prove(other)[1] if f.level is Level.BLOCKED]
        if blocked or not all(_alike(nets[p.name], p.panels) for p in other.pieces):
            why = blocked[0].message if blocked else "Its net would have to change."
            words = f"Opened by {number_text(value, 0)}° it binds: {why}"
            return (Finding(Level.BLOCKED, "binds", words, f"shape.options.{keys[0]}"),)
    return ()


def _alike(one: Sequence[Panel], other: Sequence[Panel]) -> bool:
    """Whether two nets have the same outlines, within 0.001 mm."""
    return len(one) == len(other) and all(
        p.outline.shape == q.outline.shape and float(np.abs(p.outline - q.outline).max()) < SAME
        for p, q in zip(one, other, strict=True)
    )


def _boards(known: Known) -> Sequence[Finding]:
    return board_findings(
        known.task, known.arrangement, known.family, known.design, known.sag, known.inside,
        cures=known.tried is not None,
    )  # fmt: skip


def _strength(known: Known) -> Sequence[Finding]:
    mass = known.mass + weight_of(known.design)
    return strength_findings(known.task, known.family, known.design, mass)


def _posted(known: Known) -> Iterable[Finding]:
    """What a letter weighs, against the steps by which posts usually charge."""
    if not known.family.posted:
        return ()
    mass = known.mass + weight_of(known.design)
    step = next((s for s in POST_STEPS if mass <= s), None)
    if step == POST_STEPS[0]:
        return ()
    much = f"up to {number_text(step, 0)} g" if step else f"over {number_text(POST_STEPS[-1], 0)} g"
    words = (
        f"With what lies in it, it weighs {number_text(mass)} g: posts usually charge {much} more "
        "than for 20 g (an ounce, 28 g, in some countries). Ask at your post office."
    )
    return (Finding(Level.NOTE, "post-weight", words, "weight", "contents"),)


# what holds for everything that is made; what a family or a dressing has to say stands in the
# design's own findings
JUDGEMENTS: tuple[Callable[[Known], Iterable[Finding]], ...] = (
    lambda known: contents_findings(known.task, known.arrangement, known.inside),
    lambda known: round_findings(known.task, known.arrangement, known.family, known.design),
    _getting_in,
    _overlaid,
    lambda known: showing_findings(known.design, known.family),
    lambda known: known.design.findings,
    _boards,
    _strength,
    lambda known: cautions(known.task, known.design),
    lambda known: name_findings(known.design, known.task),
    _posted,
    lambda known: print_findings(known.design, known.task),
    _moving,
)
