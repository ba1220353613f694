"""What every family owes, over all its options together, read from the FOLD text alone."""

from __future__ import annotations

import os
import re
from collections import Counter
from collections.abc import Sequence

import numpy as np
from hypothesis import strategies as st

from jadeite.core.blooms import KINDS, NUMBERS, OWN
from jadeite.core.blooms.own_outline import COUNT, words_of
from jadeite.core.boards import CATALOGUE, Board, board_by_key
from jadeite.core.errors import FieldError
from jadeite.core.findings import Level
from jadeite.core.folding import ball_body, box_body, cylinder_body
from jadeite.core.formats.fold_file import fold_text
from jadeite.core.nets import Design
from jadeite.core.photos import words_of_rings
from jadeite.core.project import Brief, Face, Hollow, Shape, Span, Task, changed
from jadeite.core.proof import prove
from jadeite.core.shapes import (
    Option,
    ShapeFamily,
    all_families,
    family_by_key,
    resolve_options,
)
from jadeite.core.shapes.extra import DIVIDER, LINING, OVERLAY, STIFFENER
from jadeite.core.shapes.mounted import bears_nothing
from jadeite.core.solid import Form
from tests import fold_reader
from tests.core.photos.drawn import blob

TALLY: Counter[tuple[str, bool]] = Counter()  # what was made in a test, and what refused
DRESSED = {DIVIDER, LINING, OVERLAY, STIFFENER}  # parts that any shape may get
# examples for families of a hundred facets: all of 200 in the soak; the others take 200 always
HEAVY = 200 if os.environ.get("HYPOTHESIS_PROFILE") == "soak" else 25
FOLDING = st.sampled_from([b.key for b in CATALOGUE if b.folds])  # the rest is cut and hinged


@st.composite
def outlines(draw) -> str:  # type: ignore[no-untyped-def]
    """Words for a petal or leaf: a usual one, one with some numbers of its own, or a drawn one.

    Drawn ones lead from the root to a widest place and on to the tip, with a bump or two.
    """
    kind = draw(st.sampled_from([*KINDS, *KINDS, OWN]))
    words = [kind]
    if kind == OWN:
        at, end = draw(st.floats(0.25, 0.8)), draw(st.integers(0, 40))
        bump, count = draw(st.floats(0.0, 0.25)), draw(st.integers(1, 4))
        along = (1 - np.cos(np.pi * np.arange(COUNT) / (COUNT - 1))) / 2
        wide = np.interp(along, [0.0, at, 1.0], [20.0, 100.0, float(end)])
        wide *= 1 - bump * np.sin(np.pi * count * along) ** 2
        wide = np.maximum(1.0, np.floor(100 * wide / wide.max()))  # narrower is refused
        words.append(f"widths={words_of(tuple(int(v) for v in wide))}")
    numbers = draw(st.dictionaries(st.sampled_from(sorted(NUMBERS)), st.floats(0.0, 1.0),
                                   max_size=3))  # fmt: skip
    for key, share in numbers.items():
        _, low, high = NUMBERS[key]
        words.append(f"{key}={low + (high - low) * share:.4g}")
    return " ".join(words)


def figure_words(seed: int, far: float) -> str:
    """Words of the outline of a figure, as it is found in a picture; some in two parts."""
    rings = (blob(seed, 0.2), blob(seed + 1, 0.02) + np.array([far, 0.3]))
    return words_of_rings(rings[: 1 + seed % 2])


def values_of(option: Option, most: float):  # type: ignore[no-untyped-def]
    """Everything that an option may be; lengths up to ``most`` mm."""
    if option.unit == "outlines":
        several = st.lists(outlines(), min_size=1, max_size=min(3, option.most))
        return several.map(" / ".join)
    if option.unit == "figure":
        found = st.builds(figure_words, st.integers(0, 10_000), st.floats(0.05, 0.3))
        return st.sampled_from([key for key, _ in option.choices]) | found
    if option.unit == "drawing":
        drawn = st.integers(0, 10_000).map(lambda seed: words_of_rings((blob(seed, 0.4),)))
        own = st.sampled_from(["text:STARS", "text:H", "text:Moon"]) | drawn
        return st.sampled_from([key for key, _ in option.choices]) | own
    if option.choices:
        return st.sampled_from([key for key, _ in option.choices])
    if option.unit == "places":
        return st.sampled_from(["", "1:10,20", "2:0,-31.5 3:-40,3", "5:44,44"])
    if option.unit == "counts":
        count = st.integers(int(option.low), int(option.high)).map(str)
        return st.lists(count, min_size=1, max_size=option.most).map(" ".join)
    if option.unit == "count":
        return st.integers(int(option.low), int(option.high))
    return st.floats(option.low, option.high if option.unit == "%" else min(option.high, most))


