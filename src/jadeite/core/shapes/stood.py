"""What stands up in a card: steps, a stage, a V over the fold, a floating layer."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.errors import FieldError, option_way
from jadeite.core.nets.arrivals import Where
from jadeite.core.nets.model import Floats, Joint, Kind
from jadeite.core.shapes.registry import OptionValue
from jadeite.core.shapes.standing_parts import CLEAR, TAPER, Link, Opened, Stood, chain, v_fold
from jadeite.core.units import number_text, rounded_down, rounded_up

__all__ = [
    "BACK",
    "CARD",
    "FLOOR",
    "KINDS",
    "MOST_REACH",
    "MOST_WIDE",
    "POP",
    "Leaf",
    "Standing",
    "stand",
]

CARD, POP = "card", "pop-up"
FLOOR, BACK = "near", "far"  # the leaves
PART = "stand-up part"
LEAST_TOP = 0.55  # of a silhouette's height, its lowest; from memory
STRIP = 0.34  # of a layer's width, the strip that holds it; from memory
ASIDE = 0.32  # of a layer's width, how far from its middle two strips stand; from memory
BRACE = 0.6  # of a layer's lowest height, how high its strip is; from memory
SHRINK = 0.82  # of a layer's height, that of the next one in front; from memory
NARROW = 0.9  # of the room of each of several, its width; from memory
OVERHANG = 6.0  # mm; from memory, a floating layer hides its walls
SHOULDER, LEAST_EDGE = 0.5, 4.0  # of a ridge, a V's outer edges; and mm; from memory
LEAST_TAB, NARROWEST = 4.0, 3.0  # mm; from memory, of a tab: how deep, and its narrow side
MOST_REACH, MOST_WIDE = 70.0, 96.0  # %; design rule, what the options take
BESIDE, LEAST_SHARE = 2.0, 12.0  # mm from an edge of the card; and %; design rule
STEEPER, SHARES = (45.0, 55.0, 65.0), (0.9, 0.8, 0.7, 0.6, 0.5, 0.4, 0.3, 0.2)  # setting
FINE = 41  # setting: corners of a silhouette


@dataclass(frozen=True)
class Leaf:
    """A card's leaf: how long it is along the fold, and how deep away from it; mm."""

    long: float
    deep: float


@dataclass
class Standing:
    """What stands at one opening: pieces where they are, the joints, and what comes first.

    ``onto`` names for each piece the panel that it is glued on first, ``hints`` how.
    """

    stood: list[Stood] = field(default_factory=list)
    joints: list[Joint] = field(default_factory=list)
    onto: dict[str, Where] = field(default_factory=dict)
    hints: dict[str, str] = field(default_factory=dict)

    def add(self, stood: Stood, hint: str, first: Where, *more: tuple[str, Where]) -> None:
        """A piece with its tabs: the panel under its first, and other tabs with theirs."""
        name = stood.piece.name
        self.stood.append(replace(stood, piece=replace(stood.piece, part=POP)))
        self.onto[name], self.hints[name] = first, hint
        for tab, on in more:
            title = f"{stood.piece.title} to the {TITLES.get(on[1], on[1])}"
            self.joints.append(Joint(Kind.GLUE, (name, tab), on, title, "inside", flush=True))


FOOT_FIRST = (
    "Glue on its foot only: the crease on the ticks, the foot towards the fold of the card."
)
SHUT_ON_IT = (
    "First its foot: the crease on the ticks, the foot towards the fold of the card. Then glue on "
    "its other tab, shut the card on it, press where the tab is, and open it again."
)
STRIP_ON = (
    "Its front tab in the middle of the layer's back, its upper crease {high} mm over that of the "
    "layer's foot. Then glue on the other tab, shut the card on it, press, and open it again."
)
STRIP_BETWEEN = (
    "Its front tab at the back of the layer, its upper crease {high} mm over that of the layer's "
    "foot, the other on the front of the layer behind: lay both layers down flat, press, "
    "and let them rise."
)
ON_HEADS = (
    "Glue on the three heads, as they lie folded inwards. Lay the layer on with its fold over that "
    "of the card, shut the card on it, press, and open it again."
)
TITLES = {FLOOR: "near leaf", BACK: "far leaf"}
Options = Mapping[str, OptionValue]


