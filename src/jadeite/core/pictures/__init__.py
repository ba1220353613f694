"""Vector pictures: one drawing for the window, the step sheets and the files."""

from jadeite.core.pictures.camera import FROM_ABOVE, Camera, fitted, round_scale
from jadeite.core.pictures.flat import net_key, net_picture, sheet_picture
from jadeite.core.pictures.palette import DARK, LIGHT, Palette, mix, night_of
from jadeite.core.pictures.primitives import Image, Label, Path, Picture, Stroke
from jadeite.core.pictures.scene import Scene
from jadeite.core.pictures.scene_style import SceneStyle

__all__ = [
    "DARK",
    "FROM_ABOVE",
    "LIGHT",
    "Camera",
    "Image",
    "Label",
    "Palette",
    "Path",
    "Picture",
    "Scene",
    "SceneStyle",
    "Stroke",
    "fitted",
    "mix",
    "net_key",
    "net_picture",
    "night_of",
    "round_scale",
    "sheet_picture",
]
