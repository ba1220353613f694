"""Contents: what goes in, how it goes in, and how it lies together."""

from __future__ import annotations

from PyQt6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from jadeite.core.contents import AnyThing, FlatPack, headroom, room_around, tag_room
from jadeite.core.contents.cells import UP
from jadeite.core.contents.clearance import finger_room
from jadeite.core.contents.things import Turned
from jadeite.core.project import Face, Hollow, Span, put_into
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.steps import Steps
from jadeite.core.units import format_size
from jadeite.desktop.stations.base import Panel, ResultsCard
from jadeite.desktop.stations.face_card import FaceCard
from jadeite.desktop.stations.inside_card import InsideCard
from jadeite.desktop.stations.kinds import FLAT_KINDS, MADE, NEW, TILES
from jadeite.desktop.stations.names_card import NamesCard
from jadeite.desktop.stations.other_form import OtherForm
from jadeite.desktop.stations.picture_card import PictureCard
from jadeite.desktop.stations.place_card import PlaceCard
from jadeite.desktop.stations.thing_editor import ThingEditor
from jadeite.desktop.stations.tiles import KindTile
from jadeite.desktop.widgets import Card, button, clear_layout, label

__all__ = ["ContentsPanel"]

LITTLE = 1e-6  # mm; rounding
COLUMNS = 5
FACE_SIZES = (
    "flat-length",
    "fold-from-edge",
    "thickness",
    "inside-width",
    "inside-height",
    "outside-thickness",
)
SPAN_SIZES = (
    "finished-width",
    "finished-depth",
    "finished-height",
    "fullness",
    "layers-seen",
    "rim-gap",
    "petals-lean",
    "opening",
    "flowers",
    "large-width",
    "small-width",
    "leaves",
    "strip-length",
    "hollow-centre",
    "second-length",
    "stays-open",
    "pearl",
    "lines-time",
    "wire-length",
)


