"""The cutting plan: order, passes, settings, time."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jadeite.core.boards import board_by_key
from jadeite.core.choice import compare, with_board
from jadeite.core.cutting import PROFILES, cutting_plan, place_at, profile_by_key
from jadeite.core.cutting.plan import ORDER, TRAVEL
from jadeite.core.cutting.settings import setting_for
from jadeite.core.errors import FieldError
from jadeite.core.nets.outline import loops_of
from jadeite.core.pipeline import plan_sheets, work_up
from jadeite.core.project import Hollow, Shape, Stock, Task, Window, changed
from jadeite.core.sheets import lay_out
from tests.conftest import build_tray

PARTS = ("tray", "lid")
SHEET = Stock(name="12 × 12 in", width=304.8, height=304.8)


def plan_of(design, profile: str = "large", copies: int = 1, heavier: str = "second-pass"):  # type: ignore[no-untyped-def]
    """Layout and cutting plan on large sheets."""
    cutter = profile_by_key(profile)
    layout = lay_out(
        design.pieces,
        [SHEET],
        copies=copies,
        reach=cutter.reach,
        margin=cutter.margin,
        free_turns=False,
    )
    return cutting_plan(design.pieces, layout, cutter, heavier)


def test_paths_come_in_the_order_of_working() -> None:
    """Scores, inner cut-outs, outlines; small outlines before large."""
    plan = plan_of(build_tray((120, 80, 20), lid_walls="double", lid_depth=19), copies=2)
    for sheet in plan.sheets:
        steps = [ORDER.index(path.step) for path in sheet.paths]
        assert steps == sorted(steps)
        outlines = [
            float(np.prod(np.ptp(p.points, axis=0))) for p in sheet.paths if p.step == "outline"
        ]
        assert outlines == sorted(outlines)
    assert {p.step for s in plan.sheets for p in s.paths} == {"score", "inner", "outline"}


def test_every_line_is_cut_or_scored_once() -> None:
    """Lengths agree with the pieces' own lines."""
    design = build_tray()
    plan = plan_of(design, copies=2)
    paths = [p for s in plan.sheets for p in s.paths]
    cut = sum(p.length for p in paths if p.role == "cut")
    assert cut == pytest.approx(2 * sum(lp.length for pc in design.pieces for lp in loops_of(pc)))
    assert sum(p.role == "score" for p in paths) == 2 * sum(len(p.folds) for p in design.pieces)


def test_time_is_the_sum_of_its_parts() -> None:
    """Worked from the profile: path over speed, stops, lifts, changes, loading, ways between.

    From a stand to a stop a way takes longer by speed over acceleration (uniform acceleration,
    any textbook of mechanics); the ways between are long enough here, or short: 2 sqrt(s / a).
    """
    plan = plan_of(build_tray(board="extra-heavy-card"))
    profile = plan.profile
    (sheet,) = plan.sheets
    seconds, here = profile.loading, np.zeros(2)
    for path in sheet.paths:
        way = float(np.linalg.norm(path.points[0] - here))
        if way > TRAVEL**2 / 2000:
            seconds += way / TRAVEL + TRAVEL / 2000
        else:
            seconds += 2 * (way / 2000) ** 0.5
        seconds += profile.lift
        speed = {"score": 80.0, "cut": 60.0}[path.role]
        along = np.diff(path.points, axis=0)
        cosines = (along[1:] * along[:-1]).sum(axis=1)
        cosines /= np.linalg.norm(along[1:], axis=1) * np.linalg.norm(along[:-1], axis=1)
        stops = 1 + int((cosines < np.cos(np.radians(30))).sum())
        seconds += (path.length / speed + stops * speed / 2000) * path.passes
        here = path.points[-1] if path.passes % 2 else path.points[0]
    seconds += profile.tool_change  # from scoring tool to blade
    assert sheet.seconds == pytest.approx(seconds)
    assert plan.tool_changes == 1
    assert {p.passes for p in sheet.paths if p.role == "cut"} == {2}


def test_heavy_card_gets_its_second_pass_or_more_pressure() -> None:
    """Both answers are offered."""
    board, cutter = board_by_key("heavy-card"), profile_by_key("large")
    second, firmer = (setting_for(board, how, cutter) for how in ("second-pass", "pressure"))
    assert (second.words, second.passes) == ("Heavy card: usual pressure, 2 passes", 2)
    assert (firmer.words, firmer.passes) == ("Heavy card: firmer pressure, one pass", 1)
    assert second.short == "2 passes"
    assert firmer.short == "1 pass, firmer pressure"