def _share(options: Options, key: str, of: float) -> float:
    return float(options[key]) / 100 * of


def _spread(count: int, leaf: Leaf, options: Options) -> list[tuple[float, float]]:
    """Middle and width in mm of so many side by side."""
    room = _share(options, "wide", leaf.long)
    each = room / count
    wide = each * (NARROW if count > 1 else 1.0)
    return [(-room / 2 + (i + 0.5) * each, wide) for i in range(count)]


def _steps(leaf: Leaf, board: Board, options: Options, open_: Opened) -> Standing:
    """Each a parallelogram: as deep as it stands from the fold, as high as on the far leaf."""
    out, count = Standing(), int(float(options["count"]))
    near, up = _share(options, "reach", leaf.deep), _share(options, "height", leaf.deep)
    tab = min(float(options["tabs"]), near, up)
    for number, (middle, wide) in enumerate(_spread(count, leaf, options), start=1):
        share = 1.0 - 0.25 * (number % 2 == 0)  # neighbours differ
        b = up * share
        links = (
            Link("foot", "foot", tab, open_.first, tab=True),
            Link("front", "front", b, open_.second),
            Link("top", "top", near, -open_.first),
            Link("tab", "tab", min(tab, b), -open_.second, tab=True),
        )
        start = (near - tab) * open_.first
        stood = chain(f"step-{number}", _named("step", number, count), board, open_, wide, middle,
                      start, links)  # fmt: skip
        out.add(stood, SHUT_ON_IT, (CARD, FLOOR), ("foot", (CARD, FLOOR)), ("tab", (CARD, BACK)))
    return out


def _stage(leaf: Leaf, board: Board, options: Options, open_: Opened) -> Standing:
    """Layers parallel to the far leaf, the highest behind; a strip holds each to what is behind."""
    out, count = Standing(), int(float(options["count"]))
    reach, up = _share(options, "reach", leaf.deep), _share(options, "height", leaf.deep)
    wide, each = _share(options, "wide", leaf.long), reach / count
    behind: Where = (CARD, BACK)
    for number in range(1, count + 1):
        near, high = each * number, up * SHRINK ** (number - 1)
        tab = min(float(options["tabs"]), 0.8 * each, BRACE * LEAST_TOP * high)
        name, title = f"layer-{number}", _named("layer", number, count)
        outline = _silhouette(str(options["edge"]), wide, high, number)
        links = (
            Link("foot", "foot", tab, open_.first, tab=True),
            Link("layer", title, high, open_.second, outline=outline),
        )
        start = (near - tab) * open_.first
        layer = chain(name, title, board, open_, wide, 0.0, start, links)
        out.add(layer, FOOT_FIRST, (CARD, FLOOR), ("foot", (CARD, FLOOR)))
        brace = BRACE * LEAST_TOP * high
        held = (
            Link("front-tab", "front tab", tab, open_.second, tab=True),
            Link("strip", "strip", each, -open_.first),
            Link("tab", "tab", tab, -open_.second, tab=True),
        )
        start = near * open_.first + (brace - tab) * open_.second
        # tabs on both sides of a layer keep out of each other's place: one in the middle, or two
        sides = (("", 0.0),) if number % 2 else (("-left", -ASIDE * wide), ("-right", ASIDE * wide))
        for word, middle in sides:
            own = f"{word[1:]} strip {number}".strip() if count > 1 else "strip"
            broad = (STRIP if number % 2 else STRIP / 2) * wide
            strip = chain(f"strip-{number}{word}", own, board, open_, broad, middle, start, held)
            hint = (STRIP_ON if number == 1 else STRIP_BETWEEN).format(high=number_text(brace))
            out.add(strip, hint, (name, "layer"), ("front-tab", (name, "layer")), ("tab", behind))
        behind = (name, "layer")
    return out


