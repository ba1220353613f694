"""Wobble card: a figure on the front of a standing card, its head on a coil spring."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError, option_way
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets.arrivals import Arrival, Arrivals, How, When
from jadeite.core.nets.bought import Bought
from jadeite.core.nets.builder import NetBuilder
from jadeite.core.nets.model import Design, Floats, Joint, Kind, Piece, Trace, Vein
from jadeite.core.nets.outline import piece_polygon
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.coil import GRAVITY, Coil
from jadeite.core.shapes.figures import FIGURES, Figure, figure
from jadeite.core.shapes.flat_things import check_face, face_dimensions
from jadeite.core.shapes.mounted import (
    bears_nothing,
    lying_on,
    plate,
    plate_within,
    standing_leaf,
)
from jadeite.core.shapes.ornaments import ornament
from jadeite.core.shapes.registry import Option, OptionValue, ShapeFamily, Size, register
from jadeite.core.units import number_text, rounded_down

__all__ = ["WOBBLE_CARD"]

CARD, BODY, BACKING, HEAD, INSET = "card", "body", "backing", "head", "inset"
FRONT = "front"
SMALLEST, LARGEST = 60.0, 300.0  # mm of a leaf; from memory
STARTS = (105.0, 148.0)  # mm, A6; published: ISO 216
NOTHING = (0.0, 1.0)  # mm; design rule, nothing else is mounted on it
LOW = 0.7  # of a card's height, that a figure's shares are of where it is low; from memory
HELD, LEAST_COIL, MOST_BACKING = 0.72, 4.0, 80.0  # of a backing's width, mm, %; from memory
CLEAR = 1.0  # mm between the spring and the body; from memory
FOOT = 6.0  # mm from the lower edge to the figure; from memory
BORDER, LEAST_PANEL = 6.0, 20.0  # mm; from memory, of the panel inside, and its least side
INSIDE = 3.0  # mm; from memory, a head keeps from the edges of the card
SLOW, QUICK = 4.0, 16.0  # Hz; from memory, slower it hangs, quicker nobody sees it
BEST = 8.0  # Hz; from memory
DROOP = 20.0  # degrees; from memory, a head that looks further down hangs
STAND = 2.0  # mm; from memory, the weight must lie so far behind the front edge
SMALL_PARTS = (
    "The spring and the head are small parts: keep them from children under three. Local rules and "
    "the makers' instructions come first."
)

# from memory where nothing else is said
OPTIONS = (
    Option("figure", "Figure", "owl", "Its head wobbles over its body.", choices=FIGURES),
    Option("body", "Body, wide", 56.0, "A share of the card.", "%", 25.0, 90.0),
    Option(
        "head", "Head, wide", 42.0,
        "A share of the card: larger than its backing, smaller than the card.", "%", 20.0, 90.0,
    ),
    Option(
        "backing", "Backing, wide", 55.0,
        "A share of the head: the spring is stuck to it, and nothing of it shows.", "%", 30.0, 80.0,
    ),
    Option("spring-high", "Spring, high", 12.0, "As it stands by itself.", "mm", 5.0, 25.0),
    Option("coil", "Coil, across", 8.0, "From wire to wire, middle to middle.", "mm", 4.0, 20.0),
    Option("wire", "Wire", 0.2, "Twice as thick is sixteen times as stiff.", "mm", 0.08, 0.8),
    Option("turns", "Turns", 5.0, "Those that give, without the feet.", "count", 2.0, 12.0),
    Option(
        "panel", "Panel inside", "one", "Inside at the right, with an even border, to write on.",
        choices=(("one", "one"), ("none", "none")),
    ),
    Option("border", "Its border", BORDER, "Even all round.", "mm", 2.0, 30.0,
           only=(("panel", ("one",)),)),
    Option(
        "opens", "Stands open by", 60.0, "The angle between its leaves as it stands.", "deg",
        30.0, 120.0,
    ),
)  # fmt: skip


def build_wobble_card(
    face: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A wobble card of a closed width and height in mm.

    Raises
    ------
    FieldError
        The face is out of range, or the figure does not lie on it.
    """
    width, height, _ = face
    check_face(width, height, SMALLEST, LARGEST, "a wobble card")
    opens = float(options["opens"])
    net = NetBuilder(CARD, "card", boards[CARD])
    front = net.base(FRONT, width, height, "front")
    front.role = Role.LEAF
    net.wall("back", front.side("left"), width, turn=180.0 - opens, title="back", role=Role.LEAF)
    card = net.build()
    place = standing_leaf(opens, height, top=False)
    unit = _unit(width, height)
    drawn = figure(
        str(options["figure"]), float(options["head"]) / 100 * unit,
        float(options["body"]) / 100 * unit,
    )  # fmt: skip
    at = np.array([0.0, -height / 2 + FOOT - drawn.body[:, 1].min()])
    over = at + np.array([0.0, _neck(drawn, float(options["coil"]))])
    _lies_on(drawn.head + over, width, height, options)
    body = _drawn(plate(BODY, "body", Role.OVERLAY, drawn.body + at, boards[BODY]),
                  drawn.body_lines, at)  # fmt: skip
    head = _drawn(plate(HEAD, "head", Role.OVERLAY, drawn.head + over, boards[HEAD]),
                  drawn.head_lines, over)  # fmt: skip
    long = float(options["backing"]) / 100 * float(options["head"]) / 100 * unit
    oval = ornament("round", long) * np.array([1.0, 0.8])
    backing = plate(BACKING, "backing", Role.PLATE, oval + over, boards[BACKING])
    coil = Coil(*(float(options[key]) for key in ("wire", "coil", "turns", "spring-high")))
    if coil.across > HELD * long:
        raise _too_wide(coil, long, unit, options)
    placements = {CARD: place}
    placements[BODY] = lying_on(card, place, FRONT, body, front=True)
    placements[BACKING] = lying_on(card, place, FRONT, backing, front=True, pad=coil.high)
    placements[HEAD] = lying_on(
        backing, placements[BACKING], backing.panels[0].name, head, front=True
    )
    foot = ornament("round", coil.across) + over
    joints = [
        Joint(Kind.GLUE, (BODY, body.panels[0].name), (CARD, FRONT), "body on the card", "outside"),
        Joint(Kind.GLUE, (BACKING, backing.panels[0].name), (HEAD, head.panels[0].name),
              "backing behind the head", "inside"),
        Joint(Kind.GLUE, (BACKING, backing.panels[0].name), (CARD, FRONT), "spring on the card",
              "outside", coil.high, tuple((float(x), float(y)) for x, y in foot)),
    ]  # fmt: skip
    on = (CARD, FRONT)
    arrivals = [
        Arrival(BODY, When.FLAT, on, called="the body on the card",
                hint="Its foot along the lower edge, in the middle, right way round; let it dry "
                "before you fold."),
        Arrival(BACKING, When.BEHIND, (HEAD, head.panels[0].name), hint="In the middle of its "
                "back, glue on the middle only.", called="the backing behind the head"),
        Arrival(HEAD, When.FOLDED, on, How.PADDED, hint="The spring's other foot on the card, so "
                "that head and body meet and the body is not covered; press for a while, then "
                "shake it."),
    ]  # fmt: skip
    x, y, z, _ = placements[CARD] @ np.array(
        [*over, boards[CARD].thickness / 2 + coil.high / 2, 1.0]
    )
    spring = Bought(
        "coil spring", coil.across, 0.0, "Press the spring on the backing",
        "Its thin foot in the middle of the backing, with a glue dot or its own adhesive.",
        (BACKING, backing.panels[0].name), first=True, holds=False, caution=SMALL_PARTS,
        thick=coil.high,
    )  # fmt: skip
    ball = Bought("", coil.across, 0.0, "", "", on, centre=(float(x), float(y), float(z)))
    pieces, border = [card, body, head, backing], float(options["border"])
    sizes = _sizes(width, height, pieces, coil, opens)
    if options["panel"] == "one":
        _check_panel(width, height, border)
        panel = plate_within(card.panel("back"), INSET, "panel inside", Role.INSET, border,
                             boards[INSET])  # fmt: skip
        pieces.append(panel)
        placements[INSET] = lying_on(card, place, "back", panel, front=False)
        own = (INSET, panel.panels[0].name)
        joints.append(Joint(Kind.GLUE, own, (CARD, "back"), "panel inside", "inside"))
        arrivals.append(Arrival(INSET, When.BEHIND, (CARD, "back")))
        sizes[f"{INSET}-border"] = given("Panel inside, border", border)
        thick = sizes["thickness"]
        sizes["thickness"] = reckon(
            thick.name, thick.value + panel.board.thickness, f"{thick.rule}, and the panel inside",
            *thick.inputs, given("panel inside", panel.board.thickness),
        )  # fmt: skip
    return Design(
        family="wobble-card",
        title="Wobble card",
        pieces=tuple(pieces),
        placements=placements,
        joints=tuple(joints),
        hollow=None,
        sizes=sizes,
        dimensions=face_dimensions(CARD, FRONT, (-width / 2, -height / 2), (width / 2, height / 2)),
        arrivals=Arrivals(arrivals),
        ground=on,
        put_away=(width, height, sizes["thickness"].value),
        bought=(spring, ball),
    )


