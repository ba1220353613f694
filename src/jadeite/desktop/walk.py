"""Walk the stations and save a picture of each, for the demo and the README."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer
from PyQt6.QtWidgets import QApplication

from jadeite.core.contents import Block, Light, MadeThing
from jadeite.core.pipeline import windows_from
from jadeite.core.project import Face, Hollow, Item, Project, Shape, Span
from jadeite.desktop.docket import STATIONS
from jadeite.desktop.stations import AssemblyPanel, ContentsPanel, ShapePanel
from jadeite.desktop.turns import shared_turns
from jadeite.desktop.window import Window

__all__ = ["Walk"]

PAUSE = 60  # ms between looks
QUIET = 3  # looks at rest, one after another: what is shown first asks to be painted
FIGURE = Path("examples/owl-figure.jadeite")  # the walk is taken where the examples lie
PATIENCE = 600  # looks; after that the picture is taken as it is


class Walk(QObject):
    """Opens every station in turn, waits until it has settled, and saves it."""

    def __init__(self, window: Window, folder: Path) -> None:
        super().__init__(window)
        self.window, self.folder = window, folder
        folder.mkdir(parents=True, exist_ok=True)
        window.resize(1280, 800)
        window.set_theme("light", remember=False)
        self._todo: list[tuple[str, Callable[[], None]]] = []
        for number, (key, _) in enumerate(STATIONS, start=1):
            self._todo.append((f"{number}-{key}", lambda k=key: self._open(k)))
        self._todo.append(("8-shape-flat", lambda: self._shape(0.0)))
        self._todo.append(("9-shape-half-lifted", lambda: self._shape(0.45)))
        self._todo.append(("11-shape-dark", self._dark))
        self._todo.append(("15-shelf", self._shelf))
        self._todo.append(("12-contents-divided", self._divided))
        for name, key, options, lift in (
            ("17-chest", "chest", {"stand-ups": 3.0}, 0.72),
            ("19-carton-options", "carton", {}, 0.8),
        ):
            self._todo.append((name, lambda a=(key, options, lift): self._family(*a)))
        self._todo.append(("18-petal-lantern", self._petals))
        self._todo.append(("16-table-piece", self._table_piece))
        self._todo.append(("10-lantern", self._lantern))
        self._todo.append(("13-invitation", self._invitation))
        if FIGURE.exists():
            self._todo.append(("14-printed-figure", self._figure))
        self._looks = self._rested = 0
        self._name = ""
        self._lift: float | None = None  # of the next picture, once its shape is there
        self._timer = QTimer(self)
        self._timer.setInterval(PAUSE)
        self._timer.timeout.connect(self._look)
        self._timer.start()

    def _open(self, key: str) -> None:
        self.window.open_station(key)
        if key == "cutting":
            self.window.centre.playback.set_value(0.86)
        if key == "assembly":
            panel = self.window.panels["assembly"]
            assert isinstance(panel, AssemblyPanel)
            glue = [i for i, step in enumerate(panel.steps) if step.operation == "glue"]
            panel.go(glue[0] if glue else 0)

    def _shape(self, lift: float) -> None:
        self.window.open_station("shape")
        self._lift = lift
        self.window.centre.table.key_shown = lift == 0.0

    def _dark(self) -> None:
        self.window.set_theme("dark", remember=False)
        self._shape(0.8)

    def _shelf(self) -> None:
        self.window.set_theme("light", remember=False)
        self.window.show_shelf()

    def _divided(self) -> None:
        self.window.show_shelf(False)
        self.window.session.edit(dividers="fitted")
        self.window.open_station("contents")

    def _family(self, key: str, options: dict[str, float | str], lift: float) -> None:
        """A box of another family, with something of the scenario in it."""
        lamp = Block(name="path lamp", length=70, width=45, height=60, mass=90, turn="upright")
        things = () if key == "chest" else (lamp,)
        inside = (120.0, 80.0, 50.0) if key == "chest" else None
        self.window.session.edit(
            contents=things, brief=Hollow(size=inside), shape=Shape(key=key, options=options)
        )
        shape = self.window.panels["shape"]
        assert isinstance(shape, ShapePanel)
        shape.show_pictures.setChecked(key == "carton")
        self._shape(lift)

    def _petals(self) -> None:
        """A petal lantern of translucent paper round a light that is on."""
        light = Light(name="path light", mass=20)
        self.window.session.edit(
            contents=(light,), brief=Hollow(), shape=Shape(key="petal-lantern"),
            boards={"petal-1": "translucent"},
        )  # fmt: skip
        self._shape(1.0)

    def _table_piece(self) -> None:
        """Moonflowers on an oval board, with veins in their leaves."""
        shape = self.window.panels["shape"]
        assert isinstance(shape, ShapePanel)
        shape.show_pictures.setChecked(False)
        options = {"form": "oval", "leaf-lines": "veins", "petal-lines": "middle"}
        self.window.session.edit(
            contents=(), brief=Span(width=280.0), shape=Shape(key="table-piece", options=options),
            boards={},
        )  # fmt: skip
        self._shape(1.0)

    def _lantern(self) -> None:
        """A path lantern with lined windows, its light on, in the dark."""
        light = Light(name="path light", mass=20)
        session = self.window.session
        session.edit(
            contents=(light,),
            brief=Hollow(size=(64.0, 64.0, 100.0)),
            shape=Shape(key="lantern"),
            boards={},
        )
        made = windows_from(session.task, session.work.arrangement, "walls", "leaves", lined=True)
        session.edit(windows=made)
        self.window.set_theme("dark", remember=False)
        self.window.centre.toggle_night()
        self._shape(1.0)

    def _invitation(self) -> None:
        """A card and its envelope, which follows the card's size."""
        card = Item(
            name="card",
            shape=Shape(key="folded-card"),
            brief=Face(size=(105.0, 148.0)),
            boards={"card": "heavy-card"},
            colours={"card": "#4A5870", "layer-1": "#E8DDC5", "inset": "#E8DDC5"},
        )
        envelope = Item(
            name="envelope",
            shape=Shape(key="envelope", options={"liner": "one"}),
            contents=(MadeThing(name="card", item="card"),),
            colours={"envelope": "#9CC5B3"},
        )
        self.window.centre.toggle_night()
        title = "Invitation to the open night"
        session = self.window.session
        session.open_copy(Project(title=title, items=(card, envelope)))
        self.window.set_theme("light", remember=False)
        session.choose("envelope")
        self._shape(0.93)

    def _figure(self) -> None:
        """A picture whose figure was found, as it is cut out by hand and brush."""
        self.window.commands.open_path(FIGURE)
        self.window.open_station("contents")
        contents = self.window.panels["contents"]
        assert isinstance(contents, ContentsPanel)
        contents.picture.view.buttons["picture"].click()

    def _look(self) -> None:
        self._looks += 1
        self._rested = self._rested + 1 if _at_rest(self.window) else 0
        if self._rested < QUIET and self._looks < PATIENCE:
            return
        self._rested = 0
        if self._lift is not None:
            self.window.centre.lift.set_value(self._lift)
            self._lift = None
            return
        if self._name:
            self.window.grab().save(str(self.folder / f"{self._name}.png"))
            print(self.folder / f"{self._name}.png", flush=True)
            self._name = ""
        if not self._todo:
            self._timer.stop()
            self.window.session.discard()
            QApplication.exit(0)
            return
        self._name, act = self._todo.pop(0)
        act()
        self._looks = 0


def _at_rest(window: Window) -> bool:
    """Whether everything is worked out and painted."""
    table, shape = window.centre.table, window.panels["shape"]
    working = any(job.busy for job in window.session.extra_jobs)
    if isinstance(shape, ShapePanel):
        working = working or shape.pictures.pending
    working = working or window.centre.shelf.pending or window.choice.busy
    painting = (table.isVisible() and table.busy) or shared_turns().busy
    return not (window.busy or working or painting)