def test_a_setting_is_changed_once_for_each_board() -> None:
    """Of two boards in several colours: the sheets of one follow one another."""
    pieces = [
        replace(piece, name=f"{piece.name}-{i}")
        for i in range(3)
        for piece in build_tray(board="heavy-card", lid_board="text").pieces
    ]
    colours = {piece.name: f"#00000{i // 2}" for i, piece in enumerate(pieces)}
    cutter = profile_by_key("large")
    layout = lay_out(
        pieces, [SHEET], copies=1, reach=cutter.reach, margin=0, free_turns=False, colours=colours
    )
    plan = cutting_plan(pieces, layout, cutter)
    assert len(plan.sheets) == 6
    assert len(plan.setting_changes) == 2


@pytest.mark.parametrize("heavier", ["second-pass", "pressure"])
@pytest.mark.parametrize("cutter", ["large", "hand"])
def test_boards_are_compared_by_the_passes_that_are_planned(heavier: str, cutter: str) -> None:
    """The comparison of boards and the plan of the sheets say the same of every board."""
    task = changed(
        Task(), brief=Hollow(size=(60.0, 45.0, 20.0)), heavier=heavier, cutter=cutter,
        stock=(Stock(name="large", width=600.0, height=600.0),),
    )  # fmt: skip
    told = 0
    for meaning in compare(task, None, (60.0, 45.0, 20.0), PARTS).meanings:
        figure = meaning.figure("passes")
        made = work_up(with_board(task, PARTS, meaning.board.key), None, cures=False)
        if figure is None or made.design is None:
            continue
        plan = plan_sheets(made.task, made.design).cutting
        planned = {p.passes for sheet in plan.sheets for p in sheet.paths if p.role == "cut"}
        assert planned in ({int(figure.value.value)}, set())
        told += bool(planned)
    assert told >= 5


def test_settings_change_only_between_boards() -> None:
    """The most common mistake is to forget the change, so it is listed."""
    plan = plan_of(build_tray(board="heavy-card", lid_board="text"), copies=2)
    changes = plan.setting_changes
    assert len(changes) == 2
    assert changes[1][0] > 0
    assert plan_of(build_tray()).setting_changes == ((0, "Medium card: usual pressure, one pass"),)


def test_play_back_knows_where_the_tool_is() -> None:
    """Before the first path, in the middle of one, and at the end."""
    plan = plan_of(build_tray())
    (sheet,) = plan.sheets
    assert place_at(sheet, 0.0) == (-1, 0.0)
    index, share = place_at(sheet, sheet.starts[2] + 1e-6)
    assert (index, round(share, 3)) == (2, 0.0)
    assert place_at(sheet, sheet.seconds) == (len(sheet.paths) - 1, 1.0)


def test_by_hand_is_slower_and_reaches_everything() -> None:
    """The other choice."""
    design = build_tray()
    assert plan_of(design, "hand").seconds > plan_of(design, "large").seconds
    assert profile_by_key("hand").by_hand


@pytest.mark.parametrize(
    ("key", "reach"),
    [("small", (108, 292)), ("middle", (215, 292)), ("large", (292, 292)), ("long", (292, 597))],
)  # common practice
def test_usable_areas(key: str, reach: tuple[float, float]) -> None:
    """Typical usable areas in mm."""
    assert profile_by_key(key).reach == reach
    assert len(PROFILES) == 5


def test_unknown_cutter_names_the_choices() -> None:
    """The cure lists the keys."""
    with pytest.raises(FieldError, match="small, middle, large"):
        profile_by_key("laser")


def test_tissue_is_cut_by_hand_whatever_the_cutter() -> None:
    """Its sheet takes the time of the knife, and its setting says where the outline is."""
    project = changed(
        Task(), brief=Hollow(size=(50.0, 50.0, 60.0)), shape=Shape(key="lantern"),
        boards={"lining": "tissue"},
        windows=(Window(piece="lantern", panel="wall-2", motif="stars", lined=True),),
    )  # fmt: skip
    work = work_up(project, None)
    assert work.design is not None
    plan = plan_sheets(project, work.design).cutting
    by_board = {sheet.board.key: sheet for sheet in plan.sheets}
    card, tissue = by_board["medium-card"], by_board["tissue"]
    assert card.profile == profile_by_key("large")
    assert tissue.profile == profile_by_key("hand")
    assert "by hand along its printed outline" in tissue.setting
    knife = profile_by_key("hand")
    (path,) = tissue.paths
    way = float(np.linalg.norm(path.points[0])) / TRAVEL
    want = knife.loading + way + knife.lift + path.length / knife.speed("cut")
    assert tissue.seconds == pytest.approx(want)
