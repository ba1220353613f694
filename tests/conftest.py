"""What every test needs."""

from __future__ import annotations

import os

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import pytest
from hypothesis import HealthCheck, Phase, settings

from jadeite.core.boards import board_by_key
from jadeite.core.contents import Block, Cylinder, FlatPack
from jadeite.core.nets import Design
from jadeite.core.project import Task, changed
from jadeite.core.shapes import family_by_key, resolve_options

COMMON = {"deadline": None, "suppress_health_check": [HealthCheck.too_slow]}
settings.register_profile("ci", max_examples=25, derandomize=True, **COMMON)
FIND = (Phase.explicit, Phase.reuse, Phase.generate)  # making it smaller may take an hour
settings.register_profile("soak", max_examples=400, phases=FIND, **COMMON)  # many times as many
PROFILE = os.environ.get("HYPOTHESIS_PROFILE", "ci")
settings.load_profile(PROFILE)
MOST = 10  # examples of any property in `make test`; `make soak` takes as many as each asks for


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Properties ask for as many examples as they deserve; the short run takes fewer."""
    if PROFILE != "ci":
        return
    for item in items:
        test = getattr(item, "obj", None)
        asked = getattr(test, "_hypothesis_internal_use_settings", None)
        if asked is not None and asked.max_examples > MOST:
            holder = getattr(test, "__func__", test)
            holder._hypothesis_internal_use_settings = settings(asked, max_examples=MOST)


def pytest_runtest_logreport(report: pytest.TestReport) -> None:
    """A long search says at once what it found: the rest may take an hour."""
    if report.failed and os.environ.get("HYPOTHESIS_PROFILE") == "soak":
        print(f"\n{report.nodeid}\n{report.longreprtext}", flush=True)


def build_tray(
    inside: tuple[float, float, float] = (96.0, 64.0, 41.0),
    board: str = "medium-card",
    lid_board: str | None = None,
    floor_ply: str | None = None,
    **options: float | str,
) -> Design:
    """A tray with lid; option names with underscores for hyphens."""
    family = family_by_key("tray-with-lid")
    chosen = {key.replace("_", "-"): value for key, value in options.items()}
    keys = {"tray": board, "lid": lid_board or board, "floor-ply": floor_ply or board}
    boards = {part: board_by_key(key) for part, key in keys.items()}
    return family.build(inside, boards, resolve_options(family, chosen))


EYEPIECE = Cylinder(name="eyepiece", count=2, mass=60, diameter=31, height=34, turn="upright")
FILTER_CASE = Block(name="filter case", mass=28, length=48, width=34, height=14, turn="upright")
CLOTH = FlatPack(
    name="cloth", mass=6, goes_in="soft", width=90, height=60, thickness=4, turn="lying"
)


@pytest.fixture
def eyepiece_box() -> Task:
    """The box of the demo: two eyepieces, a filter case, a cloth."""
    return changed(Task(), contents=(EYEPIECE, FILTER_CASE, CLOTH))
