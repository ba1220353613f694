"""Stiffened holder: a pocket folded up from stiff board, and covers within an even border."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np
from shapely.geometry import Polygon, box
from shapely.geometry.polygon import orient

from jadeite.core.boards import Board
from jadeite.core.boards.fit_rules import MIN_FOLD_BACK, MIN_TAB
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.errors import FieldError, option_way
from jadeite.core.nets.arrivals import Arrival, Arrivals, When
from jadeite.core.nets.builder import ROLL_EASE, NetBuilder
from jadeite.core.nets.model import Design, Dimension, Floats, Hollow, Joint, Kind, Opening, Piece
from jadeite.core.nets.roles import Role
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon
from jadeite.core.shapes.flat_things import check_pouch, outside_of, pouch_inside, taken_by_holder
from jadeite.core.shapes.mounted import lying_on, plate
from jadeite.core.shapes.ornaments import ornament
from jadeite.core.shapes.pocket_outlines import within_border
from jadeite.core.shapes.registry import Option, OptionValue, ShapeFamily, Size, register
from jadeite.core.units import number_text, rounded_down

__all__ = ["STIFFENED_HOLDER"]

HOLDER, COVER, TOP, BEHIND = "holder", "cover", "upper-cover", "back-cover"
BACK, POCKET = "back", "flap.pocket"
SMALLEST, LARGEST = 40.0, 300.0  # mm; from memory
THIN, THICK = 0.1, 12.0  # mm of what lies in it; from memory, more asks for a box
SIDE, CLEAR, MOUTH, APART, RIM = (
    12.0,
    2.0,
    4.0,
    4.0,
    1.0,
)  # mm; from memory, as of an envelope's side flaps
BORDER = 4.0  # mm; from memory, between 3 and 6
LEAST = 10.0  # mm; from memory, a smaller cover cannot be glued straight
LEAST_BORDER, LEAST_SHARE = 1.5, 35.0  # mm, and % of a pocket; design rule
LEAST_WINDOW = 12.0  # mm; from memory, through less nothing is seen
ARC = 25  # setting: corners of an arch
NIGHT, MOON = "#33405E", "#FFFDF8"  # from memory

# from memory
OPTIONS = (
    Option(
        "pocket-height", "Pocket, high", 60.0, "A share of what lies in it.",
        "%", LEAST_SHARE, 95.0,
    ),
    Option(
        "top", "Top", "arch", "What stands above the thing.",
        choices=(("arch", "arch"), ("point", "point"), ("straight", "straight")),
    ),
    Option(
        "top-height", "Arch, high", 22.0, "A share of the width.", "%", 8.0, 60.0,
        only=(("top", ("arch", "point")),),
    ),
    Option(
        "border", "Border", BORDER, "Of the board, round every cover and at the seam between both.",
        "mm", LEAST_BORDER, 20.0,
    ),
    Option(
        "window", "Window", "none", "In the pocket, to see what is in it.",
        choices=(("none", "none"), ("round", "round"), ("star", "star"), ("moon", "moon")),
    ),
    Option(
        "window-size", "Window, across", 18.0, "Its longer side; the cover leaves the border free.",
        "mm", LEAST_WINDOW, 120.0, only=(("window", ("round", "star", "moon")),),
    ),
    Option("side-flap", "Side flaps", SIDE, "They close the sides; the pocket is glued to them.",
           "mm", MIN_TAB, 30.0),
)  # fmt: skip


def build_stiffened(
    inside: Size,
    boards: Mapping[str, Board],
    options: Mapping[str, OptionValue],
    fits: Fits = USUAL,
) -> Design:
    """A holder for what lies in it: width, height, thickness in mm.

    The back is the base, good side down; its foot is the net's upper edge.

    Raises
    ------
    FieldError
        An inside length out of range, or parts that leave no room for one another.
    """
    check_pouch(inside, (THIN, THICK), SMALLEST, LARGEST, "a holder")
    board = boards[HOLDER]
    t, thick = board.thickness, max(inside[2], MIN_FOLD_BACK - board.thickness)
    room = thick + boards[TOP].thickness  # the upper cover lies behind the thing
    width, height = inside[0] + t, inside[1] + t
    side = _side(inside, t, options)
    high = float(options["pocket-height"]) / 100 * height
    more = 0.0
    if options["top"] != "straight":
        more = float(options["top-height"]) / 100 * width
    net = NetBuilder(HOLDER, "holder", board)
    base = net.base(BACK, width, height + more, "back")
    edge = net.wall("edge.foot", base.side("back"), room + 2 * t, title="foot edge",
                    role=Role.EDGE)  # fmt: skip
    pocket = net.wall(POCKET, edge.side("far"), high, title="pocket", role=Role.FLAP)
    for hand, start in (("right", True), ("left", False)):
        rim = net.wall(f"edge.{hand}", base.side(hand), room + 2 * t, title=f"{hand} edge",
                       role=Role.EDGE)  # fmt: skip
        foot, rest = CLEAR + t, height + more - high + RIM  # above the pocket there is no edge
        rim.start_inset, rim.end_inset = t / 2 + ROLL_EASE, rest
        if not start:
            rim.start_inset, rim.end_inset = rest, t / 2 + ROLL_EASE
        net.tab(
            f"side.{hand}", rim.side("far"), pocket, "start" if start else "end", side,
            clear=foot if start else MOUTH, rim_clear=MOUTH if start else foot,
            title=f"{hand} flap",
        )  # fmt: skip
    piece = _topped(net.build(), width, more, options)
    piece = _opened(piece, options)
    place = np.diag([1.0, -1.0, -1.0, 1.0])
    border = float(options["border"])
    made = _Covers(piece, place, border)
    flap, back = piece.panel(POCKET), piece.panel(BACK)
    made.add(COVER, "cover", POCKET, _inset(flap.outline, border), boards[COVER], front=True)
    upper = _seen(back.outline, height, border, options)
    made.add(TOP, "upper cover", BACK, upper, boards[TOP], front=False)
    made.add(BEHIND, "back cover", BACK, _inset(back.outline, border), boards[BEHIND], front=True)
    made.window(options)
    low = t / 2 + boards[TOP].thickness
    middle = more / 2  # of the thing: it stands on the foot
    return Design(
        family="stiffened-holder",
        title="Stiffened holder",
        pieces=(piece, *made.pieces),
        placements={HOLDER: place, **made.placements},
        joints=(*net.joints, *made.joints),
        hollow=Hollow((inside[0], inside[1], thick), (0.0, -middle, low + thick / 2)),
        sizes=_sizes(inside, thick, board, border, high, more, made),
        dimensions=_dimensions(width, height + more),
        surfaces={"floor": low, "rim": low + thick},
        mouth=(0.0, 1.0, 0.0),
        arrivals=Arrivals(made.arrivals),
    )


class _Covers:
    """Covers within a border on panels of the board, as they are added."""

    def __init__(self, piece: Piece, place: Floats, border: float) -> None:
        self.piece, self.place, self.border = piece, place, border
        self.pieces: list[Piece] = []
        self.placements: dict[str, Floats] = {}
        self.joints: list[Joint] = []
        self.arrivals: list[Arrival] = []

    def add(
        self, name: str, title: str, panel: str, outline: Floats, board: Board, *, front: bool
    ) -> None:
        """A cover of an outline on the good side of a panel, or on its back."""
        on = (HOLDER, panel)
        if front:
            made = plate(name, title, Role.OVERLAY, outline, board)
            place = lying_on(self.piece, self.place, panel, made, front=True)
        else:  # its good side is seen where the board's back is
            turned = (outline * np.array([1.0, -1.0]))[::-1]
            made = plate(name, title, Role.OVERLAY, turned, board)
            place = lying_on(self.piece, self.place, panel, made, front=False)
            place = place @ np.diag([1.0, -1.0, -1.0, 1.0])
        self.pieces.append(made)
        self.placements[name] = place
        own = (name, made.panels[0].name)
        side = "outside" if front else "inside"
        self.joints.append(Joint(Kind.GLUE, own, on, f"{title} on the board", side))
        words = (
            f"Round the {title} {number_text(self.border)} mm of board, most of all where covers "
            "meet; rub it down from the middle, and leave it under a weight until it is dry."
        )
        called = f"the {title} on the {self.piece.panel(panel).title}"
        when = When.FLAT if front else When.BEHIND
        self.arrivals.append(Arrival(name, when, on, hint=words, called=called))

    def window(self, options: Mapping[str, OptionValue]) -> None:
        """The cover leaves free what the pocket's window opens, and the border round it."""
        opening = next((o for o in self.piece.panel(POCKET).openings if o.kind == "window"), None)
        if opening is None:
            return
        wide = Polygon(opening.points).buffer(self.border, quad_segs=ARC)
        ring = np.array(orient(wide).exterior.coords)[:-1]
        cover = self.pieces[0]
        cut = replace(cover.panels[0], openings=(Opening("window", ring),))
        self.pieces[0] = replace(cover, panels=(cut,))


