"""Colours of paper and stone, light and dark."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jadeite.core.colours import BOARD_COLOURS, mix, shade

__all__ = ["BOARD_COLOURS", "DARK", "LIGHT", "Palette", "mix", "night_of", "shade"]


@dataclass(frozen=True, slots=True)
class Palette:
    """Every colour of the interface, as #rrggbb; ``*_text`` reads on the ground."""

    ground: str
    sheet: str
    table: str
    ink: str
    quiet: str
    line: str
    jade: str
    jade_text: str
    jade_wash: str
    amber: str
    amber_text: str
    amber_wash: str
    brick: str
    brick_text: str
    brick_wash: str
    river: str
    river_text: str
    river_wash: str
    sand: str
    on_jade: str
    dark: bool = False


LIGHT = Palette(
    ground="#F4F1EA",
    sheet="#FFFDF8",
    table="#EDE8DC",
    ink="#20302B",
    quiet="#5F6F68",
    line="#D9D4C7",
    jade="#2E7D66",
    jade_text="#2A7560",
    jade_wash="#E7F0EB",
    amber="#B7791F",
    amber_text="#8F5E14",
    amber_wash="#FBF3E2",
    brick="#B0452F",
    brick_text="#A23F2B",
    brick_wash="#F9E9E4",
    river="#35618E",
    river_text="#35618E",
    river_wash="#EEF2F6",
    sand="#B79A63",
    on_jade="#FFFFFF",
)
DARK = Palette(
    ground="#1D2422",
    sheet="#262E2B",
    table="#212926",
    ink="#EDEAE2",
    quiet="#A9B5AF",
    line="#3D4844",
    jade="#3F9A80",
    jade_text="#6FC3A9",
    jade_wash="#2B3D37",
    amber="#D69A3E",
    amber_text="#E0AC5C",
    amber_wash="#3A3225",
    brick="#D96C55",
    brick_text="#EA8C78",
    brick_wash="#3F2B27",
    river="#7FA9D3",
    river_text="#93B8DD",
    river_wash="#28333D",
    sand="#C9B07F",
    on_jade="#0E1A16",
    dark=True,
)


def night_of(palette: Palette) -> Palette:
    """The colours of a table in the dark, whatever the theme."""
    dark = palette if palette.dark else DARK
    return replace(dark, table="#0A0E0F", ground="#0A0E0F", sheet="#10171A")
