"""Figures that are alike are told once, and none is lost by it."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from jadeite.core.reckoning import alike, reckon


def test_like_windows_are_one_line() -> None:
    rule = "along each side of the wall {} as wide as what lies behind it"
    sizes = {f"window-{k}": reckon(f"Window {k}, frame", 10.0, rule.format(k)) for k in (1, 2, 3)}
    sizes["window-3"] = reckon("Window 3, frame", 12.0, rule.format(3))
    told = list(alike(sizes).values())
    assert [own.name for own in told] == ["Windows 1 and 2, frame", "Window 3, frame"]
    assert told[0].rule == "along each side of its wall as wide as what lies behind it"
    assert told[1].rule == rule.format(3)


FIGURES = st.lists(st.tuples(st.sampled_from(["Window", "Lining"]), st.integers(0, 30)), max_size=9)


@given(FIGURES)
def test_no_figure_is_lost(figures: list[tuple[str, int]]) -> None:
    """Every number is told, with a figure no farther off than is shown."""
    sizes = {
        f"{k}": reckon(f"{stem} {k}, open", value / 20, "")
        for k, (stem, value) in enumerate(figures)
    }
    told = alike(sizes)
    assert set(told) <= set(sizes)
    for key, own in sizes.items():
        stem, _, _ = own.name.partition(" ")
        near = [
            other
            for first, other in told.items()
            if other.name.startswith(stem)
            and f"{other.value:.1f}" == f"{own.value:.1f}"
            and int(first) <= int(key)
        ]
        assert near
    assert all(own.unit == sizes[key].unit for key, own in told.items())


def test_sizes_without_numbers_stay_as_they_are() -> None:
    sizes = {key: reckon(name, 10.0, "") for key, name in (("a", "Lid"), ("b", "Lid"))}
    assert alike(sizes) == sizes