def _v(
    leaf: Leaf, board: Board, options: Options, open_: Opened, *, last: bool = False
) -> Standing:
    """Two walls that meet in a ridge over the fold; what is tried ``last`` names no other."""
    out = Standing()
    foot, wall = float(options["slant"]), float(options["lean"])
    long = _share(options, "reach", leaf.deep) / math.sin(math.radians(foot))
    high = _share(options, "height", leaf.deep)
    top = _shoulder(str(options["edge"]), wall, long, high)
    f = math.radians(foot)
    deep = ((long - TAPER - NARROWEST) * math.sin(f) - CLEAR) / math.cos(f)
    if deep < LEAST_TAB:  # the V is so small that nothing of a tab is left beside the fold
        least = (CLEAR + LEAST_TAB * math.cos(f)) / math.sin(f) + TAPER + NARROWEST
        reach = rounded_up(100 * least * math.sin(f) / leaf.deep)
        words = f"at {number_text(float(options['reach']))} % its feet are too short for a tab"
        ways = (option_way("reach", reach),) if reach <= MOST_REACH else ()
        raise FieldError("reach", words, f"Use {number_text(reach)} %.", ways)
    deep = min(float(options["tabs"]), deep)
    low, far = _extent(foot, wall, high, np.vstack([[_end(wall, long)], top]))
    far = max(far, (long - CLEAR - TAPER) * math.cos(f) + deep * math.sin(f))
    room = leaf.long - 2 * BESIDE
    if far - low > room:
        words = (
            f"it takes {number_text(rounded_up(far - low))} mm along the fold, which has "
            f"{number_text(rounded_down(room))}"
        )
        other = {} if last else _smaller_v(leaf, board, options, open_)
        if not other:
            raise FieldError("reach", words, "Choose another kind, or a larger card.")
        said = ", ".join(f"{LABELS[key]} {number_text(value)}" for key, value in other.items())
        way = tuple(change for key, value in other.items() for change in option_way(key, value))
        raise FieldError("reach", words, f"Use {said}.", (way,))
    at = -(low + far) / 2
    stood = v_fold("ridge", "ridge", board, open_, at, foot, wall, long, high, deep, top)
    out.add(
        stood,
        SHUT_ON_IT,
        (CARD, FLOOR),
        ("tab.right", (CARD, FLOOR)),
        ("tab.left", (CARD, BACK)),
    )
    return out


LABELS = {"reach": "from the fold %", "height": "high %", "slant": "foot to the fold °",
          "lean": "foot to the ridge °"}  # fmt: skip


def _smaller_v(leaf: Leaf, board: Board, options: Options, open_: Opened) -> dict[str, float]:
    """The largest V of a few smaller ones, or with steeper feet, that lies on the card."""
    now = {key: float(options[key]) for key in LABELS}
    for slant in (now["slant"], *(s for s in STEEPER if s > now["slant"])):
        for share in SHARES:
            tried = {
                key: max(LEAST_SHARE, math.floor(share * now[key])) for key in ("reach", "height")
            }
            tried |= {"slant": slant, "lean": max(now["lean"], slant)}
            changed = {key: value for key, value in tried.items() if value != now[key]}
            if not changed:
                continue
            try:
                _v(leaf, board, {**options, **tried}, open_, last=True)
            except FieldError:
                continue
            return changed
    return {}


def _end(wall: float, long: float) -> tuple[float, float]:
    """The end of the right foot, square to the ridge and along it, mm."""
    w = math.radians(wall)
    return long * math.sin(w), long * math.cos(w)


