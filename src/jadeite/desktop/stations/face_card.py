"""The size of a flat thing: typed, a standard, for an envelope, or by what is mounted on it."""

from __future__ import annotations

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QCheckBox, QComboBox

from jadeite.core.boards import USUAL
from jadeite.core.contents.standards import CARDS, ENVELOPES, standard_of
from jadeite.core.project import Face, Hollow, Task
from jadeite.core.units import System, format_length, rounded_down
from jadeite.desktop.lengths import LengthRow
from jadeite.desktop.session import Session
from jadeite.desktop.widgets import Card, button, label

__all__ = ["FaceCard"]

WIDE = 196
PAPER = 1.0  # mm that the paper and seams of a bought envelope take; from memory


class FaceCard(Card):
    """Decides how large a card is, or an envelope by its outside."""

    def __init__(self, session: Session) -> None:
        super().__init__("Closed size")
        self.session = session
        self._system: System = "mm"
        self._offered: tuple[str, ...] = ()
        self.standard = QComboBox()
        self.standard.setFixedWidth(WIDE)
        self.standard.activated.connect(self._take)
        self.row("Size", self.standard, "Sizes for which cards and envelopes can be bought.")
        self.sizes = LengthRow("Closed", ("Width", "Height"), 1.0, 2000.0)
        self.sizes.edited.connect(self._typed)
        self.sizes.refused.connect(session.trouble)
        self.sizes.dragging.connect(session.drag)
        self.edits = self.sizes.edits
        turn = button("Turn", self._turn, "plain", "Width and height change places.")
        self.sizes.line.addWidget(turn)
        self.add(self.sizes)
        self.carried = QCheckBox("As large as what is mounted on it")
        self.carried.setToolTip("Its size follows the things, with an even border round them.")
        self.carried.clicked.connect(self._by_things)
        self.add(self.carried)
        self.words = self.add(label("", "small", wrap=True))
        self.round = button(
            "Round what goes in instead",
            lambda: session.edit(brief=Hollow()),
            "plain",
            "The inside then follows the contents.",
        )
        self.add(self.round)

    # ------------------------------------------------------------- deciding

    def _size(self) -> tuple[float, float]:
        brief = self.session.task.brief
        if isinstance(brief, Face) and brief.size is not None:
            return brief.size
        x, y, _ = self.session.work.inside
        return (round(x, 1), round(y, 1)) if x and y else self.session.work.family.starts

    def _take(self, index: int) -> None:
        """A size by its name, standing or lying as the present one is."""
        found = self.standard.itemData(index)
        if found is None:
            return
        short, long = found
        x, y = self._size()
        self.session.edit(brief=Face(size=(short, long) if x <= y else (long, short)))

    def _typed(self) -> None:
        x, y = self.sizes.values()
        self.session.edit(brief=Face(size=(x, y)))

    def _turn(self) -> None:
        x, y = self._size()
        self.session.edit(brief=Face(size=(y, x)))

    def _by_things(self, on: bool) -> None:
        self.session.edit(brief=Face(size=None if on else self._size()))

    # ------------------------------------------------------------- showing

    def show_face(self, task: Task, system: System) -> None:
        """Show the document as it now is; hidden where no face is asked for."""
        self.setVisible(isinstance(task.brief, Face))
        if not isinstance(task.brief, Face):
            return
        self._system = system
        work = self.session.work
        envelope = work.family.within is not None
        self.heading.setText("Closed size, outside" if envelope else "Closed size")
        self._fill(envelope)
        size = self._size()
        free = task.brief.size is None
        for edit, value in zip(self.edits, size, strict=True):
            edit.set_value(value, system)
            edit.setEnabled(not free)
        self.carried.setVisible(not envelope and (bool(task.contents) or free))
        with QSignalBlocker(self.carried):
            self.carried.setChecked(free)
        self.round.setVisible(envelope)
        found = standard_of(*size, ENVELOPES if envelope else CARDS)
        at = 0
        if found is not None:
            at = max(0, self.standard.findText(found.name))
        else:
            pairs = [self.standard.itemData(i) for i in range(self.standard.count())]
            at = next((i for i, p in enumerate(pairs) if p == tuple(sorted(size))), 0)
        self.standard.setCurrentIndex(at)
        source = found.source if found is not None else "your own"
        lying = "lying" if size[0] > size[1] else "standing"
        self.words.setText(f"{lying.capitalize()}; {source}.")

    def _fill(self, envelope: bool) -> None:
        """Standards by name, and cards that go into standard envelopes."""
        offered: list[tuple[str, tuple[float, float] | None]] = [("your own", None)]
        if envelope:
            offered += [(s.name, (s.short, s.long)) for s in ENVELOPES]
        else:
            offered += [(s.name, (s.short, s.long)) for s in CARDS]
            thick = self.session.work.sizes.get("thickness")
            less = PAPER + USUAL.envelope + (thick.value if thick is not None else 1.0)
            for s in ENVELOPES:
                pair = (rounded_down(s.short - less), rounded_down(s.long - less))
                offered.append((f"for a {s.name} envelope", pair))
        names = tuple(name for name, _ in offered)
        if names == self._offered and self.standard.count() == len(offered):
            for i, (_, pair) in enumerate(offered):
                self.standard.setItemData(i, pair)
            return
        self._offered = names
        self.standard.clear()
        for name, pair in offered:
            self.standard.addItem(name, pair)
            if pair is not None:
                words = " × ".join(format_length(v, self._system) for v in pair)
                self.standard.setItemData(self.standard.count() - 1, words, 3)  # its tool tip
