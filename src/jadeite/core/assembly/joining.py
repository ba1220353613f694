"""Steps in which a piece comes to another: glued on, laid in, stood between the walls."""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set

from jadeite.core.assembly.adhesives import Adhesive, adhesive_by_key
from jadeite.core.assembly.clock import FILL, GLUE, Clock, listed, named, the
from jadeite.core.assembly.curling import seconds_held
from jadeite.core.assembly.lift import Lift
from jadeite.core.assembly.order import Move
from jadeite.core.nets.arrivals import Arrival, How, When, Where
from jadeite.core.nets.model import Design, Joint, Kind, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.units import counted, format_duration, number_text, numbered

__all__ = ["flat_steps", "foot_step", "foot_under", "insert_steps", "mount_steps"]

FEW = 4  # pieces; from memory, more on level plates are put where a picture from above shows
LEVEL = 0.9  # cosine; from memory, a plate that leans more comes from the side
CARRIES = "A line of glue along its foot and its ends makes it carry the floor."


LINING_GLUE = "clear-thin-glue"  # from memory: it dries clear, and buckles least


def flat_steps(clock: Clock, design: Design, lift: Lift, adhesive: Adhesive) -> None:
    """What is glued on while everything is flat, and must dry before it is folded."""
    for when in (When.FLAT, When.BEHIND):
        hinted = [arrival for arrival in design.arrivals.at(when) if arrival.hint]
        for hint in dict.fromkeys(arrival.hint for arrival in hinted):
            alike = [a for a in hinted if a.hint == hint]
            lines = design.piece(alike[0].piece).panels[0].role.traits.lines
            wet = adhesive_by_key(LINING_GLUE) if lines else adhesive
            _plies_step(clock, design, lift, wet, alike)
    for arrival in design.arrivals.at(When.FLAT):
        name = arrival.piece
        if arrival.hint:
            continue
        carrier, panel = carrier_of(arrival)
        if arrival.how is How.LAPPED:
            _lap_step(clock, design, lift, adhesive, name, carrier)
            continue
        border = design.sizes.get(f"{name}-border")
        title = design.piece(carrier).panel(panel).title
        how = "While it lies flat"
        if border is not None and f"{name}-wrap" in design.sizes:
            how += "; its edges come down all round, and leave an even border of "
            how += f"{border.value:.1f} mm"
        elif border is not None:
            how += f", with an even border of {border.value:.1f} mm all round"
        if arrival.how is How.PADDED:
            clock.add(
                f"Stick {the(design.piece(name).title)} on the {title}",
                f"{_pads_words(design, (carrier, panel))} {how}: hold it level and look along its "
                "edges before it touches.",
                "glue",
                lift.came(When.FLAT),
                GLUE,
                piece=carrier,
                panels=((name, design.piece(name).panels[0].name), (carrier, panel)),
            )
            continue
        clock.add(
            f"Glue {the(design.piece(name).title)} on the {title}",
            f"{how}; let it dry under a weight before you fold.",
            "glue",
            lift.came(When.FLAT),
            GLUE,
            glue=adhesive,
            piece=carrier,
            panels=((name, design.piece(name).panels[0].name), (carrier, panel)),
            caution=adhesive.caution,
        )
    linings = []
    for arrival in design.arrivals.at(When.BEHIND):
        if arrival.hint:
            continue  # it was glued with the plies, above
        if design.piece(arrival.piece).panels[0].role.traits.lines:
            linings.append(arrival)
        else:
            _inset_step(clock, design, lift, adhesive, arrival)
    if linings:
        _lining_step(clock, design, lift, linings, adhesive_by_key(LINING_GLUE))


def _pads_words(design: Design, on: Where) -> str:
    """Which foam goes under what is stuck on a panel."""
    pads = next(b for b in design.bought if b.thick and b.on == on)
    return (
        f"{counted(pads.count, pads.name)}, {number_text(pads.across)} mm and "
        f"{number_text(pads.thick)} mm thick, on its back: in the corners, along the edges and "
        "over the middle, none where it is cut out."
    )


