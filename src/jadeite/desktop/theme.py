"""The look: palette to Qt, fonts, and the style sheet."""

from __future__ import annotations

import atexit
import tempfile
from functools import cache
from importlib.resources import files
from pathlib import Path

from PyQt6.QtCore import QByteArray, QRectF, QSize, Qt
from PyQt6.QtGui import (
    QColor,
    QFont,
    QFontDatabase,
    QGuiApplication,
    QIcon,
    QPainter,
    QPalette,
    QPixmap,
)
from PyQt6.QtSvg import QSvgRenderer
from PyQt6.QtWidgets import QApplication

from jadeite.core.pictures import DARK, LIGHT, Palette

__all__ = ["apply_theme", "base_font", "icon", "load_fonts", "palette_for", "style_sheet"]

FAMILY = "Atkinson Hyperlegible Next"
BASE_POINTS = 10.5


def load_fonts() -> None:
    """Register the shipped typeface."""
    folder = files("jadeite.assets") / "fonts"
    for weight in (400, 600, 700):
        data = (folder / f"AtkinsonHyperlegibleNext-{weight}.ttf").read_bytes()
        QFontDatabase.addApplicationFontFromData(QByteArray(data))


def base_font(points: float = BASE_POINTS, weight: int = 400) -> QFont:
    """The one typeface at a size."""
    family = f"{FAMILY} SemiBold" if weight == 600 else FAMILY
    font = QFont([family, FAMILY, "sans-serif"])
    font.setPointSizeF(points)
    if weight >= 700:
        font.setWeight(QFont.Weight.Bold)
    return font


def palette_for(choice: str) -> Palette:
    """The palette of a choice: ``light``, ``dark`` or ``desktop``."""
    if choice == "desktop":
        hints = QGuiApplication.styleHints()
        dark = hints is not None and hints.colorScheme() == Qt.ColorScheme.Dark
        return DARK if dark else LIGHT
    return DARK if choice == "dark" else LIGHT


@cache
def icon(name: str, colour: str, size: int = 20) -> QIcon:
    """One of our own line icons in a colour."""
    source = (files("jadeite.assets") / "icons" / f"{name}.svg").read_text(encoding="utf-8")
    renderer = QSvgRenderer(QByteArray(source.replace("currentColor", colour).encode()))
    out = QIcon()
    for factor in (1, 2):
        image = QPixmap(QSize(size * factor, size * factor))
        image.fill(Qt.GlobalColor.transparent)
        painter = QPainter(image)
        renderer.render(painter, QRectF(0, 0, size * factor, size * factor))
        painter.end()
        image.setDevicePixelRatio(factor)
        out.addPixmap(image)
    return out


def _qt_palette(p: Palette) -> QPalette:
    out = QPalette()
    roles = {
        QPalette.ColorRole.Window: p.ground,
        QPalette.ColorRole.Base: p.sheet,
        QPalette.ColorRole.AlternateBase: p.ground,
        QPalette.ColorRole.Text: p.ink,
        QPalette.ColorRole.WindowText: p.ink,
        QPalette.ColorRole.Button: p.sheet,
        QPalette.ColorRole.ButtonText: p.ink,
        QPalette.ColorRole.Highlight: p.jade,
        QPalette.ColorRole.HighlightedText: p.on_jade,
        QPalette.ColorRole.PlaceholderText: p.quiet,
        QPalette.ColorRole.ToolTipBase: p.sheet,
        QPalette.ColorRole.ToolTipText: p.ink,
        QPalette.ColorRole.Link: p.river_text,
    }
    for role, colour in roles.items():
        out.setColor(role, QColor(colour))
    for role in (
        QPalette.ColorRole.Text,
        QPalette.ColorRole.WindowText,
        QPalette.ColorRole.ButtonText,
    ):
        out.setColor(QPalette.ColorGroup.Disabled, role, QColor(p.quiet))
    return out


def apply_theme(app: QApplication, p: Palette) -> None:
    """Colours and font for the whole application; the parts of a window have style sheets."""
    style = app.style()
    if style is None or style.objectName() != "fusion":
        app.setStyle("Fusion")
    font = base_font()
    if app.font() != font:  # to set it anew visits every widget
        app.setFont(font)
    app.setPalette(_qt_palette(p))


