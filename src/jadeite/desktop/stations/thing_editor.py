"""The chosen thing: how it is measured, how it goes in, what may be done with it."""

from __future__ import annotations

from PyQt6.QtCore import QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QGridLayout,
    QLineEdit,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from jadeite.core.contents import (
    GUIDES,
    MAX_COUNT,
    AnyThing,
    Cards,
    FlatPack,
    Light,
    Loose,
    MadeThing,
)
from jadeite.core.contents.things import SQUEEZE_MOST
from jadeite.core.pictures import Palette
from jadeite.core.units import System
from jadeite.desktop.lengths import DragLabel, LengthEdit
from jadeite.desktop.session import Session
from jadeite.desktop.stations.kinds import MEASURES, TURNS, WAYS, ways_of, with_tag
from jadeite.desktop.stations.thing_room import ThingRoom
from jadeite.desktop.stations.tiles import WayTile
from jadeite.desktop.widgets import Card, Disclosure, Field, Segmented, label

__all__ = ["ThingEditor"]

WIDE = 150
BY = (("count", "by count"), ("volume", "by volume"), ("weight", "by weight"))
REACH = (
    ("anywhere", "anywhere"),
    ("reachable", "to be reached from above"),
    ("front", "at the front"),
)


class ThingEditor(Card):
    """Shows one thing and says what was changed."""

    changed = pyqtSignal(dict)

    def __init__(self, session: Session) -> None:
        super().__init__("The chosen thing")
        self.session = session
        self.thing: AnyThing | None = None
        self._build_measures()
        self._build_ways()
        self.rules = Disclosure(
            "What may be done with it", "Turning, stacking, reaching, and the room beside it."
        )
        self.add(self.rules)
        self._build_rules()
        self.guide = Disclosure("Where to hold the ruler", "And what people forget.")
        self.add(self.guide)
        self.guide_words = label("", "small", wrap=True)
        self.add(self.guide_words)
        self.guide.holds(self.guide_words)

    # ------------------------------------------------------------- making

    def _build_measures(self) -> None:
        self.name = QLineEdit()
        self.name.setFixedWidth(WIDE)
        self.name.setMaxLength(60)
        self.name.editingFinished.connect(lambda: self._say(name=self.name.text().strip()))
        self.row("Name", self.name)
        self.by = QComboBox()
        self.by.setFixedWidth(WIDE)
        for key, words in BY:
            self.by.addItem(words, key)
        self.by.activated.connect(lambda _: self._say(by=self.by.currentData()))
        self.by_row = self.row("Measured", self.by, "Loose fill: how you know how much it is.")
        grid = QWidget()
        self._grid = QGridLayout(grid)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(8)
        self.grid = self.add(grid)
        self.measures: dict[str, LengthEdit] = {}
        self.numbers: dict[str, QLineEdit] = {}
        self.number_rows: dict[str, QWidget] = {}
        for key, words, tip in (
            ("grains", "How many grains", "Count a handful and multiply."),
            ("volume", "Volume, ml", "Fill a mug level, without pressing."),
            ("weight", "Weight of all, g", "As the kitchen scales say."),
            ("density", "Bulk density, g/cm³", "Grams of one level ml: weigh a full mug."),
            ("sheets", "Cards in the stack", "Air between them is counted in."),
        ):
            self._number(key, words, tip)
        self.packed = Segmented((("poured", "poured"), ("shaken", "shaken down")), "How it lies")
        self.packed.chosen.connect(lambda key: self._say(packed=key))
        self.packed_row = self.row("It lies", self.packed, "Shaken down it takes less room.")
        self.held = Segmented((("stands", "stands"), ("hangs", "hangs")), "How the light is held")
        self.held.chosen.connect(lambda key: self._say(held=key))
        self.held_row = self.row(
            "Held",
            self.held,
            "Hanging, it needs 10 mm of air below as well, and a cord that holds.",
        )
        self.count = QSpinBox()
        self.count.setRange(1, MAX_COUNT)
        self.count.setFixedWidth(66)
        self.count.valueChanged.connect(lambda v: self._say(count=v))
        self.count_row = self.row("How many", self.count)
        self.mass = self._number(
            "mass", "Weight of one, g", "For the sag of the floor; 0 if unknown."
        )
        self._build_tag()

    def _number(self, key: str, words: str, tip: str) -> QLineEdit:
        edit = QLineEdit()
        edit.setFixedWidth(84)
        edit.setAlignment(Qt.AlignmentFlag.AlignRight)
        edit.editingFinished.connect(lambda: self._typed(key, words))
        self.number_rows[key] = self.row(words, edit, tip)
        self.numbers[key] = edit
        return edit

    def _build_tag(self) -> None:
        self.tag = QCheckBox("A tag on a string")
        self.tag.setToolTip("The item that people forget: it hangs outside, or needs its height.")
        self.tag.clicked.connect(self._set_tag)
        self.add(self.tag)
        self.tag_fields = QWidget()
        lines = QVBoxLayout(self.tag_fields)
        lines.setContentsMargins(0, 0, 0, 0)
        self.hangs = Segmented((("outside", "hangs outside"), ("inside", "lies inside")), "Tag")
        self.hangs.chosen.connect(lambda key: self._say_tag(hangs=key))
        lines.addWidget(self.hangs)
        sizes = QGridLayout()
        self.tag_sizes: dict[str, LengthEdit] = {}
        for i, (key, words) in enumerate((("width", "Tag width"), ("height", "Tag height"))):
            edit = LengthEdit(words, 1.0, 500.0)
            edit.setFixedWidth(88)
            edit.edited.connect(lambda v, k=key: self._say_tag(**{k: v}))
            edit.refused.connect(self.session.trouble)
            sizes.addWidget(label(words, "small"), 0, i)
            sizes.addWidget(edit, 1, i)
            self.tag_sizes[key] = edit
        sizes.setColumnStretch(2, 1)
        lines.addLayout(sizes)
        self.add(self.tag_fields)

    def _build_ways(self) -> None:
        self.add(label("How it goes in"))
        ways = self._way_grid = QGridLayout()
        ways.setSpacing(5)
        self.ways: dict[str, WayTile] = {}
        for i, (key, words, tip) in enumerate(WAYS):
            tile = WayTile(key, words)
            tile.setToolTip(tip)
            tile.clicked.connect(lambda _=False, k=key: self._say(goes_in=k))
            self.ways[key] = tile
            ways.addWidget(tile, i // 4, i % 4)
        for i in range(4):
            ways.setColumnStretch(i, 1)
        self.body.addLayout(ways)
        self.padding = LengthEdit("Padding", 0.0, 100.0)
        self.padding.edited.connect(lambda v: self._say(padding=v))
        self.padding.refused.connect(self.session.trouble)
        self.padding_row = self.row(
            "Padding all round", self.padding, "Tissue or foam, pressed as it will be."
        )
        self._number("squeeze", "May be squeezed by, %", f"Up to {SQUEEZE_MOST:.0f} %.")

    def _build_rules(self) -> None:
        held = QWidget()
        lines = QVBoxLayout(held)
        lines.setContentsMargins(0, 0, 0, 0)
        lines.setSpacing(6)
        rows = Card()
        rows.setProperty("role", "plain")
        rows.body.setContentsMargins(0, 0, 0, 0)
        self.turn = QComboBox()
        self.turn.setFixedWidth(WIDE)
        self.turn.activated.connect(lambda _: self._say(turn=self.turn.currentData()))
        rows.row("May lie", self.turn, "Which turns the arrangement may use.")
        self.reach = QComboBox()
        self.reach.setFixedWidth(WIDE)
        for key, words in REACH:
            self.reach.addItem(words, key)
        self.reach.activated.connect(lambda _: self._say(reach=self.reach.currentData()))
        rows.row("Its place", self.reach, "At the front, or with nothing on top of it.")
        lines.addWidget(rows)
        self.flags: dict[str, QCheckBox] = {}
        for key, words, tip in (
            ("bears", "Others may stand on it", "Off for what is soft, pointed or fragile."),
            ("stacks", "It may stand on others", "Off for what must rest on the floor."),
            ("food", "It is food", "Craft paper is not food-safe: it must be wrapped."),
        ):
            flag = QCheckBox(words)
            flag.setToolTip(tip)
            flag.clicked.connect(lambda on, k=key: self._say(**{k: bool(on)}))
            self.flags[key] = flag
            lines.addWidget(flag)
        self.room = ThingRoom(self.session)
        self.room.changed.connect(lambda value: self._say(clearance=value))
        lines.addWidget(self.room)
        self.add(held)
        self.rules.holds(held)

    # ------------------------------------------------------------- saying

    def _say(self, **fields: object) -> None:
        if self.thing is not None:
            self.changed.emit(fields)

    def _typed(self, key: str, words: str) -> None:
        text = self.numbers[key].text().replace(",", ".").strip().rstrip("g%ml ").strip() or "0"
        name = words.split(",")[0]
        try:
            value = float(text)
            whole = key in ("grains", "sheets")
            if whole and value != int(value):
                raise ValueError
        except ValueError:
            self.session.trouble.emit(f"{name}: “{text[:20]}” is not a number. Type it as 95.")
            if self.thing is not None:
                self.numbers[key].setModified(False)
                self._show_number(key)
            return
        self.numbers[key].setModified(False)
        self._say(**{key: int(value) if whole else value})

    def _set_tag(self, on: bool) -> None:
        if isinstance(self.thing, FlatPack):
            self._say(tag=with_tag(self.thing).model_dump() if on else None)

    def _say_tag(self, **fields: object) -> None:
        if isinstance(self.thing, FlatPack):
            self._say(tag=with_tag(self.thing).model_dump() | fields)

    # ------------------------------------------------------------- showing

    def show_thing(self, thing: AnyThing, system: System, palette: Palette) -> None:
        """Show a thing as it now is."""
        self.thing = thing
        kind = thing.kind
        if not self.name.hasFocus() or not self.name.isModified():
            self.name.setText(thing.name)
        self._show_measures(thing, system)
        self._show_kind(thing, system)
        with QSignalBlocker(self.count):
            self.count.setValue(thing.count)
        for key in self.numbers:
            self._show_number(key)
        allowed = ways_of(kind)
        for key, tile in self.ways.items():
            tile.palette_ = palette
            tile.setVisible(key in allowed)
            if key in allowed:
                at = allowed.index(key)
                self._way_grid.addWidget(tile, at // 4, at % 4)
            tile.setChecked(key == thing.goes_in)
            tile.update()
        self.padding_row.setVisible(thing.goes_in == "padded")
        self.number_rows["squeeze"].setVisible(thing.goes_in == "soft")
        self.padding.set_value(thing.padding, system)
        self.turn.clear()
        for key, words in TURNS.get(kind, (("any", "as it settles"),)):
            self.turn.addItem(words, key)
            if key == thing.turn:
                self.turn.setCurrentIndex(self.turn.count() - 1)
        self.turn.setEnabled(self.turn.count() > 1)
        self.reach.setCurrentIndex(max(0, self.reach.findData(thing.reach)))
        for key, flag in self.flags.items():
            flag.setChecked(bool(getattr(thing, key)))
        self.room.show_room(thing, system)
        guide = GUIDES[kind]
        self.guide_words.setText(f"{guide.ruler}\n\nPeople forget: {guide.forgotten}")

    def _show_number(self, key: str) -> None:
        edit, value = self.numbers[key], getattr(self.thing, key, None)
        if value is not None and not (edit.isModified() and edit.hasFocus()):
            edit.setText(f"{value:g}")

    def _show_measures(self, thing: AnyThing, system: System) -> None:
        names = MEASURES[thing.kind]
        if isinstance(thing, Loose) and thing.by != "count":
            names = ()
        if tuple(self.measures) != tuple(key for key, _ in names) or not self.measures:
            while (item := self._grid.takeAt(0)) is not None:
                if (old := item.widget()) is not None:
                    old.hide()
                    old.deleteLater()
            self.measures = {}
            for i, (key, words) in enumerate(names):
                edit = LengthEdit(words, 0.1, 1000.0)
                edit.setFixedWidth(84)
                edit.edited.connect(lambda v, k=key: self._say(**{k: v}))
                edit.refused.connect(self.session.trouble)
                name = DragLabel(words, edit)
                name.dragging.connect(self.session.drag)
                self._grid.addWidget(name, 0, i)
                self._grid.addWidget(edit, 1, i)
                self.measures[key] = edit
            self._grid.setColumnStretch(len(names), 1)
        for key, edit in self.measures.items():
            edit.set_value(getattr(thing, key), system)
        self.grid.setVisible(bool(names))

    def _show_kind(self, thing: AnyThing, system: System) -> None:
        """The rows that only some kinds have."""
        loose = isinstance(thing, Loose)
        by = thing.by if isinstance(thing, Loose) else ""
        self.by_row.setVisible(loose)
        self.packed_row.setVisible(by == "count")
        self.held_row.setVisible(isinstance(thing, Light))
        if isinstance(thing, Light):
            self.held.set_value(thing.held)
        if isinstance(thing, Loose):
            self.by.setCurrentIndex(self.by.findData(thing.by))
            self.packed.set_value(thing.packed)
        shown = {
            "grains": by == "count",
            "volume": by == "volume",
            "weight": by == "weight",
            "density": by == "weight",
            "sheets": isinstance(thing, Cards),
            "mass": by != "weight" and not isinstance(thing, MadeThing),
        }
        for key, visible in shown.items():
            self.number_rows[key].setVisible(visible)
        self.count_row.setVisible(not loose)
        mass_row = self.number_rows["mass"]
        assert isinstance(mass_row, Field)
        mass_row.words.setText("Weight of all, g" if loose else "Weight of one, g")
        flat = isinstance(thing, FlatPack)
        self.tag.setVisible(flat)
        tag = thing.tag if isinstance(thing, FlatPack) else None
        self.tag.setChecked(tag is not None)
        self.tag_fields.setVisible(tag is not None)
        if tag is not None:
            self.hangs.set_value(tag.hangs)
            for key, edit in self.tag_sizes.items():
                edit.set_value(getattr(tag, key), system)
