"""How pieces come together: one graph, and each is glued where it lands, when it lands."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress
from itertools import islice

import pytest

from jadeite.core.assembly import lift_of
from jadeite.core.errors import FieldError
from jadeite.core.folding import JointReport, joint_reports
from jadeite.core.nets import Design, Piece
from jadeite.core.nets.arrivals import Arrival, Arrivals, How, When
from jadeite.core.nets.halves import HALVES
from jadeite.core.nets.split import split_along, splits_of
from jadeite.core.shapes import all_families, family_by_key
from tests.core.shapes.closing import FLAT, build, fit
from tests.depth import deep
from tests.standing import jobs, made

LOOKED_AT = deep(3, 8)  # random jobs of each family


def _designs(family: str) -> list[Design]:
    """A plain design, and those of random jobs with windows, linings, overlays and dividers."""
    made_of = (made(job) for job in islice(jobs(family), 3 * LOOKED_AT))
    plain = build(family_by_key(family), fit(family_by_key(family), (100.0, 100.0, 60.0)))
    return [plain, *islice((d for d in made_of if d is not None), LOOKED_AT)]


def _late(design: Design) -> set[tuple[str, str]]:
    """Panels that are folded only when all is joined or filled."""
    return {where for when in (When.JOINED, When.FILLED) for where in design.arrivals.folds(when)}


def _sound(design: Design) -> int:
    """Every arrival names what there is, and lands where its joints close; how many joints."""
    names = {piece.name for piece in design.pieces}
    lift, seen = lift_of(design), 0
    reports: dict[float, tuple[JointReport, ...]] = {}
    closed = {(r.joint.tab, r.joint.target) for r in joint_reports(design) if r.closed}
    late = _late(design)
    for arrival in design.arrivals:
        assert arrival.piece in names
        assert arrival.onto is None or design.has(arrival.onto)
        if arrival.panel:
            assert design.has((arrival.piece, arrival.panel))
            continue
        turn = design.arrivals.turn(arrival.piece)
        for other in arrival.after:
            if design.arrivals.comes(other, arrival.when):
                assert design.arrivals.turn(other) < turn
        if arrival.when is When.LAST:
            continue
        at = lift.came(arrival.when, turn)
        there = lift.shown({arrival.piece}, (), at)
        if at not in reports:  # many come at once
            reports[at] = joint_reports(design, lift.pose(at).matrices)
        for report in reports[at]:
            ends = (report.joint.tab, report.joint.target)
            glued = report.joint.kind == "glue" and arrival.piece in {p for p, _ in ends}
            if glued and {p for p, _ in ends} <= there and ends in closed and not late & set(ends):
                assert report.closed, (design.family, arrival, report.joint, report.distance)
                seen += 1
    come = {a.piece for a in design.arrivals if not a.panel}
    first = names - come
    assert len(first) == 1, f"{design.family}: {first} all lie there first"
    return seen


@pytest.mark.parametrize("family", [f.key for f in all_families()])
def test_each_piece_closes_with_what_carries_it_when_it_comes(family: str) -> None:
    """In the pose at the end of its stretch of the lift, not only when all is closed."""
    designs = _designs(family)
    assert family in FLAT or len(designs) > LOOKED_AT
    seen = sum(_sound(design) for design in designs)
    assert bool(seen) == any(
        j.kind == "glue" and j.tab[0] != j.target[0] and not _late(d) & {j.tab, j.target}
        for d in designs
        for j in d.joints
    )


def _cut_in_two(design: Design) -> Iterator[tuple[Piece, Design]]:
    """Every piece that can be cut at a fold, and the design after that."""
    for piece in design.pieces:
        for split in splits_of(piece):
            if split.child == HALVES:
                continue
            with suppress(FieldError):
                yield piece, split_along(design, piece.name, split.child)


@pytest.mark.parametrize("family", ["tray-with-lid", "wrap-box", "lantern", "chest", "carton"])
def test_what_is_cut_off_comes_before_what_comes_onto_the_whole(family: str) -> None:
    """A handle is glued on walls that stand already as one; so twice, and still sound."""
    design, cuts = build(family_by_key(family), (160.0, 120.0, 70.0)), 0
    for _ in range(2):
        known = {p.name for p in design.pieces}
        piece, design = next(_cut_in_two(design))
        (part,) = {p.name for p in design.pieces} - known
        for arrival in design.arrivals:
            on = arrival.onto and arrival.onto[0]
            if arrival.when is When.FOLDED and part != arrival.piece and piece.name in (
                on, arrival.piece,
            ):  # fmt: skip
                turns = design.arrivals.turn(part), design.arrivals.turn(arrival.piece)
                assert turns[0] < turns[1]
                cuts += 1
        assert _sound(design)
    assert cuts


def test_what_cannot_be_is_refused() -> None:
    """A circle, and a piece that comes twice."""
    ring = Arrivals(
        Arrival(a, When.FOLDED, (b, "x"), after=(b,)) for a, b in (("one", "two"), ("two", "one"))
    )
    with pytest.raises(ValueError, match="cycle"):
        ring.turn("one")
    with pytest.raises(ValueError, match="cycle"):
        _ = ring.carried_first
    with pytest.raises(ValueError, match="twice"):
        Arrivals([Arrival("one", When.FLAT), Arrival("one", When.LAST)])


def test_what_lies_on_a_lid_goes_with_it() -> None:
    """By whatever it is carried, one over the other; what is put in stays."""
    arrivals = Arrivals(
        [
            Arrival("lid", When.LAST, how=How.PUT),
            Arrival("top", When.FOLDED, ("lid", "rim")),
            Arrival("label", When.FLAT, ("top", "top")),
            Arrival("floor", When.STANDING, ("tray", "floor")),
        ]
    )
    assert arrivals.lids == {"lid", "top", "label"}
    assert arrivals.lying_on(("top", "top")) == ("label",)
