"""Copy six example projects into the application, each with a picture of it as it stands.

Usage: python tools/start_pictures.py EXAMPLES_FOLDER ASSETS_FOLDER
"""

from __future__ import annotations

import shutil
import sys
from pathlib import Path

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QImage, QPainter

from jadeite.core.formats import load_project
from jadeite.core.pictures import LIGHT, Camera, Scene, SceneStyle
from jadeite.core.pipeline import work_up_job
from jadeite.desktop.app import application
from jadeite.desktop.paint import paint_picture
from jadeite.desktop.views.start_view import EXAMPLES, PICTURE

SCALE = 2  # pixels of the file for one of the screen
BORDER = (10.0, 10.0, 10.0, 10.0)
STANDS = {"filter-chest": 0.93}  # where of the lift it shows itself best; the others closed


def picture(path: Path) -> QImage:
    """The first item of a project, closed, on nothing."""
    work = next(iter(work_up_job(load_project(path)).works.values()))
    if work.design is None or work.lift is None:
        raise ValueError(f"{path.name}: {work.findings[0].message}")
    pose = work.lift.pose(STANDS.get(path.stem, 1.0))
    scene = Scene(work.design, pose.matrices, work.bodies, pose.contents, ribbons=pose.ribbons)
    wide, high = float(PICTURE.width()), float(PICTURE.height())
    camera = scene.fitted(Camera(28, 32), wide, high, BORDER)
    style = SceneStyle(LIGHT, work.colours, 0.8, dimensions=False, names=False)
    image = QImage(QSize(PICTURE.width(), PICTURE.height()) * SCALE, QImage.Format.Format_ARGB32)
    image.fill(Qt.GlobalColor.transparent)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.scale(SCALE, SCALE)
    paint_picture(painter, scene.draw(camera, style), PICTURE.width(), PICTURE.height())
    painter.end()
    return image


def main() -> None:
    """Write all six."""
    examples, assets = Path(sys.argv[1]), Path(sys.argv[2])
    application([])
    assets.mkdir(parents=True, exist_ok=True)
    for name in EXAMPLES:
        shutil.copy(examples / f"{name}.jadeite", assets / f"{name}.jadeite")
        picture(examples / f"{name}.jadeite").save(str(assets / f"{name}.png"))


if __name__ == "__main__":
    main()
