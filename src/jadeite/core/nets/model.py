"""The words for a net.

Glossary
--------
panel
    A flat polygon bounded by folds and cuts; counter-clockwise, good side +z.
fold
    A line about which a child panel turns from its parent.  Its angle is
    positive for a valley, negative for a mountain, seen from the good side.
curve
    The line that is meant where facets of a bent panel have corners.
opening
    A slot, slit, hole or window cut into a panel.
vein
    A line pressed, cut or written on a piece that is no fold.
blank
    Where words may stand that differ from copy to copy.
print
    A colour or a picture on the good side of a panel.
piece
    What is cut in one part from one board: panels joined by folds.
joint
    Which panel meets which panel, and how.
design
    All pieces of one made thing, their joints, and their places when closed.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.findings import Finding
from jadeite.core.nets.arrivals import Arrivals, Where
from jadeite.core.nets.bought import Bought
from jadeite.core.nets.pressed import Pressed
from jadeite.core.nets.roles import Role
from jadeite.core.nets.swing import Swing
from jadeite.core.photos import Ink
from jadeite.core.reckoning import Reckoning
from jadeite.core.solid import Form

__all__ = [
    "Blank",
    "Curve",
    "Design",
    "Dimension",
    "Floats",
    "Fold",
    "Handle",
    "Hollow",
    "Joint",
    "Kind",
    "Opening",
    "Panel",
    "Piece",
    "Printed",
    "Register",
    "Shaping",
    "Trace",
    "Vein",
]

Floats = NDArray[np.float64]
OPEN = ("slit", "cross")  # kinds of openings that are lines, from which nothing falls out


@dataclass(frozen=True, eq=False)
class Opening:
    """A cut inside a panel, clear of its outline.

    ``kind`` is ``slot`` (takes a board or a ribbon), ``slit`` (a slot too
    narrow to be cut as one: a line of no width), ``cross`` (one of two lines across
    one another, whose corners a cord bends aside), ``hole``, ``mark`` (that tells pieces
    apart, and may be covered), ``letter`` or ``window``.
    ``points`` is (n, 2) float, mm, in the coordinates of the whole flat piece;
    a closed opening is counter-clockwise, its first corner not repeated.
    ``takes`` is the thickness in mm of what passes through, 0 for none.
    """

    kind: str
    points: Floats
    takes: float = 0.0

    @property
    def closed(self) -> bool:
        """Whether something falls out; a slit is a single line."""
        return self.kind not in OPEN


@dataclass(frozen=True, eq=False)
class Panel:
    """One flat polygon of a piece.

    ``outline`` is (n, 2) float, mm, counter-clockwise, first corner not
    repeated, in the coordinates of the whole flat piece.  ``role`` says what
    it is for.
    """

    name: str
    title: str
    role: Role
    outline: Floats
    size: tuple[float, float]  # along the hinge x away from it, mm
    openings: tuple[Opening, ...] = ()


@dataclass(frozen=True)
class Fold:
    """A fold between two panels.

    The hinge runs from ``start`` to ``end`` with the child on its left.
    ``tree`` is False for a fold that closes a loop: its child is carried by
    another fold, and that both agree is proved, not assumed.  ``covers``
    names the tabs that the child folds over, so it waits for them.  ``lean``
    is the mark of a crease that lies flat in the closed thing.
    """

    parent: str
    child: str
    start: tuple[float, float]
    end: tuple[float, float]
    angle: float
    kind: str = "scored"
    tree: bool = True
    covers: tuple[str, ...] = ()
    lean: str = ""

    @property
    def mark(self) -> str:
        """``valley`` or ``mountain``, seen from the good side."""
        if self.lean and self.angle == 0:
            return self.lean
        return "valley" if self.angle > 0 else "mountain"

    @property
    def length(self) -> float:
        """Length of the hinge line in mm."""
        return float(np.hypot(self.end[0] - self.start[0], self.end[1] - self.start[1]))


@dataclass(frozen=True, eq=False)
class Curve:
    """A score that runs over the corners of facets, as it is made.

    ``kind`` is ``line`` (straight through all corners), ``arc`` (of one circle)
    or ``spline``; ``points`` is (n, 2) float, mm, in the flat piece, the ends of
    the facets' folds in their order.
    """

    kind: str
    points: Floats


class Trace(StrEnum):
    """What a line that is no fold leaves on the board."""

    PRESSED = "pressed"
    CUT = "cut"
    PEN = "pen"
    PRINT = "print"

    @property
    def ink(self) -> bool:
        """Whether it is written or printed, on the good side alone."""
        return self in (Trace.PEN, Trace.PRINT)


@dataclass(frozen=True, eq=False)
class Vein:
    """A line that is no fold: pressed into the board, cut through it, or written on it.

    It may cross the facets of a bend; ``points`` is (n, 2) float, mm, in the flat piece.
    """

    points: Floats
    trace: Trace = Trace.PRESSED

    @property
    def cut(self) -> bool:
        """Whether it goes through the board."""
        return self.trace is Trace.CUT


@dataclass(frozen=True)
class Blank:
    """Where words may stand on a panel, each copy's own: ``centre`` and size in mm, flat piece.

    ``letters`` is a style of letters; capitals are ``wanted`` mm high, ``least`` where words
    are long; ``pen`` is the width of the line in mm.  ``column`` says which of a copy's words
    stand here: 0 its name, 1 what belongs to it.
    """

    piece: str
    panel: str
    centre: tuple[float, float]
    size: tuple[float, float]
    letters: str
    wanted: float
    least: float
    pen: float
    column: int = 0
    trace: Trace = Trace.PEN


@dataclass(frozen=True)
class Register:
    """How a picture lies on a panel whose outline was found in it, mm in the flat piece.

    ``side`` is its longer side, ``centre`` its middle; ``figure`` are the words of the rings
    that are printed, ``spread`` how far ink goes on beyond them, in parts of its longer side.
    """

    side: float
    centre: tuple[float, float]
    figure: str
    spread: float


@dataclass(frozen=True, eq=False)
class Printed:
    """What is printed on the good side of a panel: one ``colour``, or the ``ink`` of a picture.

    ``within`` are rings, (n, 2) each, mm in the flat piece, even-odd, beyond which there is no
    ink; where the cut runs through ink they reach past the panel.  A picture has its longer
    side ``side`` mm long, its middle at ``centre``, and is turned left by ``turn`` degrees.
    """

    panel: str
    within: tuple[Floats, ...]
    colour: str = ""
    ink: Ink | None = None
    side: float = 0.0
    centre: tuple[float, float] = (0.0, 0.0)
    turn: float = 0.0


@dataclass(frozen=True, eq=False)
class Piece:
    """Panels joined by folds, cut in one part from one board.

    ``part`` is the part of the made thing that it belongs to, whose board and
    colour it has: several pieces may be of one.  It is its name where none is given.
    """

    name: str
    title: str
    board: Board
    panels: tuple[Panel, ...]
    folds: tuple[Fold, ...]
    good_side: str = "outside"
    before: tuple[tuple[str, str], ...] = ()  # of two panels the first is folded, or glued, first
    curves: tuple[Curve, ...] = ()
    part: str = ""
    veins: tuple[Vein, ...] = ()
    prints: tuple[Printed, ...] = ()

    def __post_init__(self) -> None:
        if not self.part:
            object.__setattr__(self, "part", self.name)

    @cached_property
    def index(self) -> Mapping[str, int]:
        """Position of each panel by its name."""
        return {panel.name: i for i, panel in enumerate(self.panels)}

    def panel(self, name: str) -> Panel:
        """The panel with this name."""
        return self.panels[self.index[name]]

    @cached_property
    def leaning(self) -> frozenset[str]:
        """Panels that give way to others that lean as well: by their role, or as a tab of such."""
        own = {panel.name for panel in self.panels if panel.role.traits.leans}
        tabs = {panel.name for panel in self.panels if panel.role is Role.TAB}
        return frozenset(own | {f.child for f in self.tree if f.child in tabs and f.parent in own})

    @cached_property
    def tree(self) -> tuple[Fold, ...]:
        """The folds that carry a panel, parents before children."""
        return tuple(fold for fold in self.folds if fold.tree)


class Kind(StrEnum):
    """How one panel meets another; each kind has a proof of its own (``folding/closure.py``)."""

    GLUE = "glue"  # over a region
    TUCK = "tuck"  # it lies against the other, and comes away again
    SLOT = "slot"  # two strips, each half way through the other
    TONGUE = "tongue"  # through a slot or slit of the other
    SLIDE = "slide"  # it runs along the other

    @property
    def passes(self) -> bool:
        """Whether one goes through the other."""
        return self in (Kind.SLOT, Kind.TONGUE)


@dataclass(frozen=True)
class Joint:
    """One panel that meets another.

    ``side`` says on which side of the target the tab lies, ``inside`` or ``outside``; ``pad``
    how thick the foam is that lies between both, mm.  ``region`` is what of the tab is joined,
    corners in mm in its flat piece; the whole of it where there are none.  A joint is
    ``flush`` where creases turn about the surfaces on which both meet: parts that stand up
    and fold flat again, as thin as they are.  ``gives`` is by how many mm the paper bends down
    to its target beside what lies between both, drawn as if it stood off all over.
    """

    kind: Kind
    tab: Where
    target: Where
    title: str
    side: str = "inside"
    pad: float = 0.0
    region: tuple[tuple[float, float], ...] = ()
    flush: bool = False
    gives: float = 0.0


@dataclass(frozen=True)
class Shaping:
    """Something that the hands do to pieces before they are joined: its title, and how.

    ``pieces`` are their names, ``count`` how often it is done in all; ``glued`` says
    that it takes glue, ``flat`` that they still lie flat after it.
    """

    title: str
    words: str
    pieces: tuple[str, ...]
    count: int
    glued: bool = False
    flat: bool = False


@dataclass(frozen=True)
class Handle:
    """What a piece is moved by on the table: a number of an option, and where it is.

    ``at`` is its place as the option has it, ``per`` how many mm one of its units is.
    """

    option: str
    number: int
    at: tuple[float, float]
    per: float


@dataclass(frozen=True)
class Hollow:
    """The space that the design keeps free, in the shared space.

    ``size`` is length, width, height in mm; ``centre`` its middle.  Its
    ``form`` is a block, a cylinder (upright, as wide as its length) or a ball.
    """

    size: tuple[float, float, float]
    centre: tuple[float, float, float]
    form: Form = Form.BLOCK


@dataclass(frozen=True)
class Dimension:
    """A length to be shown on the table, attached to a panel.

    ``start`` and ``end`` are (x, y, z) in the flat piece (z along the good
    side), ``away`` the direction in which the line stands off the panel.  What is
    ``finished`` is so long only then: nothing flat is.
    """

    name: str
    piece: str
    panel: str
    start: tuple[float, float, float]
    end: tuple[float, float, float]
    away: tuple[float, float, float]
    value: float
    finished: bool = False


@dataclass(frozen=True, eq=False)
class Design:
    """Everything that is made, and how it stands when closed.

    ``placements`` gives for each piece a 4 x 4 matrix from its flat
    coordinates (base panel) into the shared space of the closed thing, z up.
    ``arrivals`` says how pieces and late folds come together; ``cells`` are the
    parts into which dividers part the hollow; ``mouth`` points out of the hollow,
    where things go in; ``meetings`` are pairs of (piece, panel) whose edges meet
    without being glued; ``settled`` are options that were left alone and took
    another value than the usual, as that would not work; ``wholes`` holds each
    piece that is cut in two as it was before; ``ground`` is the (piece, panel) on
    whose good side the contents lie, where there is no hollow; ``put_away`` its
    extents in mm as it goes into something, where that is not as it stands;
    ``fits`` are the eases and gaps by which it was made; ``shaping`` says how pieces
    are bent by hand, which then needs no step for each fold; ``bought`` is what it
    takes besides board; ``handles`` say which pieces may be moved about on the table, and
    ``blanks`` where each copy bears words of its own; ``registers`` how a picture lies on the
    panels whose outlines were found in one; ``motif`` is the pattern of windows that it has
    until others are chosen; ``swing`` the line about which a lid turns that is hinged;
    ``pressed`` are the pieces that are pressed with a plate while they lie flat.
    """

    family: str
    title: str
    pieces: tuple[Piece, ...]
    placements: Mapping[str, Floats]
    joints: tuple[Joint, ...]
    hollow: Hollow | None
    sizes: Mapping[str, Reckoning]
    dimensions: tuple[Dimension, ...] = ()
    findings: tuple[Finding, ...] = ()
    arrivals: Arrivals = field(default_factory=Arrivals)
    surfaces: Mapping[str, float] = field(default_factory=dict)  # z of floor, rim, mouth beyond it
    cells: tuple[Hollow, ...] = ()
    mouth: tuple[float, float, float] = (0.0, 0.0, 1.0)
    meetings: tuple[tuple[Where, Where], ...] = ()
    settled: Mapping[str, float | str] = field(default_factory=dict)
    wholes: Mapping[str, Piece] = field(default_factory=dict)
    ground: Where | None = None
    put_away: tuple[float, float, float] | None = None
    fits: Fits = USUAL
    shaping: tuple[Shaping, ...] = ()
    bought: tuple[Bought, ...] = ()
    handles: Mapping[str, Handle] = field(default_factory=dict)
    blanks: tuple[Blank, ...] = ()
    registers: Mapping[Where, Register] = field(default_factory=dict)
    motif: str = ""
    swing: Swing | None = None
    pressed: tuple[Pressed, ...] = ()

    @property
    def room(self) -> Hollow:
        """The hollow of a design that has one.

        Raises
        ------
        ValueError
            It has none, as a card has not.
        """
        if self.hollow is None:
            raise ValueError(f"{self.family} has no hollow")
        return self.hollow

    @property
    def body(self) -> Piece:
        """The piece that lies there first, onto which all others come."""
        return next(p for p in self.pieces if self.arrivals.of(p.name) is None)

    @property
    def seams(self) -> int:
        """How many seams are glued; the many tabs of one seam count once.

        A strip that is wound up is glued to its own disc, along its whole foot.
        """
        wound = sum(any(q.role.traits.wound for q in piece.panels) for piece in self.pieces)
        return wound + len({j.title for j in self.joints if j.kind is Kind.GLUE})

    def has(self, where: Where) -> bool:
        """Whether there is such a (piece, panel); another choice may have taken it away."""
        return any(p.name == where[0] and where[1] in p.index for p in self.pieces)

    def piece(self, name: str) -> Piece:
        """The piece with this name."""
        return next(piece for piece in self.pieces if piece.name == name)
