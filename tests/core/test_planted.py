"""Sixteen true faults planted in ordinary jobs: each is found, and its sound twin is not accused.

Each is true by plain measuring, as its line says; the finding must name it above a note, and
where it offers a cure, the cure must end it.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import pytest

from jadeite.core.boards import board_by_key
from jadeite.core.contents import Ball, Block, Light
from jadeite.core.findings import Finding, Level
from jadeite.core.pipeline import arrange_contents, plan_sheets, work_up
from jadeite.core.project import Face, Hollow, Overlay, Shape, Span, Task, changed, with_change

STOUT = replace(board_by_key("craft-board"), key="stout", title="Stout card", thickness=2.0)
FOIL = {"tray": "glitter-card", "lid": "glitter-card"}


@dataclass(frozen=True)
class Planted:
    """A fault by its finding's code, the job that has it, and what of the job is put right."""

    code: str
    job: dict[str, Any]
    sound: dict[str, Any]


def _shape(key: str, **options: Any) -> Shape:
    return Shape(key=key, options={k.replace("_", "-"): v for k, v in options.items()})


def _block(length: float, width: float, height: float, mass: float = 0.0) -> tuple[Block, ...]:
    return (Block(name="meteorite", length=length, width=width, height=height, mass=mass),)


FAULTS = [
    # 60 mm in 50 mm
    Planted("contents-too-big", {"contents": _block(60, 40, 30),
                                 "brief": Hollow(size=(50, 40, 30))},
            {"brief": Hollow(size=(64, 44, 32))}),
    # a ball of 60 mm is 60 mm high
    Planted("contents-too-big", {"contents": (Ball(name="planet", diameter=60),),
                                 "brief": Hollow(size=(70, 70, 55))},
            {"brief": Hollow(size=(70, 70, 66))}),
    # 900 g on a floor of medium card: 0.75 mm and more in the middle (plate theory)
    Planted("floor-sags", {"contents": _block(90, 60, 35, 900)},
            {"contents": _block(90, 60, 35, 40)}),
    # copy paper of 0.1 mm holds no wall of 250 mm
    Planted("board-limp", {"brief": Hollow(size=(250, 200, 60)),
                           "boards": {"tray": "copy-paper"}},
            {"boards": {"tray": "extra-heavy-card"}}),
    # 3 kg on two slits of 14 mm in medium card
    Planted("handle-tears", {"contents": _block(90, 60, 35, 3000), "shape": _shape("chest")},
            {"contents": _block(90, 60, 35, 60)}),
    # 2 mm board to 38 mm across: under 25 thicknesses
    Planted("rolled-tight", {"contents": (Ball(name="moon", diameter=38),), "own_boards": (STOUT,),
                             "boards": {"base": "stout"},
                             "shape": _shape("round-box", floor="one", lid="none")},
            {"boards": {}}),
    # the white back of a glittered card on the outside
    Planted("back-shows", {"brief": Hollow(size=(90, 70, 40)), "boards": FOIL,
                           "shape": _shape("tray-with-lid", good_side="inside")},
            {"shape": _shape("tray-with-lid", good_side="outside")}),
    # 600 mm across on sheets of 305 mm
    Planted("piece-fits-no-sheet", {"brief": Hollow(size=(400, 300, 100))},
            {"brief": Hollow(size=(90, 60, 30))}),
    # petals as short as their bases are wide
    Planted("flower-thin", {"contents": (Light(name="path light", diameter=100),),
                            "shape": _shape("petal-lantern", spread=20.0)},
            {"shape": _shape("petal-lantern")}),
    # a rod of 5 mm for a board of 0.4 mm: under 25 thicknesses
    Planted("rod-tight", {"shape": _shape("layered-flower", rod=5.0), "brief": Span(width=120),
                          "boards": {"ring-1": "extra-heavy-card"}},
            {"shape": _shape("layered-flower", rod=12.0)}),
    # 1 mm of chipboard in 1.03 mm of air
    Planted("overlay-under-lid", {"brief": Hollow(size=(90, 60, 40)),
                                  "shape": _shape("tray-with-lid", lid_depth=12.0),
                                  "overlays": (Overlay(piece="tray", panel="front"),),
                                  "boards": {"overlay": "thin-chipboard"}},
            {"boards": {}}),
    # a step of 80 mm in a card of 105 mm
    Planted("peeps-out", {"brief": Face(size=(105, 148)),
                          "shape": _shape("pop-up-card", height=80.0)},
            {"shape": _shape("pop-up-card")}),
    # a rim of 4 mm in board of 0.6 mm
    Planted("wall-low", {"brief": Hollow(size=(60, 50, 30)), "boards": {"tray": "craft-board"},
                         "shape": _shape("tray-with-lid", lid_depth=4.0)},
            {"shape": _shape("tray-with-lid", lid_depth=15.0)}),
    # a strip's disc over a hole of 3 mm
    Planted("cutout-covered", {"brief": Span(width=120), "shape": _shape(
                "layered-flower", centre_piece="strip", middle="hole", hole=3.0)},
            {"shape": _shape("layered-flower", centre_piece="strip", middle="whole")}),
    # thin paper wound from a small square leaves 6 mm and more
    Planted("hollow-centre", {"brief": Span(width=30), "boards": {"strip": "translucent"},
                              "shape": _shape("rolled-flower", filling="none",
                                              **{"from": "square", "square": 108.0})},
            {"boards": {}}),
    # a square thing in a ring that was measured for something round
    Planted("measured-round", {"contents": _block(60, 60, 30),
                               "shape": _shape("n-sided-box", measured="round")},
            {"shape": _shape("n-sided-box", measured="block")}),
]  # fmt: skip


def _task(job: dict[str, Any]) -> Task:
    return changed(Task(), **job)


def _found(task: Task) -> list[Finding]:
    work = work_up(task, arrange_contents(task, quick=True) if task.contents else None)
    sheets = plan_sheets(task, work.design).findings if work.design is not None else ()
    return [f for f in (*work.findings, *sheets) if f.level > Level.NOTE]


@pytest.mark.parametrize("planted", FAULTS, ids=lambda p: p.code)
def test_a_planted_fault_is_found_and_its_twin_is_not_accused(planted: Planted) -> None:
    """And where the finding has a cure, that ends it."""
    task = _task(planted.job)
    mine = [f for f in _found(task) if f.code == planted.code]
    assert mine, {f.code for f in _found(task)}
    assert mine[0].message
    sound = _task(planted.job | planted.sound)
    assert planted.code not in {f.code for f in _found(sound)}
    if mine[0].cure is not None:
        for path, value in mine[0].cure.changes:
            task = with_change(task, path, value)
        assert planted.code not in {f.code for f in _found(task)}