class ContentsPanel(Panel):
    """Things, the chosen one's figures, the inside, and arrangements."""

    def build(self) -> None:
        """Make the widgets, once."""
        self.add_card = add = Card("Add a thing")
        self._grid = grid = QGridLayout()
        grid.setSpacing(5)
        self._placed: tuple[str, ...] = ()
        self.add_tiles: dict[str, KindTile] = {}
        for kind, words, tip in TILES:
            tile = KindTile(kind, words, f"{tip} Hold the ruler along the blue lines.")
            tile.setParent(add)  # or it flashes as a window of its own
            tile.clicked.connect(lambda _=False, k=kind: self.add_thing(k))
            self.add_tiles[kind] = tile
        kind, words, tip = MADE
        self.made_tile = KindTile(kind, words, tip)
        self.made_tile.setParent(add)
        self.made_tile.setMinimumWidth(76)  # two words
        self.made_menu = QMenu(self.made_tile)
        self.made_menu.aboutToShow.connect(self._fill_made)
        self.made_tile.setMenu(self.made_menu)
        self.add_tiles[kind] = self.made_tile
        add.body.addLayout(grid)
        self._list = QVBoxLayout()
        self._list.setSpacing(3)
        add.body.addLayout(self._list)
        self.column.addWidget(add)
        self.editor = ThingEditor(self.session)
        self.editor.changed.connect(lambda fields: self._change(**fields))
        self.column.addWidget(self.editor)
        self.names = NamesCard(self.session)
        self.column.addWidget(self.names)
        self.picture = PictureCard(self.session)
        self.column.addWidget(self.picture)
        self.face = FaceCard(self.session)
        self.column.addWidget(self.face)
        self.place = PlaceCard(self.session)
        self.column.addWidget(self.place)
        self.inside = InsideCard(self.session)
        self.column.addWidget(self.inside)
        self.results = ResultsCard("Why this size")
        self.column.addWidget(self.results)
        self.other = OtherForm(self.session)
        self.column.addWidget(self.other)
        self.chosen = 0
        self._rows: list[QPushButton] = []
        self._shown: object = None

    # ------------------------------------------------------------- changes

    def add_thing(self, kind: str) -> None:
        """Put a new thing on the list, ready to be measured."""
        things = self.session.task.contents
        self.chosen = len(things)
        self.session.edit(contents=(*things, NEW[kind]))
        self.editor.name.setFocus()
        self.editor.name.selectAll()

    def _place_tiles(self) -> None:
        """Those that are offered, one after another."""
        shown = tuple(k for k, tile in self.add_tiles.items() if not tile.isHidden())
        if shown == self._placed:
            return
        self._placed = shown
        for kind, tile in self.add_tiles.items():
            self._grid.removeWidget(tile)
            if kind in shown:
                at = shown.index(kind)
                wide = 2 if kind == MADE[0] and at % COLUMNS < COLUMNS - 1 else 1  # two words
                self._grid.addWidget(tile, at // COLUMNS, at % COLUMNS, 1, wide)

    def _fill_made(self) -> None:
        """The other made things of the job, which may go in."""
        self.made_menu.clear()
        session = self.session
        for name in session.project.names:
            if name == session.chosen or name in session.item.carried:
                continue
            action = self.made_menu.addAction(name)
            assert action is not None
            action.triggered.connect(lambda _=False, n=name: self.put_in(n))

    def put_in(self, name: str) -> None:
        """Another made thing of the job goes in."""
        session = self.session
        self.chosen = len(session.item.contents)
        session.trying(lambda: put_into(session.project, name, session.chosen))

    def remove_thing(self, index: int) -> None:
        """Take a thing off the list."""
        things = list(self.session.task.contents)
        del things[index]
        self.chosen = max(0, min(self.chosen, len(things) - 1))
        self.session.edit(contents=tuple(things))

    def _change(self, **fields: object) -> None:
        things = list(self.session.task.contents)
        if not 0 <= self.chosen < len(things) or fields.get("name") == "":
            self.refresh()
            return
        data = things[self.chosen].model_dump() | fields
        self.session.edit(contents=(*things[: self.chosen], data, *things[self.chosen + 1 :]))
        self.editor.show_thing(self.session.task.contents[self.chosen], self.system, self.palette_)

    def _choose(self, index: int) -> None:
        self.chosen = index
        self.refresh()

    # ------------------------------------------------------------- showing

    def refreshing(self) -> Steps[None]:
        """Show the document as it now is."""
        task = self.session.task
        things = task.contents
        self.chosen = max(0, min(self.chosen, len(things) - 1))
        face, span = isinstance(task.brief, Face), isinstance(task.brief, Span)
        family = self.session.work.family
        bears = family.names and family.border is None  # nothing is mounted over a name
        self.add_card.setVisible(bool(things) or not (span or bears))
        several = len(self.session.project.items) > 1
        for kind, tile in self.add_tiles.items():
            tile.palette_ = self.palette_
            fits = kind in FLAT_KINDS or family.border is None
            tile.setVisible(fits and (kind != "made" or several))
            tile.update()
        self._place_tiles()
        self.add_card.heading.setText("Mount a thing on it" if face else "Add a thing")
        self._show_list(things)
        yield
        self.editor.setVisible(bool(things))
        self.other.setVisible(bool(things) and not face and not span)
        if things:
            self.editor.show_thing(things[self.chosen], self.system, self.palette_)
            yield
            self.other.show_thing(things[self.chosen], self.system)
        yield
        self.face.show_face(task, self.system)
        self.names.show_names(task)
        self.picture.show_picture(task)
        self.place.show_place(task, self.system)
        self.inside.setVisible(not face and not span)
        if not face and not span:
            self.inside.show_inside(task, self.system)
        self.results.show_results(self._results(), self.system)

    def _results(self) -> list[tuple[str, Reckoning, str]]:
        """The inside along each axis, and what is left over the things."""
        arrangement = self.session.arrangement()
        if isinstance(self.session.task.brief, Face):
            sizes = self.session.work.sizes
            return [(key, sizes[key], "") for key in FACE_SIZES if key in sizes]
        if isinstance(self.session.task.brief, Span):
            sizes = self.session.work.sizes
            return [(key, sizes[key], "") for key in SPAN_SIZES if key in sizes]
        task, work = self.session.task, self.session.work
        things = task.contents
        if arrangement is None or not arrangement.places:
            return []
        mouth, out = work.family.mouth, []
        found = isinstance(task.brief, Hollow) and task.brief.size is None  # not typed
        for axis, name in enumerate(("length", "width", "height")):
            place = max(arrangement.places, key=lambda p: p.low[axis] + p.cell[axis])
            last = things[place.thing]
            terms = [
                reckon(f"what lies before {last.name}", place.low[axis], "things and room"),
                reckon(last.name, place.solid[axis], "its own size"),
            ]
            if axis != UP:
                turned = Turned(place.solid, place.axis, place.tall)
                terms.append(room_around(last, turned, axis, task.fits))
            if (
                finger_room(last, task.fits)
                and axis != UP
                and place.cell[axis] > place.solid[axis] + 10
            ):
                terms.append(given("room for a finger", finger_room(last, task.fits)))
            if isinstance(last, FlatPack) and tag_room(last, task.fits) and axis == place.tall:
                terms.append(given(f"string and tag of {last.name}", tag_room(last, task.fits)))
            if axis == mouth:
                terms.append(headroom(last, task.fits))
            # what is put on the walls takes room as well: the inside that is made counts it
            made = work.inside[axis] if found else 0.0
            more = max(0.0, made - arrangement.inside[axis])
            if more > LITTLE:
                terms.append(given("linings and what else is on the walls", more))
            value = reckon(
                f"Inside {name}",
                arrangement.inside[axis] + more,
                "the longest row of things, each with its room on both sides",
                *terms,
            )
            out.append((f"inside-{name}", value, ""))
        if any(work.inside):
            top = max(p.low[mouth] + p.under + p.solid[mouth] for p in arrangement.places)
            if mouth != UP:
                top = max(p.low[mouth] + p.cell[mouth] for p in arrangement.places)
            free = reckon(
                "Free to the mouth" if mouth != UP else "Free under the lid",
                work.inside[mouth] - top,
                "inside less where the highest thing ends",
                given("inside", work.inside[mouth]),
                given("things end at", top),
            )
            out.append(("headroom", free, ""))
        return out

    def _show_list(self, things: tuple[AnyThing, ...]) -> None:
        face = isinstance(self.session.task.brief, Face)
        key = (things, self.chosen, self.system, face)
        if key == self._shown:
            return
        self._shown = key
        clear_layout(self._list)
        self._rows = []
        if not things:
            self._list.addWidget(
                label(
                    "Nothing on it. A photo or a seal is measured as drawn."
                    if face
                    else "Nothing yet. Choose what kind of thing it is, then measure it as drawn.",
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
