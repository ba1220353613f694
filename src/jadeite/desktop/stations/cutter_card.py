"""What it is cut with: cutters that there are, and the maker's own with its sizes and tools."""

from __future__ import annotations

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QCheckBox, QComboBox, QDoubleSpinBox, QLineEdit, QSpinBox, QWidget

from jadeite.core.cutting import PROFILES, own_from, profile_of
from jadeite.core.project import Cutter
from jadeite.core.units import System
from jadeite.desktop.lengths import LengthEdit
from jadeite.desktop.session import Session
from jadeite.desktop.widgets import Card, Disclosure, button

__all__ = ["CutterCard"]

WIDE = 150
NUMBERS = (  # field, words, unit, least, most, tip
    ("cut_speed", "Speed of cuts", " mm/s", 1.0, 1000.0, "How fast the blade goes."),
    ("score_speed", "Speed of scores", " mm/s", 1.0, 1000.0, "How fast the scoring tool goes."),
    ("tool_change", "A tool change", " s", 0.0, 600.0, "How long you take to fit another tool."),
    ("loading", "Loading a sheet", " s", 0.0, 600.0, "Carrier, sheet, cutter."),
)
SIZES = (("width", "Reach across"), ("length", "Reach along"))


class CutterCard(Card):
    """Choose a cutter; change its numbers, which makes it the maker's own."""

    def __init__(self, session: Session) -> None:
        super().__init__("Cut with")
        self.session = session
        self.cutter = QComboBox()
        self.cutter.setAccessibleName("Cutter")
        self.cutter.activated.connect(lambda _: self._choose(str(self.cutter.currentData())))
        self.add(self.cutter)
        self.opener = Disclosure("Change this cutter", "Its reach, its tools, its speeds.")
        self.add(self.opener)
        form = Card()
        form.setProperty("role", "plain")
        form.body.setContentsMargins(0, 0, 0, 0)
        self.title = QLineEdit()
        self.title.setMaxLength(60)
        self.title.setFixedWidth(WIDE)
        self.title.editingFinished.connect(self._name)
        form.row("Name", self.title)
        self.sizes: dict[str, LengthEdit] = {}
        for field, words in SIZES:
            edit = self.sizes[field] = LengthEdit(words, 20.0, 20_000.0)
            edit.edited.connect(lambda mm, f=field: self._change(**{f: mm}))
            edit.refused.connect(self.session.trouble)
            form.row(words, edit)
        self.tools: dict[str, QCheckBox] = {}
        for field, words in (("score", "Has a scoring tool"), ("pen", "Has a pen")):
            box = self.tools[field] = QCheckBox()
            box.toggled.connect(lambda on, f=field: self._change(**{f: on}))
            form.row(words, box)
        self.steps = QSpinBox()
        self.steps.setRange(0, 1000)
        self.steps.setSpecialValueText("none")
        self.steps.setFixedWidth(104)
        self.steps.setKeyboardTracking(False)
        self.steps.valueChanged.connect(lambda v: self._change(force_steps=v))
        form.row("Steps of force", self.steps, "How high its force can be set; none if it cannot.")
        self.numbers: dict[str, QDoubleSpinBox] = {}
        for field, words, unit, low, high, tip in NUMBERS:
            box_ = self.numbers[field] = QDoubleSpinBox()
            box_.setRange(low, high)
            box_.setDecimals(0)
            box_.setSuffix(unit)
            box_.setFixedWidth(104)
            box_.setKeyboardTracking(False)
            box_.valueChanged.connect(lambda v, f=field: self._change(**{f: v}))
            form.row(words, box_, tip)
        self.remove = button(
            "Remove this cutter", self._remove, "plain", "The job is cut with the large one then."
        )
        form.add(self.remove)
        self.add(form)
        self.opener.holds(form)
        self.form: QWidget = form

    def _choose(self, key: str) -> None:
        """Cut with another; one that was kept from another job comes into this one."""
        task, known = self.session.task, self.session.library.bench.known
        here = {own.key for own in task.own_cutters}
        kept = next((own for own in known.cutters if own.key == key and key not in here), None)
        if kept is None:
            self.session.edit(cutter=key)
        else:
            self.session.edit(own_cutters=(*task.own_cutters, kept), cutter=key)

    def _own(self) -> Cutter | None:
        task = self.session.task
        return next((own for own in task.own_cutters if own.key == task.cutter), None)

    def _change(self, **fields: object) -> None:
        """Change a number; a cutter that is not the maker's own is copied first."""
        task, own = self.session.task, self._own()
        if own is not None:
            others = tuple(
                c.model_copy(update=fields) if c.key == own.key else c for c in task.own_cutters
            )
            self.session.edit(own_cutters=others)
            self._keep()
            return
        known = self.session.library.bench.known.cutters
        taken = {c.key for c in (*task.own_cutters, *known)}
        key = next(f"own-{n}" for n in range(1, 100) if f"own-{n}" not in taken)
        made = own_from(profile_of(task), key).model_copy(update=fields)
        self.session.edit(own_cutters=(*task.own_cutters, made), cutter=key)
        self._keep()

    def _keep(self) -> None:
        """The cutter as it now is stands on the bench for other jobs."""
        own = self._own()
        if own is not None:
            self.session.library.bench.keep(own)

    def _name(self) -> None:
        words = self.title.text().strip()
        own = self._own()
        now = own.title if own is not None else profile_of(self.session.task).title
        if words and words != now:
            self._change(title=words)

    def _remove(self) -> None:
        task = self.session.task
        left = tuple(c for c in task.own_cutters if c.key != task.cutter)
        self.session.library.bench.forget(task.cutter)
        self.session.edit(own_cutters=left, cutter="large")

    def refresh(self, system: System) -> None:
        """Show the cutter of the job."""
        task, own = self.session.task, self._own()
        profile = profile_of(task)
        here = {c.key for c in task.own_cutters}
        kept = [c for c in self.session.library.bench.known.cutters if c.key not in here]
        names = [(c.title, c.key) for c in (*task.own_cutters, *kept)]
        names += [(p.title, p.key) for p in PROFILES]
        shown = [(self.cutter.itemText(i), self.cutter.itemData(i))
                 for i in range(self.cutter.count())]  # fmt: skip
        if shown != names:
            self.cutter.clear()
            for words, key in names:
                self.cutter.addItem(words, key)
        self.cutter.setCurrentIndex(self.cutter.findData(task.cutter))
        self.opener.setVisible(not profile.by_hand)
        if profile.by_hand:
            self.opener.setChecked(False)
        if not self.title.hasFocus():
            self.title.setText(profile.title)
        for field, value in zip(("width", "length"), profile.reach, strict=True):
            self.sizes[field].set_value(value, system)
        for field, tool in (("score", "scoring tool"), ("pen", "pen")):
            with QSignalBlocker(self.tools[field]):
                self.tools[field].setChecked(tool in profile.tools)
        with QSignalBlocker(self.steps):
            self.steps.setValue(profile.force_steps)
        values = {
            "cut_speed": profile.speed("cut"),
            "score_speed": profile.speed("score"),
            "tool_change": profile.tool_change,
            "loading": profile.loading,
        }
        for field, value in values.items():
            with QSignalBlocker(self.numbers[field]):
                self.numbers[field].setValue(value)
        self.remove.setVisible(own is not None)
