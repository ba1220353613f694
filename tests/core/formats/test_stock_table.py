"""Sheets at hand as a table: nothing is lost, a wrong cell is named by its row and column."""

from __future__ import annotations

import csv
import io

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jadeite.core.errors import FileError
from jadeite.core.formats.stock_table import load_stock, save_stock, stock_csv, stock_from_csv
from jadeite.core.project import Stock

STOCK = st.builds(
    Stock,
    name=st.text(
        st.characters(codec="utf-8", exclude_categories=("C", "Z")), min_size=1, max_size=9
    ),
    width=st.floats(20, 900).map(lambda v: round(v, 2)),
    height=st.floats(20, 900).map(lambda v: round(v, 2)),
    count=st.none() | st.integers(0, 500),
    board=st.sampled_from(["", "medium-card", "text"]),
    colour=st.sampled_from(["", "#E8DDC5", "#00ff00"]),
    price=st.none() | st.floats(0, 99).map(lambda v: round(v, 2)),
    outline=st.sampled_from([(), ((0.0, 0.0), (20.0, 0.0), (12.5, 19.25))]),
)


@given(st.lists(STOCK, min_size=1, max_size=6))
def test_property_a_table_comes_back_as_it_was(stock) -> None:  # type: ignore[no-untyped-def]
    """Also names that begin like a formula; the standard library reads the same cells."""
    text = stock_csv(stock)
    assert stock_from_csv(text) == tuple(stock)
    rows = list(csv.DictReader(io.StringIO(text)))
    assert [float(row["width_mm"]) for row in rows] == [entry.width for entry in stock]
    assert [row["count"] for row in rows] == [
        "" if entry.count is None else str(entry.count) for entry in stock
    ]


def test_a_file_is_written_whole_and_read(tmp_path) -> None:  # type: ignore[no-untyped-def]
    """And read again."""
    stock = (Stock(name="12 × 12 in", width=304.8, height=304.8, count=3, board="text"),)
    save_stock(stock, tmp_path / "sheets.csv")
    assert load_stock(tmp_path / "sheets.csv") == stock


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "empty"),
        ("name,width_mm\r\n", "height_mm is missing"),
        ("name,width_mm,height_mm,weight\r\n", "no column “weight”"),
        ("name,width_mm,height_mm\r\n", "holds no sheets"),
        ("name,width_mm,height_mm\r\nA4,210\r\n", "2 cells for 3 columns"),
        ("name,width_mm,height_mm\r\nA4,-3,297\r\n", "row 2, width"),
        ("name,width_mm,height_mm,count\r\nA4,210,297,many\r\n", "row 2, count"),
        ("name,width_mm,height_mm,outline_mm\r\nA4,210,297,0 0; 9\r\n", "row 2, outline_mm"),
        ("name,width_mm,height_mm,outline_mm\r\nA4,210,297,0 0; 900 0; 0 9\r\n", "outline"),
    ],
)
def test_what_is_wrong_is_named(text: str, said: str) -> None:
    """By row and column."""
    with pytest.raises(FileError) as found:
        stock_from_csv(text)
    assert said in str(found.value)
