"""Contents: what goes in, how it goes in, and how it lies together."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QSizePolicy,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from jadeite.core.contents import Block, Cylinder, FlatPack, clearance, headroom
from jadeite.core.reckoning import Reckoning, reckon
from jadeite.core.units import format_size
from jadeite.desktop.stations.arrangements import ArrangementTiles
from jadeite.desktop.stations.base import Panel, ResultsCard
from jadeite.desktop.stations.tiles import KindTile, WayTile
from jadeite.desktop.widgets import (
    Card,
    LengthEdit,
    Segmented,
    button,
    clear_layout,
    label,
)

__all__ = ["ContentsPanel"]

Thing = Block | Cylinder | FlatPack

NEW: dict[str, Thing] = {
    "block": Block(name="block", length=60.0, width=40.0, height=25.0),
    "cylinder": Cylinder(name="round thing", diameter=38.0, height=30.0),
    "flat": FlatPack(name="flat thing", width=80.0, height=60.0, thickness=3.0),
}
MEASURES = {
    "block": (("length", "Length"), ("width", "Width"), ("height", "Height")),
    "cylinder": (("diameter", "Diameter"), ("height", "Height")),
    "flat": (("width", "Width"), ("height", "Height"), ("thickness", "Thickness")),
}
TURNS = {
    "block": (("any", "any way"), ("upright", "this way up"), ("lying", "on its side")),
    "cylinder": (("any", "any way"), ("upright", "upright"), ("lying", "lying")),
    "flat": (("any", "any way"), ("upright", "standing"), ("lying", "lying")),
}
WAYS = (
    ("dropped", "Dropped", "Dropped in: 1.5 mm of room on each side, more beyond 100 mm."),
    ("snug", "Snug", "Snug: 0.3 mm on each side; pulled out by its top."),
    ("finger", "Finger", "Lifted out by a finger: 18 mm of room on one side."),
    ("soft", "Soft", "Soft: no room needed, it gives by up to a tenth."),
)


class ContentsPanel(Panel):
    """Things, the chosen one's figures, the inside, and arrangements."""

    def build(self) -> None:
        """Make the widgets, once."""
        add = Card("Add a thing")
        line = QHBoxLayout()
        line.setSpacing(8)
        self.add_tiles: dict[str, KindTile] = {}
        for kind, words in (("block", "Block"), ("cylinder", "Round"), ("flat", "Flat")):
            tile = KindTile(kind, words)
            tile.clicked.connect(lambda _=False, k=kind: self.add_thing(k))
            line.addWidget(tile)
            self.add_tiles[kind] = tile
        add.body.addLayout(line)
        self._list = QVBoxLayout()
        self._list.setSpacing(3)
        add.body.addLayout(self._list)
        self.column.addWidget(add)
        self.editor = Card("The chosen thing")
        self.column.addWidget(self.editor)
        self._build_editor()
        self._build_inside()
        self.tiles = ArrangementTiles(self.session)
        self.column.addWidget(self.tiles)
        self.results = ResultsCard("Why this size")
        self.column.addWidget(self.results)
        self.chosen = 0
        self._rows: list[QPushButton] = []
        self._shown: object = None
        self.session.arranging.connect(self._on_arranging)

    def _build_editor(self) -> None:
        self.name = QLineEdit()
        self.name.setFixedWidth(150)
        self.name.setMaxLength(60)
        self.name.editingFinished.connect(lambda: self._change(name=self.name.text().strip()))
        self.editor.row("Name", self.name)
        grid = QWidget()
        self._grid = QGridLayout(grid)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(8)
        self.editor.add(grid)
        self.measures: dict[str, LengthEdit] = {}
        self.count = QSpinBox()
        self.count.setRange(1, 40)
        self.count.setFixedWidth(66)
        self.count.valueChanged.connect(lambda v: self._change(count=v))
        self.editor.row("How many", self.count)
        self.mass = QLineEdit()
        self.mass.setFixedWidth(84)
        self.mass.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.mass.editingFinished.connect(self._change_mass)
        self.editor.row("Weight of one, g", self.mass, "For the sag of the floor; 0 if unknown.")
        self.editor.add(label("How it goes in"))
        ways = QHBoxLayout()
        ways.setSpacing(6)
        self.ways: dict[str, WayTile] = {}
        for key, words, tip in WAYS:
            tile = WayTile(key, words)
            tile.setToolTip(tip)
            tile.clicked.connect(lambda _=False, k=key: self._change(goes_in=k))
            self.ways[key] = tile
            ways.addWidget(tile)
        self.editor.body.addLayout(ways)
        self.turn = QComboBox()
        self.turn.setFixedWidth(150)
        self.turn.activated.connect(lambda _: self._change(turn=self.turn.currentData()))
        self.editor.row("May stand", self.turn, "Which turns the arrangement may use.")

    def _build_inside(self) -> None:
        card = Card("Inside")
        self.inside_from = Segmented(
            (("contents", "from the contents"), ("fixed", "fixed")), "Inside size"
        )
        self.inside_from.chosen.connect(self._set_inside_from)
        card.add(self.inside_from)
        self.inside_words = label("", "strong")
        card.row("Inside", self.inside_words, "Length × width × height")
        self.inside_edits: list[LengthEdit] = []
        self.inside_row = QWidget()
        line = QHBoxLayout(self.inside_row)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(6)
        for name in ("length", "width", "height"):
            edit = LengthEdit(f"Inside {name}", 0.1, 5000.0)
            edit.setFixedWidth(88)
            edit.edited.connect(lambda _: self._set_fixed())
            edit.refused.connect(self.session.trouble)
            self.inside_edits.append(edit)
            line.addWidget(edit)
        card.add(self.inside_row)
        self.column.addWidget(card)

    # ------------------------------------------------------------- changes

    def add_thing(self, kind: str) -> None:
        """Put a new thing on the list, ready to be measured."""
        things = self.session.project.contents
        self.chosen = len(things)
        self.session.edit(contents=(*things, NEW[kind]))
        self.name.setFocus()
        self.name.selectAll()

    def remove_thing(self, index: int) -> None:
        """Take a thing off the list."""
        things = list(self.session.project.contents)
        del things[index]
        self.chosen = max(0, min(self.chosen, len(things) - 1))
        self.session.edit(contents=tuple(things))

    def _change(self, **fields: object) -> None:
        things = list(self.session.project.contents)
        if not 0 <= self.chosen < len(things) or fields.get("name") == "":
            self.refresh()
            return
        data = things[self.chosen].model_dump() | fields
        self.session.edit(contents=(*things[: self.chosen], data, *things[self.chosen + 1 :]))

    def _change_mass(self) -> None:
        text = self.mass.text().replace(",", ".").removesuffix("g").strip() or "0"
        try:
            grams = float(text)
        except ValueError:
            self.session.trouble.emit(f"Weight: “{text[:20]}” is not a number. Type grams, as 95.")
            self.refresh()
            return
        self._change(mass=grams)

    def _set_inside_from(self, choice: str) -> None:
        if choice == "contents":
            self.session.edit(inside=None)
        else:
            inside = self.session.work.inside
            start = inside if all(inside) else (96.0, 64.0, 41.0)
            self.session.edit(inside=tuple(round(v, 1) for v in start))

    def _set_fixed(self) -> None:
        self.session.edit(inside=tuple(edit.value() for edit in self.inside_edits))

    def _choose(self, index: int) -> None:
        self.chosen = index
        self.refresh()

    # ------------------------------------------------------------- showing

    def refresh(self) -> None:
        """Show the document as it now is."""
        project = self.session.project
        things = project.contents
        self.chosen = max(0, min(self.chosen, len(things) - 1))
        for tile in (*self.add_tiles.values(), *self.ways.values()):
            tile.palette_ = self.palette_
            tile.update()
        self._show_list(things)
        self.editor.setVisible(bool(things))
        if things:
            self._show_thing(things[self.chosen])
        fixed = project.inside is not None
        self.inside_from.set_value("fixed" if fixed else "contents")
        self.inside_row.setVisible(fixed)
        self.inside_words.parentWidget().setVisible(not fixed)  # type: ignore[union-attr]
        self.inside_words.setText(
            format_size(self.session.work.inside, self.system)
            if any(self.session.work.inside)
            else "nothing yet"
        )
        if project.inside is not None:
            for edit, value in zip(self.inside_edits, project.inside, strict=True):
                edit.set_value(value, self.system)
        self.tiles.show_arrangements(self.system, self.palette_)
        self.results.show_results(self._results(), self.system)

    def _results(self) -> list[tuple[str, Reckoning, str]]:
        arrangement = self.session.arrangement()
        things = self.session.project.contents
        if arrangement is None or not arrangement.places:
            return []
        out = []
        for axis, name in enumerate(("length", "width", "height")):
            place = max(arrangement.places, key=lambda p: p.low[axis] + p.cell[axis])
            last = things[place.thing]
            size = place.solid[axis]
            terms = [
                reckon(f"what lies before {last.name}", place.low[axis], "things and room"),
                reckon(last.name, size, "its own size"),
            ]
            if axis < 2:
                room = clearance(last, size)
                terms.append(room)
            else:
                terms.append(headroom())
            out.append(
                (
                    f"inside-{name}",
                    reckon(
                        f"Inside {name}",
                        arrangement.inside[axis],
                        "the longest row of things, each with its room on both sides",
                        *terms,
                    ),
                    "",
                )
            )
        return out

    def _show_list(self, things: tuple[Thing, ...]) -> None:
        key = (things, self.chosen, self.system)
        if key == self._shown:
            return
        self._shown = key
        clear_layout(self._list)
        self._rows = []
        if not things:
            self._list.addWidget(
                label(
                    "Nothing yet. Choose what kind of thing it is, then measure it as drawn.",
                    "small",
                    wrap=True,
                )
            )
        for i, thing in enumerate(things):
            holder = QWidget()
            line = QHBoxLayout(holder)
            line.setContentsMargins(0, 0, 0, 0)
            line.setSpacing(4)
            size = format_size(thing.size, self.system, places=0)
            count = f"{thing.count} × " if thing.count > 1 else ""
            row = QPushButton(f"{count}{thing.name} · {size}")
            row.setProperty("role", "tile")
            row.setCheckable(True)
            row.setChecked(i == self.chosen)
            row.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            row.setToolTip(row.text())
            row.setStyleSheet("text-align: left; padding: 4px 8px;")
            row.clicked.connect(lambda _=False, n=i: self._choose(n))
            away = button("remove", lambda n=i: self.remove_thing(n), "plain")
            away.setAccessibleName(f"Remove {thing.name}")
            line.addWidget(row, 1)
            line.addWidget(away)
            self._rows.append(row)
            self._list.addWidget(holder)

    def _show_thing(self, thing: Thing) -> None:
        if not self.name.hasFocus() or not self.name.isModified():
            self.name.setText(thing.name)
        names = MEASURES[thing.kind]
        if tuple(self.measures) != tuple(key for key, _ in names):
            while (item := self._grid.takeAt(0)) is not None:
                if (old := item.widget()) is not None:
                    old.hide()
                    old.deleteLater()
            self.measures = {}
            for i, (key, words) in enumerate(names):
                edit = LengthEdit(words, 0.1, 1000.0)
                edit.setFixedWidth(88)
                edit.edited.connect(lambda v, k=key: self._change(**{k: v}))
                edit.refused.connect(self.session.trouble)
                self._grid.addWidget(label(words, "small"), 0, i)
                self._grid.addWidget(edit, 1, i)
                self.measures[key] = edit
            self._grid.setColumnStretch(len(names), 1)
        for key, edit in self.measures.items():
            edit.set_value(getattr(thing, key), self.system)
        self.count.blockSignals(True)
        self.count.setValue(thing.count)
        self.count.blockSignals(False)
        if not self.mass.isModified() or not self.mass.hasFocus():
            self.mass.setText(f"{thing.mass:g}")
        for key, tile in self.ways.items():
            tile.setChecked(key == thing.goes_in)
        self.turn.clear()
        for key, words in TURNS[thing.kind]:
            self.turn.addItem(words, key)
            if key == thing.turn:
                self.turn.setCurrentIndex(self.turn.count() - 1)

    def _on_arranging(self, busy: bool) -> None:
        self.tiles.set_busy(busy)
