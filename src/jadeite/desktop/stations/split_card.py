"""Pieces cut in two, so that they fit a sheet or the cutter; every cut can be overruled."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QVBoxLayout

from jadeite.core.nets.halves import HALVES_WAYS
from jadeite.core.nets.split import splits_of
from jadeite.desktop.session import Session
from jadeite.desktop.widgets import Card, clear_layout, label

__all__ = ["SplitCard"]


class SplitCard(Card):
    """One row for each piece that is cut, or that fits no sheet whole."""

    def __init__(self, session: Session) -> None:
        super().__init__("Cut in two")
        self.session = session
        self.choices: dict[str, QComboBox] = {}
        self._list = QVBoxLayout()
        self._list.setSpacing(4)
        self.body.addLayout(self._list)
        self.add(
            label(
                "Along a fold, with a tab there, or across the middle, with laps; both parts stay "
                "at one scale. The cut with the shortest seam costs least.",
                "small",
                wrap=True,
            )
        )
        self._shown: object = None

    def _choose(self, piece: str, child: str) -> None:
        splits = {k: v for k, v in self.session.task.splits.items() if k != piece}
        if child:
            splits[piece] = child
        self.session.edit(splits=splits)

    def refresh(self) -> None:
        """Show what is cut, and what should be."""
        task, sheets, work = self.session.task, self.session.sheets, self.session.work
        wanted = set(task.splits)
        if sheets is not None:
            left = (sheets.pieces[name] for name, _ in sheets.layout.unplaced)
            wanted |= {cut.own for cut in left if cut.item in ("", self.session.chosen)}
        key = (work.design, tuple(sorted(wanted)))
        if work.design is None or key == self._shown:
            self.setVisible(bool(wanted) and work.design is not None)
            return
        self._shown = key
        clear_layout(self._list)
        self.choices = {}
        pieces = {p.name: p for p in work.design.pieces} | dict(work.design.wholes)
        for piece in (pieces[name] for name in pieces if name in wanted):
            splits = splits_of(piece)
            if not splits:
                continue
            box = QComboBox()
            box.setAccessibleName(f"Where the {piece.title} is cut")
            box.addItem("whole", "")
            for split in splits:
                box.addItem(split.title, split.child)
            chosen = task.splits.get(piece.name, "")
            if chosen in HALVES_WAYS and box.findData(chosen) < 0:
                box.addItem("in two, beside the middle", chosen)
            box.setCurrentIndex(max(0, box.findData(chosen)))
            box.activated.connect(
                lambda _, p=piece.name, b=box: self._choose(p, str(b.currentData()))
            )
            self._list.addWidget(label(piece.title[:1].upper() + piece.title[1:], "strong"))
            self._list.addWidget(box)
            self.choices[piece.name] = box
        self.setVisible(bool(self.choices))