def _check_panel(width: float, height: float, border: float) -> None:
    """Refuse a border that leaves nothing of the panel inside; it names one that does."""
    most = rounded_down((min(width, height) - LEAST_PANEL) / 2)
    if border > most:
        words = f"{number_text(border)} mm on every side leaves nothing of the panel inside"
        raise FieldError("border", words, f"Use {number_text(most)} mm.",
                         (option_way("border", most),))  # fmt: skip


def _unit(width: float, height: float) -> float:
    """What a figure's shares are of, mm: the width, or where a card is low what its height lets."""
    return min(width, LOW * height)


def _neck(drawn: Figure, coil: float) -> float:
    """How far the head's middle is over the body's, mm: the spring stands on the card itself."""
    return max(drawn.neck, float(drawn.body[:, 1].max()) + coil / 2 + CLEAR)


def _too_wide(
    coil: Coil, long: float, unit: float, options: Mapping[str, OptionValue]
) -> FieldError:
    """A coil that the backing does not hold: a narrower one, or a larger backing or head."""
    words = f"{number_text(coil.across)} mm is wider than the backing"
    most = rounded_down(HELD * long)
    if most >= LEAST_COIL:
        way = option_way("coil", most)
        return FieldError("coil", words, f"Use {number_text(most)} mm.", (way,))
    need = coil.across / HELD
    share = float(math.ceil(100 * need / (float(options["head"]) / 100 * unit)))
    if share <= MOST_BACKING:
        way = option_way("backing", share)
        return FieldError("backing", words, f"Use {share:.0f} %.", (way,))
    head = float(math.ceil(100 * need / (MOST_BACKING / 100) / unit))
    way = (*option_way("backing", MOST_BACKING), *option_way("head", head))
    return FieldError("head", words, f"Use {head:.0f} %, and a backing of 80 %.", (way,))