def _side(inside: Size, t: float, options: Mapping[str, OptionValue]) -> float:
    side = float(options["side-flap"])
    most = math.floor(10 * ((inside[0] - APART) / 2 - t)) / 10
    if side > most:
        raise FieldError(
            "side-flap", f"two flaps of {number_text(side)} mm meet in the middle",
            f"Use {number_text(most)} mm.", (option_way("side-flap", most),),
        )  # fmt: skip
    return side


def _topped(piece: Piece, width: float, more: float, options: Mapping[str, OptionValue]) -> Piece:
    """With an arch or a point instead of the upper corners of the back."""
    if more <= 0:
        return piece
    back = piece.panel(BACK)
    low = float(back.outline[:, 1].min())
    x = (
        -np.cos(np.linspace(0.0, math.pi, ARC))
        if options["top"] == "arch"
        else np.array([-1.0, 0.0, 1.0])
    )
    drop = 1 - np.sqrt(np.clip(1 - x**2, 0, 1)) if options["top"] == "arch" else np.abs(x)
    edge = np.column_stack([width / 2 * x, low + more * drop])
    rest = back.outline[back.outline[:, 1] > low + 1e-6]
    outline = np.vstack([edge, rest[np.argsort(-rest[:, 0])]])
    panels = tuple(replace(p, outline=outline) if p.name == BACK else p for p in piece.panels)
    return replace(piece, panels=panels)