def _shoulder(edge: str, wall: float, long: float, high: float) -> Floats:
    """The upper edge of a V's right wall, from the end of its foot to the ridge; (n, 2), mm."""
    x, y = _end(wall, long)
    if edge == "plain" and high - y > LEAST_EDGE:
        return np.array([[x, high]])
    if edge == "hills" and SHOULDER * high - y > LEAST_EDGE:
        turn = np.linspace(math.pi / 2, 0.0, FINE // 2)[:-1]
        share = SHOULDER + (1 - SHOULDER) * np.cos(turn)
        return np.column_stack([x * np.sin(turn), high * share])
    return np.zeros((0, 2))


def _extent(foot: float, wall: float, high: float, edge: Floats) -> tuple[float, float]:
    """What a V takes along the fold when shut, from where its ridge begins, mm.

    Shut, the ridge lies at foot + wall degrees to the fold; ``edge`` is (n, 2), square to
    the ridge and along it.
    """
    both = math.radians(foot + wall)
    points = np.vstack([[0.0, 0.0], [0.0, high], edge])
    along = points[:, 1] * math.cos(both) + points[:, 0] * math.sin(both)
    return float(along.min()), float(along.max())


def _floating(leaf: Leaf, board: Board, options: Options, open_: Opened) -> Standing:
    """A layer parallel to both leaves, on a wall on either, and on one in the fold."""
    out = Standing()
    away, up = _share(options, "reach", leaf.deep), _share(options, "height", leaf.deep)
    wide = _share(options, "wide", leaf.long)
    tab = min(float(options["tabs"]), away / 3, up)
    far = away + OVERHANG
    m = open_.middle
    layer = chain(
        "floating", "floating layer", board, open_, wide, 0.0, up * m + far * open_.first,
        (
            Link("half.near", "near half", far, -open_.first),
            Link("half.far", "far half", far, open_.second),
        ),
    )  # fmt: skip
    inner = wide - 4 * OVERHANG / 3
    for name, title, way, on, half in (
        ("wall-1", "near wall", open_.first, FLOOR, "half.near"),
        ("wall-2", "far wall", open_.second, BACK, "half.far"),
    ):
        links = (
            Link("foot", "foot", tab, way, tab=True),
            Link("wall", "wall", up, m),
            Link("head", "head", tab, -way, tab=True),
        )
        stood = chain(name, title, board, open_, inner, 0.0, (away - tab) * way, links)
        out.add(stood, FOOT_FIRST, (CARD, on), ("foot", (CARD, on)), ("head", ("floating", half)))
    links = (
        Link("foot", "foot", tab, -open_.first, tab=True),
        Link("wall", "wall", up, m),
        Link("head", "head", tab, open_.first, tab=True),
    )
    stood = chain("wall-3", "middle wall", board, open_, inner, 0.0, tab * open_.first, links)
    out.add(
        stood, FOOT_FIRST, (CARD, FLOOR), ("foot", (CARD, FLOOR)),
        ("head", ("floating", "half.near")),
    )  # fmt: skip
    out.add(layer, ON_HEADS, ("wall-3", "head"))
    return out


def _silhouette(kind: str, wide: float, high: float, number: int) -> Floats:
    """A layer's outline from the middle of its foot, ccw; its highest is ``high``; (n, 2), mm."""
    x = np.linspace(1.0, -1.0, FINE)
    if kind == "hills":
        top = np.sin(2.6 * x + 1.9 * number) + 0.45 * np.sin(5.3 * x - 1.1 * number)
    elif kind == "peaks":
        x = np.linspace(1.0, -1.0, 9 + 2 * (number % 2))
        top = np.where(np.arange(len(x)) % 2 == 1, 1.0 - 0.25 * np.abs(x), 0.0)
    else:
        x, top = np.array([1.0, -1.0]), np.ones(2)
    spread = float(np.ptp(top)) or 1.0
    top = high * (LEAST_TOP + (1 - LEAST_TOP) * (top - top.max() + spread) / spread)
    edge = np.column_stack([wide / 2 * x, top])
    return np.vstack([[-wide / 2, 0.0], [wide / 2, 0.0], edge])


def _named(word: str, number: int, count: int) -> str:
    return word if count == 1 else f"{word} {number}"


KINDS: Mapping[str, Callable[[Leaf, Board, Options, Opened], Standing]] = {
    "step": _steps,
    "stage": _stage,
    "v-fold": _v,
    "floating": _floating,
}


def stand(leaf: Leaf, board: Board, options: Options, open_: Opened) -> Standing:
    """Everything that stands between the leaves at one opening."""
    return KINDS[str(options["kind"])](leaf, board, options, open_)