def _drawn(piece: Piece, lines: tuple[Floats, ...], at: Floats) -> Piece:
    """A piece with lines of the pen."""
    return replace(piece, veins=tuple(Vein(line + at, Trace.PEN) for line in lines))


def _lies_on(head: Floats, width: float, height: float, options: Mapping[str, OptionValue]) -> None:
    """Refuse a head that reaches over the card; it names shares with which it does not."""
    beyond = max(
        float(np.abs(head[:, 0]).max()) - width / 2, float(head[:, 1].max()) - height / 2
    ) + INSIDE  # fmt: skip
    if beyond <= 0:
        return
    now, unit = {key: float(options[key]) for key in ("head", "body")}, _unit(width, height)
    for share in np.arange(0.95, 0.2, -0.05):
        less = {
            key: max(low, math.floor(share * now[key]))
            for key, low in (("head", 20.0), ("body", 25.0))
        }
        other = figure(str(options["figure"]), less["head"] / 100 * unit, less["body"] / 100 * unit)
        neck = _neck(other, float(options["coil"]))
        top = FOOT - other.body[:, 1].min() + neck + other.head[:, 1].max()
        side = np.abs(other.head[:, 0]).max()
        if top <= height - INSIDE and side <= width / 2 - INSIDE:
            way = tuple(change for key, v in less.items() for change in option_way(key, float(v)))
            raise FieldError(
                "head", f"it reaches {number_text(beyond)} mm past where it must end",
                f"Use {less['head']:.0f} %, and a body of {less['body']:.0f} %.", (way,),
            )  # fmt: skip
    raise FieldError("head", "the card is too low for this figure", "Choose a larger card.")


def _mass(piece: Piece) -> float:
    """In g."""
    return float(piece_polygon(piece).area) / 1e6 * piece.board.grammage


def _thickness(pieces: Sequence[Piece], coil: Coil) -> float:
    card, _, head, backing = (piece.board.thickness for piece in pieces[:4])
    return 2 * card + coil.high + backing + head