# of shapes of hundreds of pieces fewer are proved alike, and sooner; all of them in the soak
FEW = {
    "wreath": {
        "flowers": st.integers(1, 7),
        "leaves": st.integers(0, 6),
        "petals": st.sampled_from(["4", "5 4", "6 5 4", "5 4 4 3"]),
        "arcs": st.sampled_from([1, 2, 3, 6]),
    },
    "table-piece": {
        "flowers": st.integers(1, 4),
        "leaves": st.integers(0, 4),
        "petals": st.sampled_from(["4", "5 4", "6 5 4", "5 4 4 3"]),
    },
    "branch": {"flowers": st.integers(0, 6), "leaves": st.integers(0, 6)},
    # which want a large front, and have tests of their own
    "folded-card": {"pull": st.sampled_from(["none", "none", "none", "round"])},
}
LIGHTER = {
    "wreath": {"flowers": 6.0, "leaves": 4.0},
    "table-piece": {"large": 90.0, "small": 80.0, "leaves": 4.0},
    "branch": {"small": 80.0, "petals": "5 4", "leaves": 4.0},
}
# of a design of one board; and a label for the smallest of cards
BUILT = {
    "table-piece": LIGHTER["table-piece"],
    "place-cards": {"label-width": 56.0, "label-height": 40.0},
}


def options_of(family: ShapeFamily, most: float = 320.0):  # type: ignore[no-untyped-def]
    """All options of a family together."""
    ranges = {o.key: values_of(o, most) for o in family.options}
    few = {} if os.environ.get("HYPOTHESIS_PROFILE") == "soak" else FEW.get(family.key, {})
    return st.fixed_dictionaries(ranges | few)


def sizes(low: float, high: float):  # type: ignore[no-untyped-def]
    """Inside lengths in mm."""
    return st.tuples(*(st.floats(low, high) for _ in range(3)))


def boards_for(family: ShapeFamily, board: str) -> dict[str, Board]:
    """One board for every part, but for those that usually have another."""
    free = family.parts_for_one_board
    return {
        part: board_by_key(board if part in free else family.usual.get(part, board))
        for part, _ in family.parts
    }


WIDE = {"table-piece": 250.0, "branch": 240.0}  # mm, at which every one of its choices has room
# shapes that hold nothing thick, and of those the ones that are asked a closed size
FLAT = tuple(f.key for f in all_families() if f.purpose == "write")
BARE = tuple(f.key for f in all_families() if f.takes is bears_nothing)  # bear nothing at all
FACED = tuple(f.key for f in all_families() if f.answers[0] == "face")
FREE = tuple(f.key for f in all_families() if f.answers[0] == "span")  # they hold nothing at all
BY_WAYS = (
    *FREE,
    "pop-up-card",
    "wobble-card",
    "stiffened-holder",
)  # what ends a refusal of theirs may be several options


def fit(family: ShapeFamily, inside: Sequence[float]) -> tuple[float, float, float]:
    """A size of about these lengths that a shape can be."""
    x, y, z = inside
    if family.key in FREE:
        usual = family.starts[0]
        return min(max(x * usual / 70, usual), 0.55 * family.largest), 0.0, 0.0
    if family.key not in FLAT:
        return x, y, z
    flat = family.answers[0] == "face"
    return max(x, 70.0), max(y, 70.0), 0.0 if flat else min(z, 12.0, family.most[2])


def brief_for(family: ShapeFamily, inside: Sequence[float]) -> Brief:
    """The same as what is asked of a made thing."""
    x, y, z = fit(family, inside)
    if family.key in FREE:
        return Span(width=x)
    return Face(size=(x, y)) if family.answers[0] == "face" else Hollow(size=(x, y, z))


def span_task(key: str, width: float, height: float | None = None, **options: object) -> Task:
    """One of a shape as wide as asked, in mm; option names with underscores for hyphens."""
    chosen = {name.replace("_", "-"): value for name, value in options.items()}
    shape = Shape(key=key, options=chosen)
    return changed(Task(), brief=Span(width=width, height=height), shape=shape)


