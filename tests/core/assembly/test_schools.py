"""How long and how much each adhesive would take: both schools of glue side by side."""

from __future__ import annotations

import pytest
from shapely.geometry import Polygon

from jadeite.core.assembly import ADHESIVES
from jadeite.core.nets.model import Kind
from jadeite.core.pipeline import work_up
from jadeite.core.project import Shape, Span, Task, changed

FLOWER = changed(Task(), brief=Span(width=120.0), shape=Shape(key="layered-flower"))


def test_every_adhesive_is_timed_as_if_it_were_chosen() -> None:
    """The plan with that adhesive says the same."""
    work = work_up(FLOWER, None)
    assert [one.adhesive for one in work.schools] == list(ADHESIVES)
    for one in work.schools:
        other = work_up(changed(FLOWER, adhesive=one.adhesive.key), None)
        assert other.assembly is not None
        assert (one.seconds, one.dry_at) == (other.assembly.seconds, other.assembly.dry_at)
        assert other.school == one
    hot, liquid = (
        next(one for one in work.schools if one.adhesive.key == key)
        for key in ("hot-glue", "liquid-craft-glue")
    )
    assert hot.dry_at < liquid.dry_at


def test_glue_is_taken_by_what_is_glued() -> None:
    """Of two panels the smaller, 100 g/m² of liquid glue (from memory); counted by hand here."""
    work = work_up(FLOWER, None)
    assert work.design is not None
    assert work.school is not None
    area = 0.0
    for joint in work.design.joints:
        if joint.kind is Kind.GLUE:
            area += min(
                Polygon(work.design.piece(piece).panel(panel).outline).area
                for piece, panel in (joint.tab, joint.target)
            )
    assert work.school.grams == pytest.approx(100.0 * area / 1e6)
    assert 0.05 < work.school.grams < 1.0
    assert work.school.takes() == "less than a gram"
    assert work.school.takes(40) == f"about {40 * work.school.grams:.0f} g"
    tape = work.schools[-1]
    assert tape.grams == 0.0
    assert tape.takes() == f"about {tape.tape:.0f} mm"
