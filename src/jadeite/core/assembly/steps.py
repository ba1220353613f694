"""Steps for the hands, with the time that each takes, holds and dries."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from jadeite.core.assembly.adhesives import Adhesive
from jadeite.core.assembly.lift import Lift
from jadeite.core.assembly.order import Move
from jadeite.core.nets.model import Design, Joint
from jadeite.core.nets.outline import loops_of

__all__ = ["AssemblyPlan", "Step", "assembly_plan", "batch_seconds"]

# seconds of hands; from memory
PEEL = 25.0
WEED = 6.0
CREASE = 7.0
GLUE = 20.0
RAISE = 8.0
ROLL = 20.0
FILL = 8.0
CLOSE = 10.0
SWITCH = 20.0  # to another operation: tools down, others up
PICK_UP = 4.0  # to the next piece in one operation
CARRIES = "A line of glue along its foot and its ends makes it carry the floor."
SQUARE = 0.5  # degrees; rounding of words
FINGER = 18.0  # mm; from memory, room that a finger needs inside


@dataclass(frozen=True)
class Step:
    """One thing to do: words, times in s, and the moment of the lift that shows it.

    ``start`` is when it begins in the whole; ``wait`` is time before it in
    which glue sets; ``panels`` are (piece, panel) to be pointed out.
    """

    title: str
    detail: str
    hands: float
    hold: float
    dry: float
    wait: float
    start: float
    lift: float
    panels: tuple[tuple[str, str], ...]
    operation: str
    caution: str = ""

    @property
    def end(self) -> float:
        """When the hands are free again, in s from the beginning."""
        return self.start + self.hands + self.hold


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


class _Clock:
    """Collects steps and keeps the time; glue sets while other work goes on."""

    def __init__(self) -> None:
        self.steps: list[Step] = []
        self.now = 0.0
        self.set_at: dict[str, float] = {}  # per piece: when its glue may be handled
        self.dry_at = 0.0

    def add(
        self,
        title: str,
        detail: str,
        operation: str,
        lift: float,
        hands: float,
        *,
        glue: Adhesive | None = None,
        piece: str = "",
        after: Sequence[str] = (),
        panels: tuple[tuple[str, str], ...] = (),
        caution: str = "",
    ) -> None:
        """Append a step that starts when the glue of ``after`` may be handled."""
        ready = max((self.set_at.get(name, 0.0) for name in after), default=0.0)
        wait = max(0.0, ready - self.now)
        start = self.now + wait
        hold, dry = (glue.hold, glue.dry) if glue else (0.0, 0.0)
        self.steps.append(
            Step(title, detail, hands, hold, dry, wait, start, lift, panels, operation, caution)
        )
        self.now = start + hands + hold
        if glue is not None:
            self.set_at[piece] = self.now + glue.handle
            self.dry_at = max(self.dry_at, self.now + glue.dry)


def _seam_words(joint: Joint, last: bool, room: float) -> str:
    side = "inside" if joint.side == "inside" else "outside"
    where = "against the floor" if joint.target[1] == "floor" else f"on the {side} of the wall"
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
    clock = _Clock()
    for piece in design.pieces:
        holes = sum(loop.hole and loop.closed for loop in loops_of(piece))
        words = "Turn the carrier over and bend it away from the paper, not the paper from it."
        what = "the cut-out and keep it" if holes == 1 else f"{holes} cut-outs and keep them"
        extra = f" Take out {what}." if holes else ""
        clock.add(
            f"Peel the {piece.title} off",
            words + extra,
            "peel",
            0.0,
            PEEL + WEED * holes,
            panels=((piece.name, piece.panels[0].name),),
            caution="Mind the blade and the hook; local rules and the makers' "
            "instructions come first.",
        )
    for piece in (p for p in design.pieces if p.folds):
        count = len(piece.folds)
        marks = sorted({fold.mark for fold in piece.folds})
        which = " and ".join(f"{m}s" for m in marks)
        clock.add(
            f"Crease all {count} folds of the {piece.title}",
            f"Before any glue: {which}, each hard with a bone folder.",
            "crease",
            lift.turned * 0.5,
            CREASE * count,
            panels=tuple((piece.name, f.child) for f in piece.tree),
        )
    seams = [move for move in lift.moves if move.joint is not None]
    last = seams[-1].joint if seams else None
    room = min(design.hollow.size[:2])
    for piece in design.pieces:
        for move in lift.moves:
            if move.piece == piece.name and not move.closing:
                _move_step(clock, design, lift, move, adhesive, last, room)
    first = design.pieces[0].name
    _insert_steps(clock, design, lift, adhesive)
    if things:
        clock.add(
            "Put in " + _listed(things),
            "Each in its place as drawn; the last one on top.",
            "fill",
            lift.at("fill"),
            FILL * len(things),
            after=(first,),
        )
    for move in lift.moves:
        if move.closing:
            _move_step(clock, design, lift, move, adhesive, last, room)
    if design.lifts:
        clock.add(
            "Put the lid on",
            "It should slide down by itself with a little air.",
            "close",
            1.0,
            CLOSE,
            after=tuple(p.name for p in design.pieces),
        )
    return AssemblyPlan(tuple(clock.steps), last.title if last else "none", clock.dry_at)


def _insert_steps(clock: _Clock, design: Design, lift: Lift, adhesive: Adhesive) -> None:
    """What is put in once the walls stand: a second floor is glued, dividers are slid in."""
    for name, order in design.inserts:
        piece = design.piece(name)
        at = lift.after_insert(order)
        place = ((name, piece.panels[0].name),)
        glued = [j for j in design.joints if j.kind == "glue" and name in (j.tab[0], j.target[0])]
        if glued:
            clock.add(
                f"Glue the {piece.title} in",
                "Spread the glue thinly over all of it, lay it in, and press it down under a "
                "weight.",
                "glue",
                at,
                GLUE,
                glue=adhesive,
                piece=design.pieces[0].name,
                after=(design.pieces[0].name,),
                panels=place,
                caution=adhesive.caution,
            )
            continue
        if any(j.kind == "tuck" and name == j.target[0] for j in design.joints):
            clock.add(
                f"Lay the {piece.title} in",
                "It lies on the feet of the walls; a little glue on them keeps it.",
                "fit",
                at,
                FILL,
                after=(design.pieces[0].name,),
                panels=place,
            )
            continue
        slots = sum(j.kind == "slot" and name in (j.tab[0], j.target[0]) for j in design.joints)
        how = "Its slots open upwards." if slots and _stands_first(design, name) else ""
        if slots and not how:
            how = "Its slots slide down over the strips that stand already."
        clock.add(
            f"Stand the {piece.title} in",
            f"{how or 'It stands between the walls.'} {CARRIES}",
            "fit",
            at,
            FILL,
            after=(design.pieces[0].name,),
            panels=place,
        )


def _stands_first(design: Design, name: str) -> bool:
    """Whether a strip is the one that others are slid onto."""
    return any(j.kind == "slot" and j.target[0] == name for j in design.joints)


def _move_step(
    clock: _Clock,
    design: Design,
    lift: Lift,
    move: Move,
    adhesive: Adhesive,
    last: Joint | None,
    room: float,
) -> None:
    piece = design.piece(move.piece)
    at = lift.after_level(move.level)
    if move.joint is not None:
        joint = move.joint
        clock.add(
            f"Glue {joint.title}",
            _seam_words(joint, joint is last, room),
            "glue",
            at,
            GLUE,
            glue=adhesive,
            piece=piece.name,
            panels=(joint.tab,),
            caution=adhesive.caution,
        )
        return
    panels = tuple((piece.name, name) for name in move.folds)
    head = piece.panel(move.folds[0])
    if move.rolls:
        clock.add(
            f"Roll the {piece.title}'s {head.title.split(',')[0]} wall over",
            "Over the tabs, down to the floor.",
            "roll",
            at,
            ROLL,
            after=(piece.name,),
            panels=panels,
        )
    else:
        role = {piece.panel(name).role for name in move.folds[1:]}
        tabs = " with its tabs turned in" if "tab" in role else ""
        wall = " wall" if head.role == "wall" and "wall" not in head.title else ""
        verb = "Fold in" if head.role == "flap" else "Raise"
        turn = next(abs(f.angle) for f in piece.tree if f.child == move.folds[0])
        how = "Square to it." if abs(turn - 90) < SQUARE else f"By {turn:.0f}°."
        clock.add(
            f"{verb} the {piece.title}'s {head.title}{wall}{tabs}",
            "Square to the floor." if how.startswith("Sq") and verb == "Raise" else how,
            "raise",
            at,
            RAISE,
            panels=panels,
        )


def _listed(words: Sequence[str]) -> str:
    if len(words) == 1:
        return words[0]
    return ", ".join(words[:-1]) + " and " + words[-1]


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