def _sizes(
    width: float, height: float, pieces: Sequence[Piece], coil: Coil, opens: float
) -> dict[str, Reckoning]:
    card, body, head, backing = pieces[:4]
    mass = _mass(head) + _mass(backing)
    leaf = _mass(card) / 2
    out = card.board.thickness / 2 + coil.high + backing.board.thickness
    behind = leaf * math.sin(math.radians(opens)) * width / 2 - mass * out
    weight = 2 * leaf + _mass(body) + mass
    return {
        "face-width": given("Closed, width", width),
        "face-height": given("Closed, height", height),
        "flat-length": reckon(
            "Flat, across the fold", 2 * width, "twice the closed width: the fold is in the middle",
            given("closed, width", width),
        ),
        "thickness": reckon(
            "Thickness, shut", _thickness(pieces, coil),
            "both leaves, the spring as it stands, the backing and the head",
            given("card", card.board.thickness), given("spring", coil.high),
            given("head and backing", head.board.thickness + backing.board.thickness),
        ),
        "head-mass": reckon(
            "Head and backing", mass, "their areas times their grammage",
            given("head", _mass(head), "g"),
            given("backing", _mass(backing), "g"), unit="g",
        ),
        "wobble": reckon(
            "Wobbles", coil.wobble(mass),
            "sideways: the square root of the spring's lateral stiffness over the mass, over 2 pi",
            reckon("lateral stiffness", coil.lateral * 1000,
                   "a beam held at one end, with the coil's bending and shear (Timoshenko)",
                   unit="N/m"),
            given("mass", mass, "g"), unit="Hz",
        ),
        "bounce": reckon(
            "Bounces", coil.bounce(mass),
            "to and fro: the square root of G d^4 / (8 D^3 n) over the mass, over 2 pi",
            reckon("axial stiffness", coil.axial * 1000, "G d^4 / (8 D^3 n)", unit="N/m"),
            given("mass", mass, "g"), unit="Hz",
        ),
        "head-sag": reckon(
            "Head sags", coil.sag(mass), "its weight over the lateral stiffness, standing",
            given("mass", mass, "g"), constant("gravity", GRAVITY, "m/s²", Mark.PUBLISHED),
        ),
        "head-tilt": reckon(
            "Head looks down by", coil.tilt(mass), "the slope at the end of the bent coil",
            given("mass", mass, "g"), unit="°",
        ),
        "stands-behind": reckon(
            "Weight lies behind the front edge", behind / weight,
            "the leaf that stands behind holds the head in front",
            given("head in front by", out), given("leaf behind", leaf, "g"),
        ),
    }  # fmt: skip


def judge_wobble(design: Design, options: Mapping[str, OptionValue]) -> tuple[Finding, ...]:
    """Whether it wobbles as one can see, its head looks up, and it stands."""
    value = {key: design.sizes[key].value for key in ("wobble", "head-tilt", "stands-behind")}
    found = []
    quick = value["wobble"] > QUICK
    if quick or value["wobble"] < SLOW or value["head-tilt"] > DROOP:
        wire = _best_wire(design, options)
        words = (
            f"It wobbles {number_text(value['wobble'])} times a second: too quick to be seen."
            if quick
            else f"The head hangs: it looks down by {number_text(value['head-tilt'], 0)}°, and "
            f"sways {number_text(value['wobble'])} times a second."
        )
        cure = None
        if wire is not None:
            cure = Cure(f"Use wire of {number_text(wire, 2)} mm", option_way("wire", wire))
        found.append(Finding(Level.LOOK, "wobble", words, "shape.options.wire", cure=cure))
    if value["stands-behind"] < STAND:
        words = "It falls on its face: the head is too heavy for the leaf behind. Open it further."
        cure = Cure("Open it by 90°", option_way("opens", 90.0))
        found.append(Finding(Level.LOOK, "top-heavy", words, "shape.options.opens", cure=cure))
    return tuple(found)


def _best_wire(design: Design, options: Mapping[str, OptionValue]) -> float | None:
    """The wire, to 0.01 mm, nearest to the best wobble with which the head looks up; or None."""
    mass = design.sizes["head-mass"].value
    rest = [float(options[key]) for key in ("coil", "turns", "spring-high")]
    good = []
    for wire in np.round(np.arange(0.08, 0.801, 0.01), 2).tolist():
        coil = Coil(wire, *rest)
        hz = coil.wobble(mass)
        if SLOW <= hz <= QUICK and coil.tilt(mass) <= DROOP:
            good.append((abs(hz - BEST), wire))
    return min(good)[1] if good else None


def wobble_area(face: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]) -> Any:
    """Board in mm²; rises with both lengths."""
    width, height, _ = face
    return 3 * width * height


def tones(colours: Mapping[str, str], options: Mapping[str, OptionValue]) -> Mapping[str, str]:
    """A dark sky, a figure before it."""
    return {CARD: NIGHT, BODY: MOSS, HEAD: OCHRE, BACKING: OCHRE}


NIGHT, MOSS, OCHRE = "#33405E", "#8A9A6B", "#D9B978"  # from memory
WOBBLE_CARD = register(
    ShapeFamily(
        key="wobble-card",
        title="Wobble card",
        short="Wobble card",
        purpose="write",
        about="A figure on a standing card, its head on a coil spring: touch it and it nods.",
        parts=(
            (CARD, "Card"),
            (BODY, "Body"),
            (HEAD, "Head"),
            (BACKING, "Backing"),
            (INSET, "Panel inside"),
        ),
        usual={INSET: "text"},
        when={INSET: ("panel", "one")},
        options=OPTIONS,
        build=build_wobble_card,
        board_area=wobble_area,
        smallest=SMALLEST,
        largest=LARGEST,
        answers=("face",),
        thin=NOTHING,
        starts=STARTS,
        judge=judge_wobble,
        moves=(("opens",), (30.0, 60.0, 90.0, 120.0)),  # degrees at which it is proved; setting
        takes=bears_nothing,
        tones=tones,
    )
)