def _plies_step(
    clock: Clock, design: Design, lift: Lift, adhesive: Adhesive, arrivals: Sequence[Arrival]
) -> None:
    """Pieces that are glued alike: on some like them, or each behind another."""
    on = list(dict.fromkeys(carrier_of(arrival) for arrival in arrivals))
    pieces = [design.piece(arrival.piece) for arrival in arrivals]
    carriers = [design.piece(name) for name, _ in on]
    hint, padded = arrivals[0].hint, arrivals[0].how is How.PADDED
    if arrivals[0].called:
        title, detail = f"{'Stick' if padded else 'Glue'} {arrivals[0].called}", hint
    elif {id(p.panels) for p in pieces} <= {id(c.panels) for c in carriers}:
        title = "Glue on one another what is alike"
        count = {where: 1 + sum(a.onto == where for a in arrivals) for where in on}
        each = [counted(count[where], design.piece(where[0]).title) for where in on]
        detail = f"{listed(each)}, each kind by itself. {hint} Let them dry before you bend them."
    else:
        where = "behind" if arrivals[0].when is When.BEHIND else "on"
        title = f"Glue {the(named(pieces))} {where} {the(named(carriers))}"
        detail = hint
    clock.add(
        title,
        detail,
        "glue",
        lift.came(arrivals[0].when),
        GLUE * len(arrivals),
        glue=None if padded else adhesive,
        piece=on[0][0],
        panels=tuple((piece.name, piece.panels[0].name) for piece in pieces),
        shows=tuple(piece for piece, _ in on),
        caution="" if padded else adhesive.caution,
    )


def carrier_of(arrival: Arrival) -> Where:
    """The panel that carries what comes.

    Raises
    ------
    ValueError
        It comes over all others.
    """
    if arrival.onto is None:
        raise ValueError(f"{arrival.piece} comes over all others")
    return arrival.onto


def _inset_step(
    clock: Clock, design: Design, lift: Lift, adhesive: Adhesive, arrival: Arrival
) -> None:
    """A panel on the back of another, while both lie flat."""
    name, (carrier, panel) = arrival.piece, carrier_of(arrival)
    piece, border = design.piece(name), design.sizes[f"{name}-border"].value
    clock.add(
        f"Glue {the(piece.title)} on the inside of the {design.piece(carrier).panel(panel).title}",
        f"Glue along its edges and across its corners, with an even border of {border:.1f} mm all "
        "round; let it dry under a weight before you fold.",
        "glue",
        lift.came(When.BEHIND),
        GLUE,
        glue=adhesive,
        piece=carrier,
        panels=((name, piece.panels[0].name), (carrier, panel)),
        shows=(carrier,),
        caution=adhesive.caution,
    )


def _lining_step(
    clock: Clock, design: Design, lift: Lift, arrivals: Sequence[Arrival], wet: Adhesive
) -> None:
    """All linings at once: wet glue buckles them, so they dry before anything is folded."""
    pieces = [design.piece(arrival.piece) for arrival in arrivals]
    on = [carrier_of(arrival) for arrival in arrivals]
    what = "lining" if len(on) == 1 else f"{len(on)} linings"
    clock.add(
        f"Glue the {what} behind the window{'s' if len(on) > 1 else ''}",
        "On the back, a thin line of glue on the frame only, none on the lining; keep seam flanges "
        "and tabs bare. Let it dry fully under a weight before you fold.",
        "glue",
        lift.came(When.BEHIND),
        GLUE * len(on),
        glue=wet,
        piece=on[0][0],
        panels=tuple((piece.name, piece.panels[0].name) for piece in pieces),
        shows=tuple(dict.fromkeys(carrier for carrier, _ in on)),
        caution=wet.caution,
    )


def _lap_step(
    clock: Clock, design: Design, lift: Lift, adhesive: Adhesive, name: str, carrier: str
) -> None:
    """Two halves of a piece, joined end to end."""
    whole = design.piece(carrier).title
    role = {panel.name: panel.role for panel in design.piece(name).panels}
    joints = [j for j in design.joints if j.tab[0] == name and role[j.tab[1]] is Role.LAP]
    laps = tuple(j.tab for j in joints)
    where = "The laps go on the good side of the first half, where nothing inside gets narrower."
    if any(j.side == "inside" for j in joints):
        where = "A lap goes on the back of the first half where something else is glued in front."
    clock.add(
        f"Glue both halves of the {whole} end to end",
        f"While they lie flat, against a ruler, so that their edges run on straight. {where}",
        "glue",
        lift.came(When.FLAT),
        GLUE * len(laps),
        glue=adhesive,
        piece=carrier,
        panels=laps,
        caution=adhesive.caution,
    )


