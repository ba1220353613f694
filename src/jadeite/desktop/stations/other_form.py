"""The same thing in a hollow that is no box: n-sided, pyramid, frustum."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QSpinBox

from jadeite.core.contents import AnyThing, Loose, clearance
from jadeite.core.contents.hollows import Frustum, block_in_prism, round_in_prism
from jadeite.core.errors import FieldError
from jadeite.core.reckoning import Reckoning, reckon
from jadeite.core.solid import Form
from jadeite.core.units import System
from jadeite.desktop.lengths import LengthEdit
from jadeite.desktop.session import Session
from jadeite.desktop.stations.base import ResultsCard
from jadeite.desktop.widgets import Card, Disclosure, label

__all__ = ["OtherForm"]

FORMS = (("prism", "box with n sides"), ("frustum", "pyramid or tapering"))


class OtherForm(Card):
    """A calculator for the chosen thing; nothing here changes the document."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.thing: AnyThing | None = None
        self.system: System = "mm"
        self.opener = Disclosure(
            "In a hollow that is no box",
            "How large an n-sided box must be for the chosen thing, or how high it fits in one "
            "that tapers.",
        )
        self.add(self.opener)
        held = Card()
        held.setProperty("role", "plain")
        held.body.setContentsMargins(0, 0, 0, 0)
        self.form = QComboBox()
        self.form.setFixedWidth(150)
        for key, words in FORMS:
            self.form.addItem(words, key)
        self.form.activated.connect(lambda _: self._show())
        held.row("Hollow", self.form)
        self.sides = QSpinBox()
        self.sides.setRange(3, 24)
        self.sides.setValue(6)
        self.sides.setFixedWidth(66)
        self.sides.valueChanged.connect(lambda _: self._show())
        held.row("Sides", self.sides)
        self.edits: dict[str, LengthEdit] = {}
        self.rows = {}
        for key, words, start, tip in (
            ("bottom", "Middle to side, floor", 60.0, "From the middle to the middle of a side."),
            ("top", "Middle to side, top", 0.0, "0 for a pyramid that ends in a point."),
            ("height", "Height inside", 150.0, ""),
        ):
            edit = LengthEdit(words, 0.0, 2000.0)
            edit.setFixedWidth(88)
            edit.set_value(start)
            edit.edited.connect(lambda _: self._show())
            edit.refused.connect(session.trouble)
            self.rows[key] = held.row(words, edit, tip)
            self.edits[key] = edit
        self.results = ResultsCard("")
        self.results.setProperty("role", "plain")
        self.results.body.setContentsMargins(0, 0, 0, 0)
        held.add(self.results)
        self.words = label("", "small", wrap=True)
        held.add(self.words)
        self.add(held)
        self.opener.holds(held)

    def show_thing(self, thing: AnyThing, system: System) -> None:
        """Reckon for another thing, or for the same one changed."""
        self.thing, self.system = thing, system
        for edit in self.edits.values():
            edit.set_value(edit.value(), system)
        self._show()

    def _show(self) -> None:
        tapers = self.form.currentData() == "frustum"
        for row in self.rows.values():
            row.setVisible(tapers)
        if self.thing is None:
            return
        try:
            values, words = self._tapering() if tapers else self._prism()
        except FieldError as error:
            values, words = [], str(error)
        self.results.show_results(values, self.system)
        self.words.setText(words)

    def _room(self) -> float:
        assert self.thing is not None
        return clearance(self.thing, self.thing.size[0], self.session.task.fits).value

    def _prism(self) -> tuple[list[tuple[str, Reckoning, str]], str]:
        thing, sides, room = self.thing, self.sides.value(), self._room()
        assert thing is not None
        if thing.form is Form.BLOCK:
            side = block_in_prism(thing.size[0], thing.size[1], room, sides)
        else:
            side = round_in_prism(thing.size[0], room, sides)
        return [("side", side, "Side, inside")], f"{thing.name} upright in the middle."

    def _tapering(self) -> tuple[list[tuple[str, Reckoning, str]], str]:
        thing = self.thing
        assert thing is not None
        values = {key: edit.value() for key, edit in self.edits.items()}
        hollow = Frustum(values["bottom"], values["top"], values["height"], self.sides.value())
        if isinstance(thing, Loose):
            level = hollow.level(thing.bulk * thing.count)
            if level > hollow.height:
                return [], "The fill runs over: it needs a larger hollow."
            value = reckon("The fill lies as high as", level, "where the hollow holds its volume")
            return [("level", value, "")], f"{thing.name}, levelled."
        x, y, tall = thing.size
        needs = x / 2 + self._room()
        if thing.form is Form.BLOCK:
            needs = (x * x + y * y) ** 0.5 / 2 + self._room()
        highest = hollow.highest(needs, tall)
        if highest.value < 0:
            return [], f"{thing.name} does not fit, not even on the floor."
        return [
            ("highest", highest, "Its foot, at most")
        ], f"{thing.name} upright, above the floor."
