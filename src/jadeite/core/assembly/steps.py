"""Steps for the hands, with the time that each takes, holds and dries."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from jadeite.core.assembly.adhesives import Adhesive
from jadeite.core.assembly.lift import Lift
from jadeite.core.assembly.order import Move
from jadeite.core.nets.model import Design, Joint, Piece
from jadeite.core.nets.outline import drawn_folds, loops_of

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
    groups = _copies(design)
    for group in groups:
        _peel_step(clock, group)
    for group in groups:
        if any(fold.kind != "rolled" for fold in group[0].folds):
            _crease_step(clock, group, lift)
    seams = [move for move in lift.moves if move.joint is not None]
    last = seams[-1].joint if seams else None
    room = min(design.hollow.size[:2])
    for group in groups:
        mine = [m for m in lift.moves if m.piece == group[0].name and m.when == "folded"]
        _move_steps(clock, group, lift, mine, adhesive, last, room)
    _mount_steps(clock, design, lift, adhesive)
    for group in groups:
        mine = [m for m in lift.moves if m.piece == group[0].name and m.when == "joined"]
        _move_steps(clock, group, lift, mine, adhesive, last, room)
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
    for group in groups:
        mine = [m for m in lift.moves if m.piece == group[0].name and m.when == "filled"]
        _move_steps(clock, group, lift, mine, adhesive, last, room)
    if "ribbon-slit" in design.sizes:
        clock.add(
            "Thread the ribbon through the slits and tie it",
            "In at one side, out at the next, all the way round; a bow opens again.",
            "close",
            1.0,
            CLOSE * 2,
        )
    if design.lifts:
        slides = next((name for name in design.lifts if name in design.paths), "")
        clock.add(
            f"Slide the {design.piece(slides).title} on" if slides else "Put the lid on",
            "It should run by itself with a little air."
            if slides
            else "It should slide down by itself with a little air.",
            "close",
            1.0,
            CLOSE,
            after=tuple(p.name for p in design.pieces),
        )
    return AssemblyPlan(tuple(clock.steps), last.title if last else "none", clock.dry_at)


def _copies(design: Design) -> list[tuple[Piece, ...]]:
    """Pieces that are alike together: what is done to one is done to all."""
    groups: dict[int, list[Piece]] = {}
    for piece in design.pieces:
        groups.setdefault(id(piece.panels), []).append(piece)
    return [tuple(group) for group in groups.values()]


def _named(group: Sequence[Piece]) -> str:
    """Words for a piece, or for several that are alike: "gores 1 to 6"."""
    first, last = group[0].title, group[-1].title
    stem, _, number = first.rpartition(" ")
    if len(group) == 1 or not number.isdigit():
        return first
    plural = f"{stem[:-1]}ies" if stem.endswith("y") else f"{stem}s"
    return f"{plural} {number} to {last.rpartition(' ')[2]}"


def _peel_step(clock: _Clock, group: Sequence[Piece]) -> None:
    holes = len(group) * sum(loop.hole and loop.closed for loop in loops_of(group[0]))
    words = "Turn the carrier over and bend it away from the paper, not the paper from it."
    what = "the cut-out and keep it" if holes == 1 else f"{holes} cut-outs and keep them"
    clock.add(
        f"Peel the {_named(group)} off",
        words + (f" Take out {what}." if holes else ""),
        "peel",
        0.0,
        PEEL * len(group) + WEED * holes,
        panels=tuple((piece.name, piece.panels[0].name) for piece in group),
        caution="Mind the blade and the hook; local rules and the makers' instructions come first.",
    )


def _crease_step(clock: _Clock, group: Sequence[Piece], lift: Lift) -> None:
    piece = group[0]
    drawn = [piece.folds[n] for _, n in drawn_folds(piece)]
    folds = [fold for fold in drawn if fold.kind != "rolled"]
    count = len(folds) * len(group)
    which = " and ".join(f"{m}s" for m in sorted({fold.mark for fold in folds}))
    clock.add(
        f"Crease all {count} folds of the {_named(group)}"
        if count > 1
        else f"Crease the fold of the {_named(group)}",
        f"Before any glue: {which}, each hard with a bone folder.",
        "crease",
        lift.turned * 0.5,
        CREASE * count,
        panels=tuple((p.name, f.child) for p in group for f in p.tree if f.kind != "rolled"),
    )


def _mount_steps(clock: _Clock, design: Design, lift: Lift, adhesive: Adhesive) -> None:
    """Pieces that are joined to one another, once each is folded."""
    for order in sorted({order for _, order in design.mounts.values()}):
        mine = [p for p in design.pieces if design.mounts.get(p.name, ("", -1))[1] == order]
        for carrier in dict.fromkeys(design.mounts[p.name][0] for p in mine):
            group = [p for p in mine if design.mounts[p.name][0] == carrier]
            names = {p.name for p in group}
            joints = [
                j
                for j in design.joints
                if j.kind == "glue" and j.tab[0] != j.target[0] and names & {j.tab[0], j.target[0]}
            ]
            seams = {frozenset((j.tab[0], j.target[0])) for j in joints}
            chain = len(group) > 1 and any(names <= {*pair, carrier} or pair <= names
                                           for pair in seams)  # fmt: skip
            on = design.piece(carrier).title
            how = (
                f"One after another, beginning at the {on}; the last seam has no room for a "
                "finger inside: hold it with low-tack tape while it sets."
                if chain
                else "Spread the glue thinly, lay it in place, and press it from the middle outwards."
            )
            clock.add(
                f"Glue the {_named(group)} to the {on}",
                how,
                "glue",
                lift.after_mount(order),
                GLUE * max(1, len(seams)),
                glue=adhesive,
                piece=design.pieces[0].name,
                after=tuple(sorted({*names, carrier})),
                panels=tuple(dict.fromkeys(j.tab for j in joints)),
                caution=adhesive.caution,
            )


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


def _move_steps(
    clock: _Clock,
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

    for move in moves:
        if move.joint is not None:
            fold_all()
            clock.add(
                f"Glue {move.joint.title}",
                _seam_words(move.joint, move.joint is last, room),
                "glue",
                lift.after_level(move.level),
                GLUE,
                glue=adhesive,
                piece=piece.name,
                panels=(move.joint.tab,),
                caution=adhesive.caution,
            )
            continue
        words = _fold_words(piece, move)
        if words is not None:
            waiting.setdefault((move.level, *words), []).append(move)
    fold_all()


def _fold_words(piece: Piece, move: Move) -> tuple[str, str] | None:
    """What is done, and how; None where nothing bends."""
    head = piece.panel(move.folds[0])
    turns = {f.child: abs(f.angle) for f in piece.tree}
    turn = turns[move.folds[0]]
    if move.rolls:
        return "Roll over", "Over the tabs, down to the floor."
    if head.role == "gore":
        bends = max(turns[name] for name in move.folds)
        return ("Curl", "Over a round edge, along the faint lines.") if bends > 1 else None
    square = abs(turn - 90) < SQUARE
    if head.role in ("flap", "tab"):
        return "Fold in", "Square to it." if square else f"By {turn:.0f}°."
    return "Raise", "Square to the floor." if square else f"By {turn:.0f}°."


def _fold_step(
    clock: _Clock, group: Sequence[Piece], at: float, verb: str, how: str, moves: Sequence[Move]
) -> None:
    piece, times = group[0], len(group) * len(moves)
    heads = [piece.panel(move.folds[0]) for move in moves]
    names = [
        f"{h.title.split(',')[0]} wall"
        if verb == "Roll over"
        else f"{h.title} wall"
        if h.role == "wall" and " " not in h.title
        else h.title
        for h in heads
    ]
    roles = {piece.panel(name).role for move in moves for name in move.folds[1:]}
    tabs = " with the tabs turned in" if "tab" in roles and verb in ("Raise", "Fold in") else ""
    what = _listed(list(dict.fromkeys(names)))
    own = what in piece.title  # a gore's own bow needs no second name
    words = f"the {_named(group)}" if own else f"the {_named(group)}'s {what}"
    clock.add(
        f"{verb} {words}{tabs}",
        how,
        "roll" if verb == "Roll over" else "raise",
        at,
        (ROLL if verb == "Roll over" else RAISE) * times,
        after=(piece.name,) if verb == "Roll over" else (),
        panels=tuple((one.name, name) for one in group for move in moves for name in move.folds),
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