def mount_steps(clock: Clock, design: Design, lift: Lift, adhesive: Adhesive) -> None:
    """Pieces that are joined to one another, once each is folded."""
    coming = {arrival.piece: arrival for arrival in design.arrivals.at(When.FOLDED)}
    onto = {name: carrier_of(arrival)[0] for name, arrival in coming.items()}
    turns = {name: design.arrivals.turn(name) for name in coming}

    def alike(name: str) -> tuple[object, ...]:
        """What is done in one step: onto one carrier, or in one way onto some that are alike."""
        hint = coming[name].hint
        return (hint, id(design.piece(onto[name]).panels)) if hint else (onto[name],)

    for turn in sorted(set(turns.values())):
        mine = [p for p in design.pieces if turns.get(p.name) == turn]
        for key in dict.fromkeys(alike(p.name) for p in mine):
            group = [p for p in mine if alike(p.name) == key]
            names = {p.name for p in group}
            carriers = [p for p in design.pieces if p.name in {onto[name] for name in names}]
            carrier = carriers[0].name
            known = names | lift.shown(
                {c.name for c in carriers}, (), lift.arriving(When.FOLDED, turn)
            )
            moved = names | _brought_along(design, names, turns, turn)
            joints = [j for j in design.joints if _meets(j, names, moved, known)]
            seams = {frozenset((j.tab[0], j.target[0])) for j in joints}
            chain = len(group) > 1 and any(names <= {*pair, carrier} or pair <= names
                                           for pair in seams)  # fmt: skip
            on = named(carriers)
            how = (
                f"One after another, beginning at the {on}; the last seam has no room for a "
                "finger inside: hold it with low-tack tape while it sets."
                if chain
                else "Spread the glue thinly, lay it in place, press it from the middle outwards."
            )
            how = next((coming[name].hint for name in names if coming[name].hint), how)
            held = seconds_held(design, joints)
            if held:
                how += (
                    f" Hold every hand's width for half a minute: {format_duration(held)} in all."
                )
            what = numbered([coming[p.name].called or p.title for p in group])
            # a plate would hide its own joint: it is shown above its place
            low = float(design.placements[carrier][2, 3])
            plate = _level_plate(design, design.piece(carrier)) or any(
                _level_plate(design, p) and float(design.placements[p.name][2, 3]) > low
                for p in group
            )
            at = lift.arriving(When.FOLDED, turn) if plate else lift.came(When.FOLDED, turn)
            plan = len(group) > FEW and all(_level_plate(design, c) for c in carriers)
            others = () if plan else _like(lift, carriers, at)
            # on foam, or on what else holds by itself
            sticks = bool(joints) and all(j.pad for j in joints)
            sticks = sticks or all(coming[name].how is How.PADDED for name in names)
            put = all(coming[name].how is How.PUT for name in names)  # held by what follows
            verb = "Stick" if sticks else "Glue"
            title = f"{verb} {the(what)} to {the(on)}"
            if put:
                through = any(
                    j.kind is Kind.TONGUE and j.target[0] in {c.name for c in carriers}
                    for j in design.joints
                )
                way = ("Put", "through") if through else ("Lay", "on")
                title = f"{way[0]} {the(what)} {way[1]} {the(on)}"
            clock.add(
                title,
                how,
                "fit" if put else "glue",
                at,
                GLUE * max(1, len(seams)),
                glue=None if sticks or put else adhesive,
                held=held,
                piece=design.body.name,
                after=tuple(sorted({*names, *(c.name for c in carriers)})),
                panels=tuple(dict.fromkeys(j.tab for j in joints)) + _plates(group),
                caution="" if sticks or put else adhesive.caution,
                shows=tuple(c.name for c in carriers),
                left_out=others,
                above=plan,
            )


def _meets(joint: Joint, names: Set[str], moved: Set[str], known: Set[str]) -> bool:
    """Whether a joint is glued when pieces come, with what they carry, to those that are known."""
    ends = {joint.tab[0], joint.target[0]}
    if joint.kind is not Kind.GLUE or len(ends) == 1 or not ends <= known | moved:
        return False
    return len(ends & moved) == 1 or ends <= names


def _brought_along(
    design: Design, names: Set[str], turns: Mapping[str, int], turn: int
) -> set[str]:
    """What pieces carry that was joined to them before."""
    out: set[str] = set()
    onto = {a.piece: a.onto[0] for a in design.arrivals.at(When.FOLDED) if a.onto}
    while more := {p for p, on in onto.items() if turns[p] < turn and on in names | out} - out:
        out |= more
    return out