def _opened(piece: Piece, options: Mapping[str, OptionValue]) -> Piece:
    """With a window in the pocket."""
    if options["window"] == "none":
        return piece
    flap = piece.panel(POCKET)
    low, high = flap.outline.min(axis=0), flap.outline.max(axis=0)
    size, border = float(options["window-size"]), float(options["border"])
    most = rounded_down(float((high - low).min()) - 2 * (2 * border + 4.0))
    if size > most:
        words = f"{number_text(size)} mm leaves no board round it"
        if most < LEAST_WINDOW:
            raise FieldError("window", words, "Leave it out.", (option_way("window", "none"),))
        way = option_way("window-size", most)
        raise FieldError("window-size", words, f"Use {number_text(most)} mm.", (way,))
    ring = ornament(str(options["window"]), size) * np.array([1.0, -1.0])
    ring = ring[::-1] + (low + high) / 2
    changed = replace(flap, openings=(Opening("window", ring),))
    panels = tuple(changed if p.name == POCKET else p for p in piece.panels)
    return replace(piece, panels=panels)


def _upper(outline: Floats, high: float) -> Floats:
    """What of the back is seen above the pocket; its foot is the net's upper edge."""
    foot = float(outline[:, 1].max())
    x0, y0, x1, _ = Polygon(outline).bounds
    part = Polygon(outline).intersection(box(x0 - 1, y0 - 1, x1 + 1, foot - high))
    return np.array(orient(part).exterior.coords)[:-1]


def _inset(outline: Floats, border: float) -> Floats:
    """Within the border; refused where nothing is left of a cover.

    Raises
    ------
    FieldError
        It names a border that works.
    """
    room = Polygon(outline)
    x0, y0, x1, y1 = room.bounds
    try:
        inner = within_border(outline, border)
        small = float(np.ptp(inner, axis=0).min())
    except ValueError:
        small = 0.0
    if small < LEAST - 1e-6:
        most = rounded_down((min(x1 - x0, y1 - y0) - LEAST) / 2)
        while most > 0.5 and _least(room.buffer(-most)) < LEAST:
            most = rounded_down(most - 0.5)
        raise FieldError(
            "border", f"{number_text(border)} mm leaves nothing of a cover",
            f"Use {number_text(most)} mm.", (option_way("border", most),),
        )  # fmt: skip
    return inner


