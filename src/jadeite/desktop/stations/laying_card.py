"""By hand and tighter: what the chosen piece can do, and the search for a tighter layout."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QProgressBar, QSizePolicy, QWidget

from jadeite.core.project import Stock
from jadeite.core.units import counted
from jadeite.desktop.laying import Laying
from jadeite.desktop.widgets import Card, button, label

__all__ = ["LayingCard"]

TIMES = ((10, "10 s"), (30, "30 s"), (60, "1 min"), (300, "5 min"))  # from memory
USUAL = 1  # of these


class LayingCard(Card):
    """Buttons for what pointer and keys do on the sheets."""

    def __init__(self, laying: Laying) -> None:
        super().__init__("By hand")
        self.laying = laying
        self.said = label("", "small", wrap=True)
        self.add(self.said)
        first, second = QHBoxLayout(), QHBoxLayout()
        self.left = button("Turn", lambda: laying.turn(90.0), "", "A quarter turn to the left (R).")
        self.pin = button(
            "Pin", laying.pin, "", "It stays there when the others are laid anew (P)."
        )
        self.swap = button(
            "Swap two",
            laying.swap,
            "",
            "Two pieces take each other's place (S); choose the second with Shift.",
        )
        for part in (self.left, self.pin, self.swap):
            first.addWidget(part)
        first.addStretch(1)
        self.body.addLayout(first)
        self.target = QComboBox()
        self.target.setAccessibleName("Move the chosen piece to")
        self.target.setToolTip("Where there is room, as little turned as can be.")
        self.target.activated.connect(self._send)
        self.target.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.add(self.target)
        self.again = button(
            "Lay out anew",
            laying.again,
            "",
            "All that is not pinned goes where the program lays it.",
        )
        self.free = button("Let go of all pins", laying.let_go, "plain")
        second.addWidget(self.again)
        second.addWidget(self.free)
        second.addStretch(1)
        self.body.addLayout(second)
        tight = QHBoxLayout()
        self.tighten = button(
            "Tighten",
            self._tighten,
            "",
            "Looks for a layout with fewer sheets, or one that leaves more of a sheet in one "
            "part. Chance and the machine's speed have a share in it: another run may find more.",
        )
        self.seconds = QComboBox()
        for seconds, words in TIMES:
            self.seconds.addItem(words, seconds)
        self.seconds.setCurrentIndex(USUAL)
        self.seconds.setAccessibleName("For how long a tighter layout is looked for")
        self.seconds.setFixedWidth(84)
        self.progress = QProgressBar()
        self.progress.setRange(0, 100)
        self.progress.setTextVisible(False)
        self.share = label("", "small")
        self.share.setFixedWidth(44)
        self.progress.setAccessibleName("Packing tighter")
        self.stop = button("Stop", laying.stop, "plain", "What is gained so far stays.")
        for part in (self.tighten, self.seconds):
            tight.addWidget(part)
        tight.addWidget(self.progress, 1)
        for part in (self.share, self.stop):
            tight.addWidget(part)
        self.rest = QWidget()
        tight.addWidget(self.rest, 1)
        self.body.addLayout(tight)
        laying.chosen_changed.connect(self.refresh)
        laying.tightening.connect(self.refresh)
        laying.job.progressed.connect(lambda share, _: self._show_share(share))

    def _show_share(self, share: float) -> None:
        self.progress.setValue(round(100 * share))
        self.share.setText(f"{share:.0%}")

    def _tighten(self) -> None:
        self._show_share(0.0)
        self.laying.tighten(float(self.seconds.currentData()))

    def _send(self) -> None:
        """Do what was picked from the list."""
        picked = self.target.currentData()
        if isinstance(picked, tuple):
            what, where = picked
            {
                "sheet": self.laying.send,
                "new": self.laying.send_to_new,
                "from": self.laying.cut_from,
            }[what](where)
        self.refresh()

    def refresh(self) -> None:
        """Show what is chosen, and what can be done with it."""
        laying, session = self.laying, self.laying.session
        sheets, place = session.sheets, laying.place
        chosen, busy = len(laying.chosen), laying.busy
        there = sheets is not None and bool(sheets.layout.sheets)
        for part in (self.left, self.pin):
            part.setEnabled(place is not None)
        self.swap.setEnabled(chosen == 2)
        pinned = place is not None and place.pinned
        self.pin.setText("Unpin" if pinned else "Pin")
        self.said.setText(self._words())
        self._fill_targets()
        pins = session.project.laid.pinned
        self.again.setEnabled(bool(session.project.laid.sheets) and not busy)
        self.free.setVisible(pins > 0)
        self.free.setText(f"Let go of {counted(pins, 'pin')}")
        self.tighten.setVisible(not busy)
        self.seconds.setVisible(not busy)
        self.tighten.setEnabled(there and session.sheets_current)
        for part in (self.progress, self.share, self.stop):
            part.setVisible(busy)
        self.rest.setVisible(not busy)

    def _words(self) -> str:
        laying = self.laying
        sheets = laying.session.sheets
        names = []
        for piece, copy in laying.chosen:
            if sheets is not None and piece in sheets.pieces:
                cut = sheets.pieces[piece]
                many = f", {copy + 1} of {cut.count}" if cut.count > 1 else ""
                names.append(f"{cut.piece.title}{many}")
        if not names:
            return "Press a piece to choose it; drag it to where it should lie."
        if len(names) == 1:
            return f"{names[0]}. With Shift a second piece is chosen, to swap the two."
        return f"{names[0]} and {names[1]}."

    def _fill_targets(self) -> None:
        """Where the chosen piece could go; the first line says what the list is for."""
        laying, sheets = self.laying, self.laying.session.sheets
        spot = laying.spot(laying.chosen[-1]) if laying.chosen else None
        self.target.clear()
        self.target.addItem("Move it to …", None)
        self.target.setEnabled(spot is not None)
        hand = laying.hand
        if spot is None or sheets is None or hand is None:
            return
        plan = sheets.layout.sheets[spot.sheet]
        for number, other in enumerate(sheets.layout.sheets):
            if number != spot.sheet and other.board == plan.board:
                self.target.addItem(f"Sheet {number + 1}, {other.stock.name}", ("sheet", number))
        place = hand.at(spot)
        rules = hand.rules_of(place.piece)
        stock: tuple[Stock, ...] = () if plan.printed else laying.session.project.stock
        spare = [entry for entry in hand.spare(stock) if rules.suits(place.piece, entry)]
        for entry in spare:
            self.target.addItem(f"A sheet of its own, {entry.name}", ("new", entry))
        for entry in spare:
            if entry != plan.stock:
                words = f"All of sheet {spot.sheet + 1} onto {entry.name}"
                self.target.addItem(words, ("from", entry))
