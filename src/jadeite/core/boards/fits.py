"""Every ease, gap and clearance by which things, plies and tabs fit: one value for all.

None of them depends on the size of the shape; scaled with it they would bind or
pinch.  The usual value is what everybody starts from; a maker's own, and what
trial builds teach, take the place of single fields.
"""

from __future__ import annotations

from dataclasses import dataclass

from jadeite.core.boards.board import Board
from jadeite.core.reckoning import Mark, Reckoning, constant, given, reckon

__all__ = ["USUAL", "Fits"]

SLOT_THIN = 0.5  # mm; from memory, up to this thickness a slot has the lesser ease
LID_THIN = 0.35  # mm; from memory, boards up to this need no more ease for a lid


@dataclass(frozen=True)
class Fits:
    """Eases, gaps and clearances, all in mm but for shares."""

    # between plies and pieces
    lid: float = 1.6  # in total across both walls (1/16 in); common practice
    drawer_width: float = 2.0  # in total that a drawer has to run; from memory
    drawer_height: float = 1.5  # likewise; from memory
    slot_thin: float = 0.1  # a slot is wider than the board it takes; from memory
    slot_thick: float = 0.15  # likewise of thicker board; from memory
    slot_deeper: float = 0.5  # each half-lap slot beyond half of the height; from memory
    tongue: float = 0.6  # a slot is longer than the tongue; from memory
    ribbon: float = 2.0  # a slit is longer than the ribbon is wide; from memory
    tab_depth: float = 10.0  # from memory
    ply: float = 0.2  # on each side between a second floor and the walls; from memory
    disc: float = 0.1  # between a round floor and the wall round it; from memory
    divider: float = 0.5  # between a strip's end and the wall; from memory
    flap: float = 0.3  # a flap clears the wall beside it; from memory
    friction: float = 0.5  # a slit that holds a tuck flap stands open by this; from memory
    latch: float = 1.0  # a latch's window clears its catch all round; from memory
    stand: float = 1.0  # between a piece that stands across and the walls beside it; from memory
    feet: float = 0.5  # between what stands inside and the petals' feet; from memory
    strip: float = 0.4  # behind walls and what is glued to them, for a lining strip; from memory

    # round things, by the way they go in; a side, where nothing else is said
    dropped: float = 1.5  # up to 100 mm; from memory
    dropped_share: float = 0.015  # of a size beyond 100 mm; from memory
    snug: float = 0.3  # from memory
    pocket: float = 1.5  # 3 mm in the pocket's width in total; from memory
    pocket_thick: float = 0.5  # through its thickness; from memory
    pocket_depth: float = 6.0  # that a thing in a pocket ends below the mouth; from memory
    envelope: float = 6.0  # in all, in width and in height (1/4 in); common practice
    envelope_thick: float = 0.2  # through its thickness: paper gives; from memory
    slot_length: float = 0.3  # at each end of what stands in a slot; from memory
    finger: float = 18.0  # on one side; from memory
    headroom: float = 1.0  # below the rim, and below the closed lid; from memory
    air: float = 10.0  # round a light; from memory
    tag_string: float = 5.0  # of string between a pack and a tag that lies inside; from memory
    own: float | None = None  # a side, for all things: the maker's own

    def lid_over(self, board: Board) -> Reckoning:
        """Lid inside less tray outside, in total across both walls, in mm."""
        extra = 2 * max(0.0, board.thickness - LID_THIN)
        more = reckon(
            f"board {board.thickness:.2f} mm: adds {'nothing' if extra == 0 else 'twice what is'} "
            f"{'below' if extra == 0 else 'above'} {LID_THIN}",
            extra,
            "twice the thickness above 0.35 mm",
            given("board thickness", board.thickness),
            constant("thickness that needs no more", LID_THIN, "mm", Mark.MEMORY),
        )
        return reckon(
            "Lid over tray",
            self.lid + extra,
            "in total, across both walls; equal sizes bind",
            constant("ease of a card lid", self.lid, "mm", Mark.PRACTICE),
            more,
        )

    def tab(self, room: float, limit: str) -> Reckoning:
        """Depth of a glue tab in mm: the usual one, less where its target has less ``room``."""
        return reckon(
            "Tab depth",
            min(self.tab_depth, room),
            "the smaller; under 6 mm it would not hold",
            constant("usual depth", self.tab_depth, "mm", Mark.MEMORY),
            reckon("room on its target", room, limit),
        )

    def slot_ease(self, thickness: float) -> float:
        """How much wider in mm a slot is than the board of ``thickness`` mm that it takes."""
        return self.slot_thin if thickness <= SLOT_THIN else self.slot_thick

    def slot_width(self, board: Board) -> float:
        """Width in mm of a slot that takes a board."""
        return board.thickness + self.slot_ease(board.thickness)

    @property
    def slot_play(self) -> float:
        """Between the ends of two half-lap slots, in mm."""
        return 2 * self.slot_deeper

    def ribbon_slit(self, ribbon: float) -> float:
        """Length in mm of the slit for a ribbon of a width in mm."""
        return ribbon + self.ribbon


USUAL = Fits()