def _seen(
    outline: Floats, height: float, border: float, options: Mapping[str, OptionValue]
) -> Floats:
    """The cover of what is seen above the pocket; (n, 2), mm.

    Raises
    ------
    FieldError
        Nothing is left of it; it names a lower pocket with which something is.
    """
    now = float(options["pocket-height"])
    try:
        return _inset(_upper(outline, now / 100 * height), border)
    except FieldError as error:
        refused = error
    words = "above the pocket nothing is left of a cover"
    for edge in (border, LEAST_BORDER):
        for share in np.arange(now - 5, LEAST_SHARE - 5, -5):
            low = max(LEAST_SHARE, math.floor(share))
            try:
                _inset(_upper(outline, low / 100 * height), edge)
            except FieldError:
                continue
            way = option_way("pocket-height", float(low))
            way += option_way("border", edge) if edge != border else ()
            raise FieldError("pocket-height", words, f"Use {low:.0f} %.", (way,)) from None
    raise refused


def _least(shape: Polygon) -> float:
    """The shorter side of what a shape takes, mm; 0 of nothing, or of several parts."""
    if shape.is_empty or shape.geom_type != "Polygon":
        return 0.0
    x0, y0, x1, y1 = shape.bounds
    return float(min(x1 - x0, y1 - y0))


def _sizes(
    inside: Size, thick: float, board: Board, border: float, high: float, more: float, made: _Covers
) -> dict[str, Reckoning]:
    t = board.thickness
    out = pouch_inside("Holder", inside)
    out["inside-thickness"] = reckon(
        "Holder inside, thickness", thick,
        "what lies in it; two scores cannot lie closer than half a millimetre",
        given("asked for", inside[2]),
        constant("scores apart, least", MIN_FOLD_BACK, "mm", Mark.MEMORY),
    )  # fmt: skip
    out |= outside_of("Holder", (inside[0], inside[1] + more, inside[2]), t)
    covers = sum(p.board.thickness for p in made.pieces)
    out["outside-thickness"] = reckon(
        "Holder outside, thickness", thick + 3 * t + covers,
        "what lies in it, back, side flaps, pocket, and the covers", given("inside", thick),
        given("board thickness", t), given("covers", covers),
    )  # fmt: skip
    out["pocket-height"] = reckon(
        "Pocket, high", high, "so much of the height is covered", given("height", inside[1]),
    )  # fmt: skip
    out["cover-border"] = reckon(
        "Border at every side", border, "the covers' outline, moved inward evenly",
        given("wanted", border), constant("usual", BORDER, "mm", Mark.MEMORY),
    )  # fmt: skip
    out["seam-border"] = reckon(
        "Border at the middle seam", border,
        "from the pocket's upper edge to the cover below it and to the one above it",
        given("wanted", border),
    )  # fmt: skip
    return out


def _dimensions(width: float, height: float) -> tuple[Dimension, ...]:
    x, y = width / 2, height / 2
    return (
        Dimension("width", HOLDER, BACK, (-x, -y, 0.0), (x, -y, 0.0), (0.0, -1.0, 0.0), width),
        Dimension("height", HOLDER, BACK, (-x, -y, 0.0), (-x, y, 0.0), (-1.0, 0.0, 0.0), height),
    )


def stiffened_area(
    inside: Any, boards: Mapping[str, Board], options: Mapping[str, OptionValue]
) -> Any:
    """Board in mm² of holder and covers, without arches; rises with every length."""
    width, height, thick = inside
    return 3 * width * height + 2 * thick * (width + height) + 2 * SIDE * height


def tones(colours: Mapping[str, str], options: Mapping[str, OptionValue]) -> Mapping[str, str]:
    """Covers that stand out from their border."""
    return {HOLDER: MOON, COVER: NIGHT, TOP: NIGHT, BEHIND: NIGHT}


STIFFENED_HOLDER = register(
    ShapeFamily(
        key="stiffened-holder",
        title="Stiffened holder",
        short="Stiff holder",
        purpose="write",
        about="A pocket folded up from stiff board, with covers within an even border of it.",
        parts=((HOLDER, "Holder"), (COVER, "Cover"), (TOP, "Upper cover"), (BEHIND, "Back cover")),
        options=OPTIONS,
        build=build_stiffened,
        board_area=stiffened_area,
        smallest=SMALLEST,
        largest=LARGEST,
        mouth=1,
        thin=(THIN, THICK),
        usual={HOLDER: "heavy-card", COVER: "text"},
        follows={TOP: COVER, BEHIND: COVER},
        answers=("hollow",),
        takes=taken_by_holder,
        tones=tones,
    )
)