def _like(lift: Lift, carriers: Sequence[Piece], at: float) -> tuple[str, ...]:
    """What is left out of a picture: carriers like others, with all that is joined to them."""
    once = {id(carrier.panels): carrier.name for carrier in reversed(carriers)}
    more = {carrier.name for carrier in carriers} - set(once.values())
    shown = lift.shown(set(once.values()), (), at)
    return tuple(sorted(lift.shown(more, (), at) - shown)) if more else ()


def _level_plate(design: Design, piece: Piece) -> bool:
    return len(piece.panels) == 1 and abs(float(design.placements[piece.name][2, 2])) > LEVEL


def _plates(group: Sequence[Piece]) -> tuple[tuple[str, str], ...]:
    """Panels of pieces that are one flat panel: they cover their own joint."""
    return tuple((p.name, p.panels[0].name) for p in group if len(p.panels) == 1)


def foot_under(design: Design, piece: Piece, move: Move) -> str:
    """The title of another piece under which a foot is folded and glued; empty where none is."""
    own = (piece.name, move.folds[0])
    if move.when != "joined" or piece.panel(move.folds[0]).role is not Role.FOOT:
        return ""
    under = [j.target[0] for j in design.joints if j.kind is Kind.GLUE and j.tab == own]
    return next((design.piece(name).title for name in under if name != piece.name), "")


def foot_step(clock: Clock, piece: Piece, lift: Lift, move: Move, adhesive: Adhesive) -> None:
    """A foot that has gone through a slot, folded under what it stands in."""
    under = foot_under(lift.design, piece, move)
    clock.add(
        f"Glue {the(piece.panel(move.folds[0]).title)} under {the(under)}",
        lift.design.arrivals.fold_hint((piece.name, move.folds[0]))
        or "Turn all over, a little glue on it, fold it back and press it flat; stand it up and "
        "see that it is upright while the glue sets.",
        "glue",
        lift.after_level(move.level),
        GLUE,
        glue=adhesive,
        piece=piece.name,
        panels=((piece.name, move.folds[0]),),
        caution=adhesive.caution,
    )


def insert_steps(clock: Clock, design: Design, lift: Lift, adhesive: Adhesive) -> None:
    """What is put in once the walls stand: a second floor is glued, dividers are slid in."""
    for arrival in design.arrivals.at(When.STANDING):
        name, turn = arrival.piece, design.arrivals.turn(arrival.piece)
        piece = design.piece(name)
        at = lift.arriving(When.STANDING, turn)
        first = (design.body.name,)
        place = ((name, piece.panels[0].name),)
        glued = [
            j
            for j in design.joints
            if j.kind is Kind.GLUE and name in (j.tab[0], j.target[0]) and j.tab[0] != j.target[0]
        ]
        if glued:
            clock.add(
                f"Glue {the(piece.title)} in",
                arrival.hint
                or "Spread the glue thinly over all of it, lay it in, and press it down under a "
                "weight.",
                "glue",
                at,
                GLUE,
                glue=adhesive,
                piece=design.body.name,
                after=first,
                panels=place,
                caution=adhesive.caution,
                shows=first,
            )
            continue
        title, how = _fitted(design, piece, arrival.hint)
        clock.add(title, how, "fit", at, FILL, after=first, panels=place, shows=first)


def _fitted(design: Design, piece: Piece, hint: str) -> tuple[str, str]:
    """What is said of a piece that is put in without glue of its own: title, and how."""
    name = piece.name
    if hint:
        return f"Stand {the(piece.title)} in", hint
    if any(j.kind is Kind.TUCK and name == j.target[0] for j in design.joints):
        return (
            f"Lay {the(piece.title)} in",
            "It lies on the feet of the walls; a little glue on them keeps it.",
        )
    slots = sum(j.kind is Kind.SLOT and name in (j.tab[0], j.target[0]) for j in design.joints)
    how = "Its slots open upwards." if slots and _stands_first(design, name) else ""
    if slots and not how:
        how = "Its slots slide down over the strips that stand already."
    how = how or "It stands between the walls."
    return f"Stand {the(piece.title)} in", f"{how} {CARRIES}"


def _stands_first(design: Design, name: str) -> bool:
    """Whether a strip is the one that others are slid onto."""
    return any(j.kind is Kind.SLOT and j.target[0] == name for j in design.joints)
