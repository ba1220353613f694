"""Board: what each part is made of, and what that means."""

from __future__ import annotations

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QColor, QIcon, QPixmap
from PyQt6.QtWidgets import QComboBox

from jadeite.core.boards import CATALOGUE, floor_sag, grammage_reckoning, smallest_roll
from jadeite.core.pictures.palette import BOARD_COLOURS
from jadeite.core.pipeline import mass_of_contents
from jadeite.core.reckoning import Mark, Reckoning, given
from jadeite.desktop.stations.base import Panel, ResultsCard
from jadeite.desktop.widgets import Card, label

__all__ = ["BoardPanel", "lightest_that_holds"]


def lightest_that_holds(length: float, width: float, mass: float) -> str:
    """Key of the lightest board whose floor keeps its limit; empty when none does."""
    if not (length and width):
        return ""
    held = [b for b in CATALOGUE if mass == 0 or floor_sag(b, length, width, mass).holds]
    return min(held, key=lambda b: b.grammage).key if held else ""


class BoardPanel(Panel):
    """A board and a colour for each part, and what the board means here."""

    def build(self) -> None:
        """Make the widgets, once."""
        card = Card("Board of each part")
        self.boards: dict[str, QComboBox] = {}
        self.colours: dict[str, QComboBox] = {}
        family = self.session.work.family
        for part, title in (p for p in family.parts if p[0] not in family.when):
            board = QComboBox()
            board.setFixedWidth(192)
            for b in CATALOGUE:
                board.addItem(f"{b.title}, {b.grammage:.0f} g/m²", b.key)
            board.activated.connect(lambda _, k=part: self._set_board(k))
            card.row(title, board, f"The board of the {title.lower()}.")
            self.boards[part] = board
            colour = QComboBox()
            colour.setFixedWidth(192)
            colour.setIconSize(QSize(22, 14))
            for name, value in BOARD_COLOURS:
                patch = QPixmap(22, 14)
                patch.fill(QColor(value))
                colour.addItem(QIcon(patch), name, value)
            colour.activated.connect(lambda _, k=part: self._set_colour(k))
            card.row(f"{title}, colour", colour, "Only for the pictures and for sorting sheets.")
            self.colours[part] = colour
        self.column.addWidget(card)
        why = Card("The lightest that holds")
        self.why = label("", "", wrap=True)
        why.add(self.why)
        self.column.addWidget(why)
        self.results = ResultsCard()
        self.column.addWidget(self.results)
        self.note = label("", "small", wrap=True)
        self.results.body.addWidget(self.note)

    def _set_board(self, part: str) -> None:
        boards = self.session.project.boards | {part: self.boards[part].currentData()}
        self.session.edit(boards=boards)

    def _set_colour(self, part: str) -> None:
        colours = self.session.project.colours | {part: self.colours[part].currentData()}
        self.session.edit(colours=colours)

    def choose_board(self, key: str) -> None:
        """Use one board for every part."""
        self.session.edit(boards={part: key for part, _ in self.session.work.family.parts})

    def refresh(self) -> None:
        """Show the document as it now is."""
        project, work = self.session.project, self.session.work
        for part, combo in self.boards.items():
            combo.setCurrentIndex(combo.findData(project.board_of(part)))
            colour = self.colours[part]
            value = project.colours.get(part, BOARD_COLOURS[0][1])
            colour.setCurrentIndex(max(0, colour.findData(value)))
        self.results.show_results(self._results(), self.system)
        part = work.family.parts[0][0]
        board = work.boards[part]
        words = {
            "no": "no score needed",
            "light": "a light score is enough",
            "yes": "score every fold",
            "wheel": "score with a wheel",
            "hinge": "cut through each fold and hinge it with paper",
        }[board.score]
        self.note.setText(f"{board.title}: {words}; {board.note}.")
        self.why.setText(self._why())

    def _why(self) -> str:
        work = self.session.work
        mass = mass_of_contents(self.session.project)
        if work.design is None:
            return "Add contents first."
        if mass == 0:
            return (
                "No weight is known, so every board holds. Give the things a weight to see "
                "the floor sag."
            )
        length, width = work.inside[:2]
        key = lightest_that_holds(length, width, mass)
        if not key:
            return (
                f"None of these holds {mass:.0f} g without showing a sag. Divide the load, or "
                "glue a second ply under the floor."
            )
        ordered = sorted(CATALOGUE, key=lambda b: b.grammage)
        best = next(b for b in ordered if b.key == key)
        below = [b for b in ordered if b.grammage < best.grammage]
        sag = floor_sag(best, length, width, mass)
        text = (
            f"{best.title}: the floor sags {sag.sag.value:.1f} mm under {mass:.0f} g, up to "
            f"{sag.limit.value:.1f} mm is hardly seen."
        )
        if below:
            lighter = floor_sag(below[-1], length, width, mass)
            text += f" {below[-1].title}, the next lighter, sags {lighter.sag.value:.1f} mm."
        return text

    def _results(self) -> list[tuple[str, Reckoning, str]]:
        work = self.session.work
        out: list[tuple[str, Reckoning, str]] = []
        part, title = work.family.parts[0]
        board = work.boards[part]
        if work.sag is not None:
            out += [("sag", work.sag.sag, ""), ("limit", work.sag.limit, "")]
        out += [
            ("grammage", grammage_reckoning(board), f"Grammage, {title.lower()}"),
            (
                "thickness",
                Reckoning("Thickness", board.thickness, "mm", mark=Mark.MEMORY),
                f"Thickness, {title.lower()}",
            ),
            ("curl", smallest_roll(board), ""),
            ("passes", given("Passes", board.passes, ""), "Cutting passes"),
        ]
        for key in ("lid-clearance", "board-area", "weight"):
            if key in work.sizes:
                out.append((key, work.sizes[key], ""))
        return out