def build(family: ShapeFamily, inside, board: str = "medium-card", **chosen) -> Design:  # type: ignore[no-untyped-def]
    """A design of one board; option names with underscores for hyphens."""
    options = {key.replace("_", "-"): value for key, value in chosen.items()}
    options = BUILT.get(family.key, {}) | options
    boards = boards_for(family, board)
    size = fit(family, inside)
    if family.key in FREE:  # as wide as asked
        least = WIDE.get(family.key, 1.25 * family.smallest)
        size = (min(max(inside[0], least), 0.55 * family.largest), 0.0, 0.0)
    return family.build(size, boards, resolve_options(family, options))


def text_of(design: Design) -> str:
    """The FOLD text, with what fills the hollow as its content."""
    bodies = []
    for hollow in design.cells or ((design.hollow,) if design.hollow else ()):
        centre = np.array(hollow.centre)
        if hollow.form is Form.BALL:
            bodies.append(ball_body("hollow", hollow.size[0], centre))
        elif hollow.form is Form.CYLINDER:
            bodies.append(cylinder_body("hollow", hollow.size[0], hollow.size[2], centre, 2))
        else:
            bodies.append(box_body("hollow", hollow.size, centre))
    return fold_text(design, tuple(bodies))


def faults(design: Design) -> list[str]:
    """Everything that is wrong with a design, from its FOLD text and from our own proof."""
    text = text_of(design)
    model = fold_reader.read(text)
    out = fold_reader.structure_faults(model)
    out += fold_reader.open_joints(model)
    leaning = {f"{p.name}/{q}" for p in design.pieces for q in p.leaning}
    out += [
        f"{a} passes through {b}"
        for a, b in fold_reader.penetrations(model)
        if not {a, b} <= leaning  # petals give way, and how far is judged by their shape
    ]
    if fold_reader.stretch(model) > 1e-6:
        out.append("a panel is stretched")
    if fold_reader.fold_angle_fault(model) > 1e-4:
        out.append("a fold angle is not that of the folded form")
    for content in model.contents:
        if fold_reader.in_the_way(model, content):
            out.append("a ply reaches into the hollow")
    out += [f.message for f in prove(design)[1] if f.level is Level.BLOCKED]
    parts = {part for part, _ in family_by_key(design.family).parts} | DRESSED
    out += [f"{p.name} is of no part" for p in design.pieces if p.part not in parts]
    return out


AXES = {"length": 0, "width": 1, "depth": 1, "height": 2, "thickness": 2}
FACE_AXES = {"face width": 0, "face height": 1}


def cured(family: ShapeFamily, inside, boards, chosen, error: FieldError) -> bool:  # type: ignore[no-untyped-def]
    """Whether the value that a refusal names ends it."""
    if "larger inside" in error.cure:
        inside = tuple(min(6 * v, family.largest) for v in inside)
    if family.key in BY_WAYS and error.ways:
        for path, value in error.ways[0]:
            if path.startswith("brief."):
                inside = list(inside)
                inside[("brief.width", "brief.height").index(path)] = float(value or 0.0)
            else:
                chosen = {**chosen, path.removeprefix("shape.options."): value}
    elif family.key in BY_WAYS and not error.ways:
        return "larger card" in error.cure  # nothing else would do
    number = re.match(r"Use ([0-9.]*[0-9])", error.cure)
    words, axes = error.field.removeprefix("inside "), AXES | FACE_AXES
    if family.key in BY_WAYS:
        pass  # its ways say all
    elif number and words in axes:
        inside = list(inside)
        inside[axes[words]] = float(number[1])
    elif number:
        chosen = {**chosen, error.field: float(number[1])}
    elif error.ways and all(path.startswith("shape.options.") for path, _ in error.ways[0]):
        for path, value in error.ways[0]:
            chosen = {**chosen, path.removeprefix("shape.options."): value}
    try:
        family.build(tuple(inside), boards, resolve_options(family, chosen))
    except FieldError as again:
        return again.field != error.field  # another length may be too small as well
    return True


def closes_or_says_why(family: ShapeFamily, inside, board: str, chosen) -> bool:  # type: ignore[no-untyped-def]
    """Whether it was built; then it closes. A refusal names a value, and that value works."""
    boards = boards_for(family, board)
    options = resolve_options(family, chosen)
    design = None
    try:
        design = family.build(inside, boards, options)
    except FieldError as error:
        refused = error
        assert cured(family, inside, boards, chosen, refused), refused
    assert design is None or faults(design) == []
    TALLY[family.key, design is not None] += 1
    return design is not None
