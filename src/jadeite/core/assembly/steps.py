"""Steps for the hands, with the time that each takes, holds and dries."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from jadeite.core.assembly.adding import bought_steps
from jadeite.core.assembly.adhesives import Adhesive
from jadeite.core.assembly.clock import (
    CLOSE,
    CREASE,
    CUT_CARE,
    FILL,
    GLUE,
    KNIFE,
    PEEL,
    PICK_UP,
    RAISE,
    ROLL,
    SWITCH,
    WEED,
    Clock,
    Step,
    copies_of,
    listed,
    named,
    the,
)
from jadeite.core.assembly.curling import curl_words
from jadeite.core.assembly.joining import (
    flat_steps,
    foot_step,
    foot_under,
    insert_steps,
    mount_steps,
)
from jadeite.core.assembly.lids import hinge_step, lid_words
from jadeite.core.assembly.lift import Lift
from jadeite.core.assembly.order import Move
from jadeite.core.assembly.pressing import press_steps
from jadeite.core.assembly.printing import print_step
from jadeite.core.assembly.shaping import crease_all_step, peel_all_step, shape_steps
from jadeite.core.nets.arrivals import How, When
from jadeite.core.nets.model import Design, Joint, Kind, Panel, Piece
from jadeite.core.nets.outline import drawn_folds, loops_of
from jadeite.core.nets.roles import Role
from jadeite.core.units import all_of, number_text

__all__ = ["AssemblyPlan", "Step", "assembly_plan", "batch_seconds"]

FINGER = 18.0  # mm; from memory, room that a finger needs inside
ALIKE = 0.01  # mm; rounding, tabs that differ less mirror one another
SQUARE = 0.5  # degrees; rounding of words


@dataclass(frozen=True)
class AssemblyPlan:
    """All steps in order; the last seam is named."""

    steps: tuple[Step, ...]
    last_seam: str
    dry_at: float

    @property
    def hands(self) -> float:
        """Seconds of work, without holding and waiting."""
        return sum(step.hands for step in self.steps)

    @property
    def seconds(self) -> float:
        """Seconds until the last step is done."""
        return self.steps[-1].end if self.steps else 0.0


def _seam_words(joint: Joint, target: Panel, last: bool, room: float) -> str:
    side = "inside" if joint.side == "inside" else "outside"
    if target.role is Role.FLAP:
        return (
            "Glue on the flaps below only, none near the mouth, so that nothing sticks to what "
            f"goes in; press the {target.title} down and wipe what runs out at once."
        )
    where = (
        f"against the {target.title}" if target.role is Role.FLOOR else f"on the {side} of the wall"
    )
    text = f"Glue sparingly, press {where}, and wipe what runs out at once."
    if room < FINGER and joint.side == "inside":
        text += f" Only {room:.0f} mm wide inside: press with the blunt end of a pencil."
    if last:
        text += " This is the last seam: hold it with low-tack tape while it sets."
    return text


def assembly_plan(
    design: Design, lift: Lift, adhesive: Adhesive, things: Sequence[str] = ()
) -> AssemblyPlan:
    """Steps derived from the folds and joints of a design.

    ``things`` are the names of the contents, in the order in which they go in.
    """
    clock = Clock()
    groups = copies_of(design)
    shaped = {name for shaping in design.shaping for name in shaping.pieces}
    print_step(clock, design)
    at_once = bool(shaped) and len(design.pieces) > 1
    if at_once:
        peel_all_step(clock, design.pieces)
        crease_all_step(clock, [p for p in design.pieces if p.name in shaped], lift)
    for group in groups if not at_once else ():
        _peel_step(clock, group)
    press_steps(clock, design)
    shape_steps(clock, design, lift, adhesive, flat=True)
    flat_steps(clock, design, lift, adhesive)
    for group in groups:
        if at_once and group[0].name in shaped:
            continue
        ridden = design.arrivals.ridden  # these are creased with what they lie on
        own = [f for f in group[0].folds if (group[0].name, f.child) not in ridden]
        if any(fold.kind != "rolled" for fold in own):
            _crease_step(clock, group, lift)
    shape_steps(clock, design, lift, adhesive, flat=False)
    groups = [group for group in groups if group[0].name not in shaped]
    seams = [move for move in lift.moves if move.joint is not None]
    last = seams[-1].joint if seams else None
    joined = [a for a in design.arrivals.at(When.FOLDED) if _glued_on(design, a.piece)]
    room = min(design.hollow.size[:2]) if design.hollow else math.inf
    for group in sorted(
        groups, key=lambda g: not design.arrivals.comes(g[0].name, When.FLAT, When.BEHIND)
    ):
        mine = [m for m in lift.moves if m.piece == group[0].name and m.when == "folded"]
        _move_steps(clock, group, lift, mine, adhesive, last, room)
    bought_steps(clock, design, lift, adhesive, first=True)
    mount_steps(clock, design, lift, adhesive)
    for group in groups:
        mine = [m for m in lift.moves if m.piece == group[0].name and m.when == "joined"]
        _move_steps(clock, group, lift, mine, adhesive, last, room)
    first = design.body.name
    if design.swing is not None:
        hinge_step(clock, design, lift, adhesive)
    insert_steps(clock, design, lift, adhesive)
    if things:
        mounted = design.hollow is None
        clock.add(
            ("Mount " if mounted else "Put in ") + listed(things),
            "With an even border all round: look at it from a little way off first. Then a little "
            "glue under its middle, and press."
            if mounted
            else "In its place as drawn."
            if len(things) == 1
            else "Each in its place as drawn; the last one on top.",
            "fill",
            lift.filled,
            FILL * len(things),
            after=(first,),
            shows=(first,),
        )
    for group in groups:
        mine = [m for m in lift.moves if m.piece == group[0].name and m.when == "filled"]
        _move_steps(clock, group, lift, mine, adhesive, last, room)
    if tied := design.arrivals.pairs(How.TIED):
        length = next((b.length for b in design.bought if b.strips), 0.0)
        clock.add(
            "Thread the ribbon through the slits and tie it",
            f"Cut {number_text(length, 0)} mm of it. In at one side, out at the next, all the way "
            "round"
            + (", the last end out where the first went in" if len(tied) % 2 else "")
            + "; draw the sides together, and tie a bow: it opens again.",
            "close",
            1.0,
            CLOSE * 2,
        )
    if pressed := design.arrivals.pairs(How.PRESSED):
        titles = [design.piece(p).panel(n).title.split(",")[0] for (p, n), _ in pressed]
        name, count = titles[0], len(titles)
        clock.add(
            f"Glue the two plies of each {name} together",
            f"A line of glue along the top of all {count}; hold them with clips or low-tack tape "
            "while it sets.",
            "glue",
            1.0,
            GLUE * count,
            glue=adhesive,
            piece=first,
            panels=tuple(panel for pair in pressed for panel in pair),
            caution=adhesive.caution,
        )
    if over := design.arrivals.at(When.LAST):
        title, words = lid_words(design, over)
        clock.add(
            title,
            words,
            "close",
            1.0,
            CLOSE,
            after=tuple(p.name for p in design.pieces),
        )
    seamed = len(clock.steps)
    bought_steps(clock, design, lift, adhesive, first=False)
    named_last = last.title if last else "none"
    if joined:  # then the last seam of all joins two pieces
        glued = [step.title for step in clock.steps[:seamed] if step.operation == "glue"]
        named_last = glued[-1].removeprefix("Glue ").removeprefix("Stick ")
    dry_at = max(clock.now, clock.dry_at)  # nothing is dry before it is made
    return AssemblyPlan(tuple(clock.steps), named_last, dry_at)


def _glued_on(design: Design, name: str) -> bool:
    """Whether a piece is glued to another."""
    return any(j.kind is Kind.GLUE and {j.tab[0], j.target[0]} > {name} for j in design.joints)


def _peel_step(clock: Clock, group: Sequence[Piece]) -> None:
    holes = len(group) * sum(loop.hole and loop.closed for loop in loops_of(group[0]))
    board = group[0].board
    if board.pressure == "by-hand":
        clock.add(
            f"Cut {the(named(group))} out of {board.title.lower()} by hand",
            "Lay the printed outline under it, or tape it on top, and cut both with a fresh blade.",
            "cut",
            0.0,
            KNIFE * len(group),
            panels=((group[0].name, group[0].panels[0].name),),
            caution=CUT_CARE,
        )
        return
    words = "Turn the carrier over and bend it away from the paper, not the paper from it."
    what = "the cut-out and keep it" if holes == 1 else f"{holes} cut-outs and keep them"
    clock.add(
        f"Peel {the(named(group))} off",
        words + (f" Take out {what}." if holes else ""),
        "peel",
        0.0,
        PEEL * len(group) + WEED * holes,
        panels=((group[0].name, group[0].panels[0].name),),
        caution=CUT_CARE,
    )


def _crease_step(clock: Clock, group: Sequence[Piece], lift: Lift) -> None:
    piece = group[0]
    drawn = [piece.folds[n] for _, n in drawn_folds(piece)]
    folds = [fold for fold in drawn if fold.kind != "rolled"]
    count = len(folds) * len(group)
    marks = sorted({fold.mark for fold in folds})
    which = " and ".join(f"{m}s" for m in marks) + ", each" if count > 1 else f"a {marks[0]},"
    comes = [a for p in group if (a := lift.design.arrivals.of(p.name))]
    on = [a.onto[0] for a in comes if a.onto and a.when in (When.FLAT, When.BEHIND)]
    glued = any(name in clock.set_at for name in (*(p.name for p in group), *on))
    when = "Once what is glued on is dry" if glued else "Before any glue is on it"
    clock.add(
        f"Crease {all_of(count, 'fold')} of {the(named(group))}",
        f"{when}: {which} hard with a bone folder.",
        "crease",
        lift.turned * 0.5,
        CREASE * count,
        after=tuple(p.name for p in group),
        panels=tuple((piece.name, f.child) for f in piece.tree if f.kind != "rolled"),
    )


def _move_steps(
    clock: Clock,
    group: Sequence[Piece],
    lift: Lift,
    moves: Sequence[Move],
    adhesive: Adhesive,
    last: Joint | None,
    room: float,
) -> None:
    """The folds and seams of a piece in their order; folds made alike at once are one step."""
    piece = group[0]
    waiting: dict[tuple[int, str, str], list[Move]] = {}

    def fold_all() -> None:
        for (level, verb, how), alike in waiting.items():
            _fold_step(clock, group, lift.after_level(level), verb, how, alike)
        waiting.clear()

    moves = _once(moves)
    glued = [move for move in moves if move.joint is not None]
    pair = glued[-2:] if _last_pair(piece, glued, last) else []
    for move in moves:
        if move.joint is not None:
            fold_all()
            if pair and move is pair[0]:
                continue  # glued together with the one that mirrors it
            both = [m.joint for m in pair if m.joint] if move in pair else [move.joint]
            target = piece.panel(move.joint.target[1])
            tabs = listed([joint.title for joint in both])
            clock.add(
                f"Glue the {target.title} on {tabs}"
                if target.role is Role.FLAP
                else f"Glue {tabs}",
                _seam_words(move.joint, target, move.joint is last, room)
                + (" Both at once, so that it stays square." if len(both) > 1 else ""),
                "glue",
                lift.after_level(move.level),
                GLUE * len(both),
                glue=adhesive,
                piece=piece.name,
                panels=tuple(joint.tab for joint in both),
                caution=adhesive.caution,
            )
            continue
        if foot_under(lift.design, piece, move):
            fold_all()
            foot_step(clock, piece, lift, move, adhesive)
            continue
        words = _fold_words(lift.design, piece, move)
        if words is not None:
            verb, how = words
            how = lift.design.arrivals.fold_hint((piece.name, move.folds[0])) or how
            waiting.setdefault((move.level, verb, how), []).append(move)
    fold_all()


def _once(moves: Sequence[Move]) -> list[Move]:
    """Moves without the further tabs of a seam, which are glued with the first."""
    seen: set[str] = set()
    out = []
    for move in moves:
        if move.joint is None or move.joint.title not in seen:
            out.append(move)
        if move.joint is not None:
            seen.add(move.joint.title)
    return out


def _last_pair(piece: Piece, glued: Sequence[Move], last: Joint | None) -> bool:
    """Whether the last two seams of all mirror one another: tabs alike, free at the same time."""
    if len(glued) < 2 or glued[-1].joint is not last:
        return False
    one, other = glued[-2].joint, glued[-1].joint
    if one is None or other is None or glued[-2].level != glued[-1].level:
        return False
    a, b = (piece.panel(joint.tab[1]).size for joint in (one, other))
    return max(abs(a[0] - b[0]), abs(a[1] - b[1])) < ALIKE


def _fold_words(design: Design, piece: Piece, move: Move) -> tuple[str, str] | None:
    """What is done, and how; None where nothing bends."""
    head = piece.panel(move.folds[0])
    turns = {f.child: abs(f.angle) for f in piece.tree}
    turn = turns[move.folds[0]]
    if max(turns[name] for name in move.folds) < 1:
        return None  # it lies flat: a lap, or a gore's tip
    if move.rolls:
        return "Roll over", "Over the tabs, down to the floor."
    if head.role is Role.GORE:
        return "Curl", curl_words(design, piece)
    square = abs(turn - 90) < SQUARE
    if head.role is Role.WRAP:
        return "Wrap", "Down over the edge of the stiffener, all round, with a fingernail."
    if head.role is Role.LEAF:
        several = sum(piece.panel(f.child).role is Role.LEAF for f in piece.tree) > 1
        how = "Each flat over the back" if several else "Corner on corner"
        return "Fold", f"{how}; crease it from the middle outwards, then let it open."
    if head.role is Role.EDGE and move.closing:
        return (
            "Fold in",
            "Over its two scores; a seal, a bow, glue dots or a strip of tape closes it.",
        )
    if head.role is Role.EDGE:
        return "Fold in", "Over its two scores, flat on the face."
    if head.role.traits.shuts or head.role is Role.TAB:
        return "Fold in", "Square to it." if square else f"By {turn:.0f}°."
    return "Raise", "Square to the floor." if square else f"By {turn:.0f}°."


def _head(piece: Piece, move: Move) -> Panel:
    """The panel by which a move is named: of a flap on a narrow edge the flap."""
    first = piece.panel(move.folds[0])
    return piece.panel(move.folds[1]) if first.role is Role.EDGE and move.folds[1:] else first


def _fold_step(
    clock: Clock, group: Sequence[Piece], at: float, verb: str, how: str, moves: Sequence[Move]
) -> None:
    piece, times = group[0], len(group) * len(moves)
    heads = [_head(piece, move) for move in moves]
    names = [
        f"{h.title.split(',')[0]} wall"
        if verb == "Roll over"
        else f"{h.title} wall"
        if h.role is Role.WALL and " " not in h.title
        else h.title
        for h in heads
    ]
    roles = {piece.panel(name).role for move in moves for name in move.folds[1:]}
    edged = all(piece.panel(move.folds[0]).role is Role.EDGE for move in moves)
    turned = Role.TAB in roles and verb in ("Raise", "Fold in") and not edged
    tabs = " with the tabs turned in" if turned else ""
    what = listed(list(dict.fromkeys(names)))
    own = what in piece.title  # a gore's own bow needs no second name
    words = f"{the(named(group))}" if own else f"{the(named(group))}'s {what}"
    if heads[0].role is Role.LEAF and times == len(group):
        words = f"{the(named(group))} in the middle"
    elif not own and len(group) > 1:
        words = f"the {what} of {named(group)}"
    bent = [name for move in moves for name in move.folds]
    if verb == "Curl":  # the facet from which it begins is curled as well
        bent = [f.parent for f in piece.tree if f.child == bent[0]] + bent
    clock.add(
        f"{verb} {words}{tabs}",
        how,
        "roll" if verb == "Roll over" else "raise",
        at,
        (ROLL if verb == "Roll over" else RAISE) * times,
        after=(piece.name,) if verb == "Roll over" else (),
        panels=tuple((piece.name, name) for name in bent),  # one shows all
    )


def batch_seconds(plan: AssemblyPlan, copies: int) -> dict[str, float]:
    """Time in s for a batch in either order.

    ``operation``: one finished sample first, then each operation on all the
    others; ``piece``: one piece after another, waiting for its glue each time.
    """
    switches = sum(
        a.operation != b.operation for a, b in zip(plan.steps, plan.steps[1:], strict=False)
    )
    alone = plan.seconds + SWITCH * switches
    if copies <= 1:
        return {"operation": alone, "piece": alone}
    work = sum(step.hands + step.hold for step in plan.steps)
    waits = sum(step.wait for step in plan.steps)
    others = copies - 1
    # while the others are worked on, the glue of the first has time to set
    waiting = max(0.0, waits - work / max(1, len(plan.steps)) * others)
    together = others * (work + PICK_UP * len(plan.steps)) + SWITCH * switches + waiting
    return {"operation": alone + together, "piece": copies * alone}
