"""The picture that a figure is cut out of: which, how its outline is found, corrected by hand."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QSlider, QWidget

from jadeite.core.errors import JadeiteError
from jadeite.core.photos import verdict
from jadeite.core.pipeline import outline_option, with_figure
from jadeite.core.project import Photo, Rubbed, Task, changed
from jadeite.desktop.jobs import Job
from jadeite.desktop.session import Session
from jadeite.desktop.views.photo_view import CROP, DROP, KEEP
from jadeite.desktop.widgets import Card, NumberBox, Segmented, button, label

__all__ = ["PICTURES", "PictureCard", "photo_on"]

PICTURES = "Pictures (*.png *.jpg *.jpeg);;All files (*)"
WAYS = (
    ("auto", "by itself"),
    ("clear", "transparent background"),
    ("plain", "background of one colour"),
    ("busy", "busy background"),
    ("whole", "all of the picture"),
)
WIDTH = 186
LARGEST = 12  # per cent of the longer side, of the brush's radius; from memory
WHOLE = (0.0, 0.0, 1.0, 1.0)


def photo_on(task: Task) -> Photo | None:
    """The picture whose figure is cut out; None where a drawn one is."""
    key = outline_option(task)
    if key is None or len(str(task.shape.options.get(key, ""))) < 20:  # a drawn one by its key
        return None
    printed = {p.photo for p in task.prints}
    return next((photo for photo in reversed(task.photos) if photo.key in printed), None)


class PictureCard(Card):
    """Decides which picture a figure is cut out of, and how its outline is found."""

    view_asked = pyqtSignal(bool)
    tool_chosen = pyqtSignal(str, float)  # what the pointer does, and how wide

    def __init__(self, session: Session) -> None:
        super().__init__("Picture")
        self.session = session
        self.said = ""
        self.opener = Job("photo", self)
        self.opener.succeeded.connect(self._on_photo)
        self.finder = Job("figure", self)
        self.finder.succeeded.connect(self._on_figure)
        for job in (self.opener, self.finder):
            job.failed.connect(self._on_refused)
            session.extra_jobs.append(job)
        self.words = self.add(label("", "small", wrap=True))
        self.open = button("Choose a picture …", self._ask, "main", "A PNG or JPEG of yours.")
        self.view = Segmented((("table", "on the table"), ("picture", "its picture")), "Show")
        self.view.chosen.connect(lambda key: self.view_asked.emit(key == "picture"))
        self.view.set_value("table")
        line = QHBoxLayout()
        line.addWidget(self.open)
        line.addStretch(1)
        self.body.addLayout(line)
        self.add(self.view)
        self.way = QComboBox()
        for key, words in WAYS:
            self.way.addItem(words, key)
        self.way.setFixedWidth(WIDTH)
        self.way.activated.connect(lambda _: self._change(way=self.way.currentData()))
        self.fine = NumberBox("How much is background", 20, 400, " %")
        self.fine.chosen.connect(lambda value: self._change(tolerance=value / 100))
        self.tool = Segmented(
            ((KEEP, "brush"), (DROP, "rubber"), (CROP, "crop")), "What the pointer does"
        )
        self.tool.set_value(KEEP)
        self.tool.chosen.connect(lambda _: self._tell_tool())
        self.wide = QSlider(Qt.Orientation.Horizontal)
        self.wide.setRange(4, 10 * LARGEST)
        self.wide.setValue(30)
        self.wide.setFixedWidth(WIDTH)
        self.wide.valueChanged.connect(lambda _: self._tell_tool())
        self.undo = button(
            "Take strokes back", self.take_back, "plain", "All strokes and the crop."
        )
        self.rows: tuple[QWidget, ...] = (
            self.row("Found", self.way, "How the figure is told from its background."),
            self.row("Background", self.fine, "With more, more of the picture is background."),
            self.row("Pointer", self.tool, "The brush keeps what it covers, the rubber drops it; "
                     "the crop marks what is looked at."),
            self.row("As wide as", self.wide, "Of the brush and the rubber."),
            self.add(self.undo),
        )  # fmt: skip

    def _ask(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "A picture to cut out", "", PICTURES)
        if name:
            self.take_in(Path(name))

    def take_in(self, path: Path) -> None:
        """Cut the figure out of a picture's file."""
        self.words.setText(f"Reading {path.name} …")
        taken = tuple(photo.key for photo in self.session.task.photos)
        self.opener.start(self.session.chosen, str(path), taken)

    def _on_photo(self, photo: object, item: object) -> None:
        if isinstance(photo, Photo) and item == self.session.chosen:
            self._find(photo)

    def _find(self, photo: Photo) -> None:
        self.words.setText(f"Looking for the figure in {photo.title} …")
        self.finder.start((self.session.chosen, photo), photo)

    def _on_figure(self, found: object, wanted: object) -> None:
        if not isinstance(found, tuple) or not isinstance(wanted, tuple):
            return
        item, photo = wanted
        if item != self.session.chosen:
            return
        outline, self.said = found
        work = self.session.work
        try:
            fields = with_figure(self.session.task, work.design, photo, outline)
        except JadeiteError as error:
            self.session.trouble.emit(str(error))
            return
        self.session.edit(**fields)
        if self.view.value() != "picture":
            self.view.set_value("picture")
            self.view_asked.emit(True)

    def _on_refused(self, words: str) -> None:
        self.session.trouble.emit(f"Picture: {words}")
        self.show_picture(self.session.task)

    def _change(self, **fields: object) -> None:
        photo = photo_on(self.session.task)
        if photo is not None:
            self._find(changed(photo, **fields))

    def rub(self, keeps: bool, radius: float, points: object) -> None:
        """A stroke over the picture."""
        photo = photo_on(self.session.task)
        if photo is not None:
            stroke = Rubbed.model_validate({"keeps": keeps, "radius": radius, "points": points})
            self._change(strokes=(*photo.strokes, stroke))

    def crop(self, part: object) -> None:
        """Only a part of the picture is looked at."""
        self._change(crop=part)

    def take_back(self) -> None:
        """Without strokes, and all of the picture looked at."""
        self._change(strokes=(), crop=WHOLE)

    def _tell_tool(self) -> None:
        self.tool_chosen.emit(self.tool.value(), self.wide.value() / 1000)

    def show_picture(self, task: Task) -> None:
        """Show the decisions; hidden where nothing is cut out of a picture."""
        has = outline_option(task) is not None
        self.setVisible(has)
        if not has:
            return
        photo = photo_on(task)
        for part in (*self.rows, self.view):
            part.setVisible(photo is not None)
        self.open.setText("Choose another …" if photo is not None else "Choose a picture …")
        if photo is None:
            self.words.setText(
                "A drawn figure, its lines printed. Or choose a picture of yours: its figure is "
                "cut free of the background, and printed with marks for the cutter."
            )
            return
        self.way.setCurrentIndex(self.way.findData(photo.way))
        self.fine.set_value(100 * photo.tolerance)
        self.undo.setEnabled(bool(photo.strokes) or photo.crop != WHOLE)
        sharp = self.session.work.sizes.get("sharpness")
        told = [f"{photo.title}, {photo.size[0]} × {photo.size[1]} pixels.", self.said]
        if sharp is not None:
            told.append(f"{sharp.value:.0f} pixels an inch: {verdict(sharp.value)}.")
        with QSignalBlocker(self.view):
            self.words.setText(" ".join(part for part in told if part))
