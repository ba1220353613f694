"""The chosen panel: its figures, and an overlay on it."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox

from jadeite.core.dressings import overlay_refused
from jadeite.core.dressings.overlays import LEAST_BORDER, MOST_BORDER, USUAL_BORDER
from jadeite.core.nets import Piece
from jadeite.core.nets.arrivals import When
from jadeite.core.nets.roles import Role
from jadeite.core.patterns import MOTIFS
from jadeite.core.project import Overlay
from jadeite.core.reckoning import Reckoning, given, reckon
from jadeite.core.units import System
from jadeite.desktop.lengths import LengthEdit
from jadeite.desktop.session import Session
from jadeite.desktop.stations.base import ResultsCard
from jadeite.desktop.widgets import Segmented, button

__all__ = ["PanelCard", "panel_results"]

FOAMS = (("0", "no"), ("1", "1 mm"), ("2", "2 mm"), ("3", "3 mm"))


def panel_results(piece: Piece, name: str) -> list[tuple[str, Reckoning, str]]:
    """What may be asked about one panel."""
    panel = piece.panel(name)
    out = [
        ("panel-width", given("Along its fold", panel.size[0]), ""),
        ("panel-depth", given("Away from its fold", panel.size[1]), ""),
    ]
    for fold in piece.folds:
        if fold.child == name and fold.tree:
            turn = reckon(
                "Fold",
                abs(fold.angle),
                f"{fold.mark}, seen from the good side; {fold.kind}",
                given("length of the fold", fold.length),
                unit="deg",
            )
            out.append(("panel-fold", turn, f"Fold, {fold.mark}"))
    return out


class PanelCard(ResultsCard):
    """Width and depth of the chosen panel, its fold, and what may be glued on it."""

    def __init__(self, session: Session) -> None:
        super().__init__("")
        self.session = session
        self.panel: tuple[str, str] | None = None
        self.border = LengthEdit("Border of the overlay", LEAST_BORDER, MOST_BORDER)
        self.border.set_value(USUAL_BORDER)
        self.border.edited.connect(lambda _: self._change())
        self.border.refused.connect(session.trouble)
        self.overlay = button("Add an overlay", self._toggle, "plain")
        self.row(
            "Overlay, border",
            self.border,
            "A piece in another colour, smaller by this on every side, put on while flat.",
        )
        self.foam = Segmented(FOAMS, "How the overlay is put on")
        self.foam.set_value("0")
        self._foam = 0.0  # as it is, which may lie between the choices
        self.foam.chosen.connect(self._choose_foam)
        self.row(
            "On foam",
            self.foam,
            "Pads in place of glue lift it off the panel, for a shadow; under a lid that counts.",
        )
        self.cutouts = QComboBox()
        self.cutouts.setAccessibleName("Pattern cut out of the overlay")
        self.cutouts.addItem("none", "")
        for key, motif in MOTIFS.items():
            self.cutouts.addItem(motif.title, key)
        self.row(
            "Cut-outs of its own",
            self.cutouts,
            "A pattern cut out of the overlay; the panel shows through it.",
        )
        self.stiffener = Segmented((("plain", "no"), ("stiff", "yes")), "On a stiffener")
        self.stiffener.set_value("plain")
        self.row(
            "On a stiffener",
            self.stiffener,
            "It stands proud and stiff; the overlay is larger by what wraps over the thickness.",
        )
        for changed in (self.stiffener.chosen, self.cutouts.activated):
            changed.connect(lambda _: self._change())
        self.add(self.overlay)

    def _others(self) -> tuple[Overlay, ...]:
        """Overlays on other panels than the chosen one."""
        return tuple(o for o in self.session.task.overlays if (o.piece, o.panel) != self.panel)

    def _has(self) -> bool:
        return len(self._others()) < len(self.session.task.overlays)

    def _wanted(self, piece: str, panel: str) -> Overlay:
        return Overlay(
            piece=piece,
            panel=panel,
            border=self.border.value(),
            stiffener=self.stiffener.value() == "stiff",
            foam=self._foam,
            pattern=str(self.cutouts.currentData() or ""),
        )

    def _change(self) -> None:
        """Change the overlay on the chosen panel, if it has one."""
        if self.panel is not None and self._has():
            self.session.edit(overlays=(*self._others(), self._wanted(*self.panel)))

    def _choose_foam(self, thick: str) -> None:
        self._foam = float(thick)
        self._change()

    def _toggle(self) -> None:
        """Put an overlay on the chosen panel, or take it away."""
        if self.panel is None:
            return
        if self._has():
            self.session.edit(overlays=self._others())
            return
        try:
            mine = self._wanted(*self.panel)
        except ValueError:
            self.session.trouble.emit("Overlay: this panel can have none. Choose another panel.")
            return
        work = self.session.work
        if work.design is None:
            return
        refused = overlay_refused(work.settled, work.family, work.design, mine)
        if refused:  # what cannot be is not kept in the project
            self.session.trouble.emit(refused)
            return
        self.session.edit(overlays=(*self._others(), mine))

    def show_panel(self, chosen: tuple[str, str] | None, system: System) -> None:
        """Show the figures of a panel; nothing where none is chosen."""
        self.panel = chosen
        design = self.session.work.design
        if design is None or chosen is None or not design.has(chosen):
            self.show_results([], system)
            self.setVisible(False)
            return
        piece = design.piece(chosen[0])
        panel = piece.panel(chosen[1])
        title = panel.title
        self.heading.setText(
            title
            if title.startswith(piece.title)
            else f"{piece.title}, {title} wall"
            if panel.role is Role.WALL and "wall" not in title
            else f"{piece.title}: {title}"
        )
        self.heading.setVisible(True)
        self.show_results(panel_results(piece, chosen[1]), system)
        lying = design.arrivals.comes(piece.name, When.FLAT, When.BEHIND)
        plain = panel.role.traits.cover and not lying
        for editor in (self.border, self.overlay, self.foam, self.cutouts, self.stiffener):
            editor.setEnabled(plain)
        here = [o for o in self.session.task.overlays if (o.piece, o.panel) == chosen]
        windowed = any(o.kind == "window" for o in panel.openings)
        what = "second frame" if windowed else "overlay"
        self.overlay.setText(
            f"Take the {what} away" if here else f"Add {'a' if windowed else 'an'} {what}"
        )
        if here:
            self.border.set_value(here[0].border, system)
            self.stiffener.set_value("stiff" if here[0].stiffener else "plain")
            self._foam = here[0].foam
            self.foam.set_value(f"{self._foam:.0f}")
            self.cutouts.setCurrentIndex(max(0, self.cutouts.findData(here[0].pattern)))
        self.setVisible(True)
