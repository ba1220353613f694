"""The rolled flower, proved from its exported FOLD geometry."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jadeite.core.boards import board_by_key
from jadeite.core.findings import Level
from jadeite.core.nets.checks import overlapping_panels
from jadeite.core.nets.outline import loops_of, piece_polygon
from jadeite.core.pipeline import plan_sheets, work_up
from jadeite.core.pipeline.cures import cured
from jadeite.core.project import Shape, Span, Task, changed
from jadeite.core.shapes import family_by_key
from tests import fold_reader
from tests.core.shapes.closing import HEAVY, closes_or_says_why, faults, text_of, values_of

FAMILY = family_by_key("rolled-flower")
# all options; what is cut deeper, wound on a thicker tool or springs back more is mostly refused
CHOSEN = st.fixed_dictionaries(
    {o.key: values_of(o, 300.0) for o in FAMILY.options}
    | {
        "tool": st.floats(1.0, 5.0),
        "relax": st.floats(100.0, 200.0),
        "square": st.floats(90.0, 300.0),
        "filling": st.sampled_from(["none", "pearl", "spiral"]),
    }
)
THIN = st.sampled_from(["translucent", "text", "light-card", "medium-card"])


def task(
    width: float = 30.0, height: float | None = None, board: str = "", **options: object
) -> Task:
    """A flower with options."""
    return changed(
        Task(),
        brief=Span(width=width, height=height),
        shape=Shape(key=FAMILY.key, options=options),
        boards={"strip": board} if board else {},
    )


@settings(max_examples=3 * HEAVY // 4)
@given(
    width=st.floats(20.0, 70.0),
    high=st.one_of(st.just(0.0), st.floats(5.0, 20.0)),
    board=THIN,
    chosen=CHOSEN,
)
def test_property_every_rolled_flower_is_made_or_says_why(width, high, board, chosen) -> None:  # type: ignore[no-untyped-def]
    """Over all options; its flat net is one ring without overlaps, and lies in its square."""
    if closes_or_says_why(FAMILY, (width, high, 0.0), board, chosen):
        boards = dict.fromkeys(("strip", "second"), board_by_key(board))
        made = FAMILY.build((width, high, 0.0), boards, chosen)
        piece = made.pieces[0]
        assert len(made.pieces) <= (2 if chosen["filling"] == "spiral" else 1)
        assert not any(overlapping_panels(p) for p in made.pieces)
        assert len(loops_of(piece)) == 1
        assert piece_polygon(piece).is_valid
        points = np.concatenate([panel.outline for panel in piece.panels])
        assert np.ptp(points, axis=0).max() <= made.sizes["square"].value * 1.01 + 0.5
        if chosen["from"] == "square":
            assert made.sizes["square"].value <= chosen["square"] + 0.01


@pytest.mark.parametrize(("width", "height"), [(30.0, None), (60.0, 22.0), (24.0, 8.0)])
def test_it_stands_on_its_foot_and_leans_out_to_its_width(
    width: float, height: float | None
) -> None:
    """From the FOLD text: its foot in one plane over the disc, its petals as wide as said."""
    work = work_up(task(width, height), None)
    assert work.design is not None
    model = fold_reader.read(text_of(work.design))
    strip = [f for (_, panel), f in model.faces.items() if panel.startswith("strip")]
    low = [face.points[:, 2].min() for face in strip]
    assert np.abs(low).max() < 0.6  # the foot's own bow leaves the plane by as little
    points = np.concatenate([face.points for face in strip])
    disc = model.faces["strip", "disc"].points
    assert np.ptp(disc[:, :2], axis=0).max() > work.sizes["foot-width"].value
    turns = np.radians(np.arange(0.0, 180.0, 3.0))
    wide = max(np.ptp(points[:, 0] * np.cos(t) + points[:, 1] * np.sin(t)) for t in turns)
    assert wide == pytest.approx(work.sizes["finished-width"].value, rel=0.05)
    assert work.sizes["finished-width"].value == pytest.approx(width, rel=1e-6)
    wanted = work.sizes["finished-height"].value
    assert points[:, 2].max() == pytest.approx(wanted, rel=0.03)
    if height is not None:
        assert wanted == pytest.approx(height)
    # it is wound about the disc's axis, from its core to its last layer
    middle = (disc[:, :2].max(axis=0) + disc[:, :2].min(axis=0)) / 2
    feet = np.array([face.points[np.argmin(face.points[:, 2]), :2] for face in strip])
    for begin in range(0, len(feet) - 16, 40):
        turn = feet[begin : begin + 16]
        assert (turn.max(axis=0) + turn.min(axis=0)) / 2 == pytest.approx(middle, abs=1.2)


def test_length_turns_and_foot_agree_with_the_formula() -> None:
    """sqrt(d0² + 4 t L / π), t the layer: the numbers that the maker reads."""
    sizes = work_up(task(), None).sizes
    board = board_by_key("light-card").thickness
    layer = board * 1.4
    foot = math.sqrt(2.5**2 + 4 * layer * sizes["strip-length"].value / math.pi)
    assert sizes["foot-width"].value == pytest.approx(foot, rel=1e-6)
    assert sizes["turns"].value == pytest.approx((foot - 2.5) / 2 / layer, rel=1e-6)


def test_thin_paper_leaves_a_hollow_and_card_does_not() -> None:
    """From one square of a small cutter, 108 mm: common practice."""
    hollow = {
        board: work_up(
            task(30.0, None, board, filling="none", **{"from": "square", "square": 108.0}), None
        )
        for board in ("medium-card", "light-card", "translucent")
    }
    values = [work.sizes["hollow-centre"].value for work in hollow.values()]
    assert values == sorted(values)
    assert values[-1] > 6.0
    codes = {f.code for f in hollow["translucent"].findings if f.level is Level.LOOK}
    assert "hollow-centre" in codes


def test_what_is_offered_closes_the_middle() -> None:
    """A second spiral of such a square where that is enough; a larger square, or a pearl."""
    square = {"from": "square", "square": 108.0, "filling": "none"}
    offered = set()
    for width, board in ((38.0, "light-card"), (30.0, "translucent"), (34.0, "translucent")):
        asked = task(width, None, board, **square)
        (finding,) = [f for f in work_up(asked, None).findings if f.code == "hollow-centre"]
        assert finding.cure is not None
        offered.add(finding.cure.label)
        again = work_up(cured(asked, finding.cure), None)
        assert again.design is not None
        assert "hollow-centre" not in {f.code for f in again.findings}
    assert "Wind a second spiral into it" in offered
    assert len(offered) > 1


def test_a_second_spiral_stands_in_the_hollow_of_the_first() -> None:
    """From the FOLD text: it stands clear of the first, and its layers fill what was open.

    Its foot is sqrt(d0² + 4 t L / π) across, d0 the tool's width and t a layer.
    """
    asked = task(30.0, None, "translucent", **{"from": "square", "square": 108.0})
    work = work_up(asked, None)  # nobody chose that it stays open
    assert work.design is not None
    assert work.design.settled == {"filling": "spiral"}
    hollow, length = (work.sizes[key].value for key in ("hollow-centre", "second-length"))
    layer = board_by_key("translucent").thickness * 1.4
    foot = math.sqrt(2.5**2 + 4 * layer * length / math.pi)
    assert hollow - 1.0 < foot < hollow
    assert work.sizes["stays-open"].value == 0.0
    assert work.design.seams == 3  # both feet, and the second on the first one's disc
    model = fold_reader.read(text_of(work.design))
    disc = shapely.Polygon(model.faces["second", "disc"].points[:, :2])
    axis = np.array(shapely.minimum_bounding_circle(disc).centroid.coords[0])
    feet = [f.points for (piece, panel), f in model.faces.items()
            if piece == "second" and panel != "disc"]  # fmt: skip
    low = np.concatenate([p[np.abs(p[:, 2] - p[:, 2].min()) < 0.01] for p in feet])
    assert np.hypot(*(low[:, :2] - axis).T).max() <= hollow / 2 + 0.05
    assert faults(work.design) == []


def test_a_middle_that_closes_by_itself_takes_no_second_spiral() -> None:
    """It is said, and its cure ends that."""
    asked = task(30.0, filling="spiral")
    work = work_up(asked, None)
    assert work.design is not None
    assert len(work.design.pieces) == 1
    (finding,) = [f for f in work.findings if f.code == "second-needless"]
    assert finding.cure is not None
    again = work_up(cured(asked, finding.cure), None)
    assert "second-needless" not in {f.code for f in again.findings}


@pytest.mark.parametrize(("board", "on_top"), [("translucent", False), ("medium-card", True)])
def test_a_pearl_is_as_wide_as_the_hollow_or_lies_on_top(board: str, on_top: bool) -> None:
    square = {"from": "square", "square": 108.0, "filling": "pearl"}
    work = work_up(task(30.0, None, board, **square), None)
    assert work.design is not None
    (pearl,) = work.design.bought
    hollow, high = work.sizes["hollow-centre"].value, work.sizes["finished-height"].value
    assert pearl.centre is not None
    if on_top:
        assert pearl.across == 3.0
        assert high == pytest.approx(pearl.centre[2] + 1.5)
    else:
        assert hollow - 0.5 < pearl.across <= hollow
    assert "hollow-centre" not in {f.code for f in work.findings}


@pytest.mark.parametrize("width", [20.0, 30.0, 38.0, 46.0])
def test_the_usual_rolled_flower_needs_no_look(width: float) -> None:
    """At the defaults, and laid on the sheet at hand."""
    work = work_up(task(width), None)
    assert work.design is not None
    assert [f.message for f in work.findings if f.level > Level.NOTE] == []
    assert plan_sheets(work.task, work.design).layout.unplaced == ()


def test_its_steps_are_those_of_the_hands() -> None:
    """Peeled, wound, let go, closed, which takes glue; nothing else."""
    work = work_up(task(), None)
    plan = work.assembly
    assert plan is not None
    assert work.design is not None
    assert work.design.seams == 1
    titles = [step.title for step in plan.steps]
    assert titles[-3:] == [
        "Wind the strip",
        "Let it find its size",
        "Close its foot with the disc",
    ]
    assert titles[0].startswith("Peel")
    assert "outer end into the slot" in plan.steps[-3].detail


@pytest.mark.parametrize(
    ("width", "height", "board", "chosen", "what"),
    [
        (500.0, None, "", {"tool": 5.0}, "more than 60 times"),
        (5.0, None, "", {"tool": 5.0}, "Use 16"),
        (20.0, 30.0, "", {"tool": 5.0}, "too high"),
        (
            20.0,
            19.6,
            "translucent",
            {"tool": 3.5, "relax": 197.4, "from": "square", "square": 262.9},
            "too high",
        ),
    ],
)
def test_what_cannot_be_names_what_can(
    width: float, height: float | None, board: str, chosen: dict[str, object], what: str
) -> None:
    """The cure that is offered works."""
    asked = task(width, height, board, **chosen)
    work = work_up(asked, None)
    (finding,) = [f for f in work.findings if f.level is Level.BLOCKED]
    assert what in finding.message
    assert finding.cure is not None
    again = work_up(cured(asked, finding.cure), None)
    assert again.design is not None, [f.message for f in again.findings]
    assert not again.blocked