@cache
def _icon_file(name: str, colour: str) -> str:
    """An icon in a colour as a file, for the style sheet; removed at the end."""
    folder = Path(_icon_folder())
    path = folder / f"{name}-{colour.lstrip('#')}.svg"
    source = (files("jadeite.assets") / "icons" / f"{name}.svg").read_text(encoding="utf-8")
    path.write_text(source.replace("currentColor", colour), encoding="utf-8")
    return path.as_posix()


@cache
def _icon_folder() -> str:
    folder = tempfile.TemporaryDirectory(prefix="jadeite-")
    atexit.register(folder.cleanup)
    return folder.name


@cache
def style_sheet(p: Palette) -> str:
    """For the parts of a window, and for dialogs."""
    up, down = _icon_file("up", p.quiet), _icon_file("down", p.quiet)
    return f"""
QWidget {{ font-family: "{FAMILY}"; font-size: {BASE_POINTS}pt; }}
QMainWindow, QDialog {{ background: {p.ground}; }}
QToolTip {{ background: {p.sheet}; color: {p.ink}; border: 1px solid {p.line}; padding: 5px 7px; }}
QLabel[role="title"] {{ font-size: 13pt; font-weight: 700; }}
QLabel[role="head"] {{ color: {p.quiet}; font-family: "{FAMILY} SemiBold"; }}
QLabel[role="quiet"] {{ color: {p.quiet}; }}
QLabel[role="small"] {{ color: {p.quiet}; font-size: 9.5pt; }}
QLabel[role="strong"] {{ font-family: "{FAMILY} SemiBold"; }}
QLabel[role="settled"] {{ color: {p.jade_text}; font-family: "{FAMILY} SemiBold"; }}
QLabel[role="look"] {{ color: {p.amber_text}; font-family: "{FAMILY} SemiBold"; }}
QLabel[role="blocked"] {{ color: {p.brick_text}; font-family: "{FAMILY} SemiBold"; }}
QLabel[role="mark"] {{ color: {p.river_text}; background: {p.sheet}; font-size: 9pt;
  border: 1px solid {p.river}; border-radius: 8px; padding: 0px 6px; }}
QFrame[role="card"], QFrame[role="docket"], QFrame[role="table"] {{
  background: {p.sheet}; border: 1px solid {p.line}; border-radius: 5px; }}
QFrame[role="table"] {{ background: {p.table}; }}
QFrame[role="why"] {{ background: {p.river_wash}; border: none; border-left: 3px solid {p.river}; }}
QFrame[role="rule"] {{ background: {p.line}; border: none; max-height: 1px; min-height: 1px; }}
QFrame[role="top"] {{ background: {p.ground}; border: none; border-bottom: 1px solid {p.line}; }}
QFrame[role="finding-note"] {{ background: {p.sheet}; border: 1px solid {p.line};
  border-radius: 5px; }}
QFrame[role="finding-settled"] {{ background: {p.jade_wash}; border: 1px solid {p.jade};
  border-radius: 5px; }}
QFrame[role="finding-look"] {{ background: {p.amber_wash}; border: 1px solid {p.amber};
  border-radius: 5px; }}
QFrame[role="finding-blocked"] {{ background: {p.brick_wash}; border: 1px solid {p.brick};
  border-radius: 5px; }}
QScrollArea, QScrollArea > QWidget > QWidget {{ background: transparent; border: none; }}
QPushButton {{ background: {p.sheet}; color: {p.ink}; border: 1px solid {p.line};
  border-radius: 5px; padding: 4px 11px; min-height: 18px; }}
QPushButton:hover {{ border-color: {p.jade}; }}
QPushButton:focus, QToolButton:focus {{ border: 2px solid {p.jade}; padding: 3px 10px; }}
QPushButton:pressed {{ background: {p.jade_wash}; }}
QPushButton:disabled {{ color: {p.quiet}; background: {p.ground}; }}
QPushButton[role="main"] {{ background: {p.jade}; color: {p.on_jade}; border-color: {p.jade};
  font-family: "{FAMILY} SemiBold"; padding: 5px 14px; }}
QPushButton[role="main"]:focus {{ border: 2px solid {p.ink}; padding: 4px 13px; }}
QPushButton[role="main"]:disabled {{ background: {p.line}; color: {p.quiet};
  border-color: {p.line}; }}
QPushButton[role="plain"] {{ background: transparent; border: 1px solid transparent;
  color: {p.quiet}; padding: 4px 7px; }}
QPushButton[role="plain"]:hover {{ color: {p.ink}; border-color: {p.line}; }}
QPushButton[role="plain"]:checked {{ color: {p.jade_text}; background: {p.jade_wash}; }}
QPushButton[role="plain"]:focus {{ border: 2px solid {p.jade}; padding: 3px 6px; }}
QPushButton[role="link"] {{ background: transparent; border: none; color: {p.river_text};
  font-family: "{FAMILY} SemiBold"; padding: 1px 2px; text-align: right; }}
QPushButton[role="link"]:hover {{ text-decoration: underline; }}
QPushButton[role="link"]:focus {{ border: 1px solid {p.river}; border-radius: 3px;
  padding: 0 1px; }}
QPushButton[role="segment"] {{ border-radius: 0; margin: 0; padding: 3px 9px; }}
QPushButton[role="segment"]:checked {{ background: {p.jade}; color: {p.on_jade};
  border-color: {p.jade}; }}
QPushButton[role="segment"]:focus {{ border: 2px solid {p.ink}; padding: 2px 8px; }}
QPushButton[place="first"] {{ border-top-left-radius: 5px; border-bottom-left-radius: 5px; }}
QPushButton[place="last"] {{ border-top-right-radius: 5px; border-bottom-right-radius: 5px;
  border-left: none; }}
QPushButton[place="middle"] {{ border-left: none; }}
QPushButton[place="only"] {{ border-radius: 5px; }}
QPushButton[role="tile"] {{ padding: 4px; border-radius: 5px; }}
QPushButton[role="tile"]:checked {{ border: 2px solid {p.jade}; background: {p.jade_wash};
  padding: 3px; }}
QLineEdit, QSpinBox, QDoubleSpinBox, QComboBox, QPlainTextEdit, QDateEdit {{
  background: {p.sheet}; color: {p.ink};
  border: 1px solid {p.line}; border-radius: 4px; padding: 3px 7px; min-height: 18px;
  selection-background-color: {p.jade}; selection-color: {p.on_jade}; }}
QLineEdit:focus, QSpinBox:focus, QDoubleSpinBox:focus, QComboBox:focus, QPlainTextEdit:focus {{
  border: 2px solid {p.jade}; padding: 2px 6px; }}
QLineEdit:disabled, QSpinBox:disabled, QDoubleSpinBox:disabled, QComboBox:disabled {{
  color: {p.quiet}; background: {p.ground}; }}
QLineEdit[state="wrong"] {{ border: 2px solid {p.brick}; padding: 2px 6px; }}
QComboBox QAbstractItemView {{ background: {p.sheet}; color: {p.ink};
  selection-background-color: {p.jade_wash}; selection-color: {p.ink};
  border: 1px solid {p.line}; }}
QComboBox::drop-down {{ border: none; width: 22px; }}
QComboBox::down-arrow {{ image: url("{down}"); width: 14px; height: 14px; }}
QSpinBox::up-button, QSpinBox::down-button,
QDoubleSpinBox::up-button, QDoubleSpinBox::down-button {{ border: none; width: 20px; }}
QSpinBox::up-arrow, QDoubleSpinBox::up-arrow {{ image: url("{up}"); width: 12px; height: 12px; }}
QSpinBox::down-arrow, QDoubleSpinBox::down-arrow {{
  image: url("{down}"); width: 12px; height: 12px; }}
QMenuBar {{ background: {p.ground}; color: {p.ink}; }}
QMenuBar::item:selected {{ background: {p.jade_wash}; }}
QMenu {{ background: {p.sheet}; color: {p.ink}; border: 1px solid {p.line}; padding: 4px; }}
QMenu::item {{ padding: 5px 22px 5px 14px; border-radius: 3px; }}
QMenu::item:selected {{ background: {p.jade_wash}; }}
QMenu::separator {{ height: 1px; background: {p.line}; margin: 4px 8px; }}
QCheckBox:focus {{ outline: 1px solid {p.jade}; }}
QScrollBar:vertical {{ background: transparent; width: 9px; margin: 0; }}
QScrollBar::handle:vertical {{ background: {p.line}; border-radius: 4px; min-height: 30px; }}
QScrollBar:horizontal {{ background: transparent; height: 9px; margin: 0; }}
QScrollBar::handle:horizontal {{ background: {p.line}; border-radius: 4px; min-width: 30px; }}
QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
QProgressBar {{ background: {p.line}; border: none; border-radius: 3px; max-height: 6px; }}
QProgressBar::chunk {{ background: {p.jade}; border-radius: 3px; }}
"""
