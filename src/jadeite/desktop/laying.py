"""Laying pieces on sheets by hand, and packing them tighter: what the maker asks, and is told."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PyQt6.QtCore import QObject, pyqtSignal

from jadeite.core.cutting import SheetCut
from jadeite.core.pipeline import SheetWork
from jadeite.core.project import Laid, Project, Stock
from jadeite.core.sheets import GAP, Hand, Layout, PlacedPiece, Refusal, Spot, Why, with_pins
from jadeite.core.sheets.kept import laid_of
from jadeite.core.units import counted, format_length
from jadeite.desktop.jobs import Job
from jadeite.desktop.session import Session

__all__ = ["Asked", "Laying"]

Asked = tuple[str, int]  # a piece, and which copy of it

MOST_CHOSEN = 2  # exact, two pieces are swapped


class Laying(QObject):
    """Pieces that are chosen on the sheets, and what is done with them."""

    chosen_changed = pyqtSignal()
    tightening = pyqtSignal()  # begun, ended, or better

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.session = session
        self.chosen: tuple[Asked, ...] = ()
        self.job = Job("tighten", self)
        session.extra_jobs.append(self.job)
        self.job.part.connect(self._on_better)
        self.job.succeeded.connect(lambda *_: self._ended())
        self.job.failed.connect(self._on_failed)
        self._best: SheetWork | None = None
        self._of: Project | None = None
        self._sheets_before = 0
        session.changed.connect(self._on_document)
        session.sheets_changed.connect(self._on_sheets)

    # ------------------------------------------------------------- what is chosen

    @property
    def hand(self) -> Hand | None:
        """The layout as it is shown, to be changed; None where there is none."""
        sheets = self.session.sheets
        return Hand(sheets.layout, sheets.rules_of) if sheets is not None else None

    def spot(self, asked: Asked) -> Spot | None:
        """Where a copy of a piece lies."""
        hand = self.hand
        for i, sheet in enumerate(hand.layout.sheets if hand else ()):
            for k, one in enumerate(sheet.placed):
                if (one.piece, one.copy) == asked:
                    return Spot(i, k)
        return None

    def choose(self, *asked: Asked) -> None:
        """Speak of some pieces from now on, two at most; of none."""
        self.chosen = asked[-MOST_CHOSEN:]
        self.chosen_changed.emit()

    def choose_next(self, by: int) -> None:
        """Choose the piece after the chosen one, or before it."""
        hand = self.hand
        placed = [one for sheet in hand.layout.sheets for one in sheet.placed] if hand else []
        if not placed:
            return
        names = [(one.piece, one.copy) for one in placed]
        known = self.chosen and self.chosen[-1] in names
        at = names.index(self.chosen[-1]) if known else min(0, -by)
        self.choose(names[(at + by) % len(names)])

    def _on_sheets(self) -> None:
        """What lies nowhere any more is not chosen."""
        lies = tuple(asked for asked in self.chosen if self.spot(asked) is not None)
        if lies != self.chosen:
            self.choose(*lies)

    @property
    def place(self) -> PlacedPiece | None:
        """Where the piece that was chosen last lies."""
        spot = self.spot(self.chosen[-1]) if self.chosen else None
        hand = self.hand
        return hand.at(spot) if hand is not None and spot is not None else None

    # ------------------------------------------------------------- by hand

    def move(self, asked: Asked, sheet: int, place: PlacedPiece) -> bool:
        """Put a piece down; whether it may lie there."""
        return self._do(asked, lambda hand, spot: hand.moved(spot, sheet, place))

    def nudge(self, x: float, y: float) -> None:
        """Move the chosen piece by so many mm."""
        place = self.place
        spot = self.spot(self.chosen[-1]) if self.chosen else None
        if place is not None and spot is not None:
            self.move(self.chosen[-1], spot.sheet, replace(place, x=place.x + x, y=place.y + y))

    def turn(self, by: float) -> None:
        """Turn the chosen piece to the left, degrees."""
        self._chosen(lambda hand, spot: hand.turned(spot, by))

    def send(self, sheet: int) -> None:
        """Move the chosen piece to where another sheet has room."""
        self._chosen(lambda hand, spot: hand.to_sheet(spot, sheet))

    def send_to_new(self, stock: Stock) -> None:
        """Move the chosen piece to a sheet of its own."""
        self._chosen(lambda hand, spot: hand.to_stock(spot, stock))

    def cut_from(self, stock: Stock) -> None:
        """Cut all that lies with the chosen piece from another sheet."""
        self._chosen(lambda hand, spot: hand.cut_from(spot.sheet, stock))

    def swap(self) -> None:
        """Two chosen pieces take each other's place."""
        if len(self.chosen) < MOST_CHOSEN:
            return
        other = self.spot(self.chosen[0])
        if other is not None:
            self._chosen(lambda hand, spot: hand.swapped(spot, other))

    def pin(self) -> None:
        """Pin the chosen pieces, or let go of them where all are pinned."""
        hand = self.hand
        spots = [spot for asked in self.chosen if (spot := self.spot(asked)) is not None]
        if hand is None or not spots:
            return
        pinned = all(hand.at(spot).pinned for spot in spots)
        self._apply(with_pins(hand.layout, dict.fromkeys(self.chosen, not pinned)))

    def again(self) -> None:
        """Lay out anew all that is not pinned."""
        pins = tuple(
            sheet.model_copy(update={"pieces": tuple(p for p in sheet.pieces if p.pinned)})
            for sheet in self.session.project.laid.sheets
            if any(p.pinned for p in sheet.pieces)
        )
        self.session.edit(laid=Laid(sheets=pins))

    def let_go(self) -> None:
        """Pin nothing any more; all lies as it does."""
        hand = self.hand
        if hand is not None:
            placed = [one for sheet in hand.layout.sheets for one in sheet.placed]
            self._apply(with_pins(hand.layout, {(p.piece, p.copy): False for p in placed}))

    def _chosen(self, act: Callable[[Hand, Spot], Layout | Refusal]) -> None:
        if self.chosen:
            self._do(self.chosen[-1], act)

    def _do(self, asked: Asked, act: Callable[[Hand, Spot], Layout | Refusal]) -> bool:
        self.stop()
        hand, spot = self.hand, self.spot(asked)
        if hand is None or spot is None:
            return False
        made = act(hand, spot)
        if isinstance(made, Refusal):
            self.session.trouble.emit(f"It stays where it is: {self.words(made)}.")
            return False
        self._apply(made)
        return True

    def words(self, refused: Refusal) -> str:
        """Why a piece may not lie somewhere."""
        sheets = self.session.sheets
        gap = format_length(GAP)
        if refused.why is Why.NEAR:
            if not refused.other or sheets is None:
                return f"there is no free place, {gap} from all else"
            title = sheets.pieces[refused.other].piece.title
            return f"it would lie nearer than {gap} to “{title}”"
        return {
            Why.OFF: "it would stand out of what can be cut",
            Why.TURN: "turned so, its folds would run across the grain, or it is not allowed to "
            "lie askew",
            Why.BOARD: "that sheet is of another board or colour",
        }[refused.why]

    def _apply(self, layout: Layout) -> None:
        """The layout is the document's from now on; its sheets are planned anew."""
        sheets = self.session.sheets
        if sheets is None:
            return
        self.session.show_sheets(_with_layout(sheets, layout))
        self.session.edit(laid=laid_of(layout, sheets.of))

    # ------------------------------------------------------------- tighter

    @property
    def busy(self) -> bool:
        """Whether sheets are being packed tighter."""
        return self.job.busy

    def tighten(self, seconds: float) -> None:
        """Look for a tighter layout for so long."""
        session = self.session
        if session.sheets is None or not session.sheets_current:
            return
        self._best, self._of = None, session.project
        self._sheets_before = len(session.sheets.layout.sheets)
        self.job.start(session.project, session.project, session.sheets, seconds)
        self.tightening.emit()

    def stop(self) -> None:
        """End the search; what it has gained stays."""
        if self.busy:
            self.job.cancel()
            self._ended()

    def _on_better(self, sheets: object) -> None:
        if isinstance(sheets, SheetWork):
            self._best = sheets
            self.session.show_sheets(sheets)
            self.tightening.emit()

    def _ended(self) -> None:
        """The last that was better is the document's."""
        best, self._best, self._of = self._best, None, None
        if best is not None:
            saved = self._sheets_before - len(best.layout.sheets)
            self._apply(best.layout)
            words = f"{counted(saved, 'sheet')} fewer" if saved > 0 else "more is left in one part"
            self.session.said.emit(f"Packed tighter: {words}.")
        else:
            self.session.said.emit("No tighter layout was found in that time.")
        self.tightening.emit()

    def _on_failed(self, words: str) -> None:
        self.session.trouble.emit(words)
        self._ended()

    def _on_document(self) -> None:
        """Of another document nothing is looked for any longer."""
        if self.busy and self.session.project != self._of:
            self.job.cancel()
            self._best = self._of = None
            self.tightening.emit()


def _with_layout(sheets: SheetWork, layout: Layout) -> SheetWork:
    """The sheets as they now lie; how the changed ones are cut is not known yet."""
    known = {id(cut.sheet): cut for cut in sheets.cutting.sheets}
    first = {cut.sheet.board: cut for cut in reversed(sheets.cutting.sheets)}
    cuts = []
    for plan in layout.sheets:
        like = first[plan.board]
        fresh = SheetCut(plan, like.board, (), (), 0.0, 0, like.setting, like.profile)
        cuts.append(known.get(id(plan), fresh))
    return replace(sheets, layout=layout, cutting=replace(sheets.cutting, sheets=tuple(cuts)))
