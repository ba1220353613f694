"""Domes of gores: bent from flat paper, they bend one way only, so their seams lie in planes.

Glossary
--------
gore
    A sector of a dome, from its foot to the pole; n of them stand in a ring.
tilt
    How far a facet leans from upright, in degrees; 90 at the pole.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from jadeite.core.boards import Board
from jadeite.core.boards.fits import USUAL, Fits
from jadeite.core.nets.bends import ROLLED, bend
from jadeite.core.nets.closed_form import ClosedForm, Face
from jadeite.core.nets.model import Floats, Joint, Kind, Piece
from jadeite.core.nets.roles import Role

__all__ = [
    "Dome",
    "about_z",
    "gore_half_width",
    "gore_ring",
    "gores_all_round",
    "outside_panels",
    "seam_tab",
]

TAB_SHARE = 0.4  # of the facet it lies on; from memory
LEAST_WIDTH = 15.5  # mm; from memory, a narrower facet would carry a tab that holds badly
FLANGE_EASE = 0.3  # mm; from memory, between the flanges of neighbouring gores
LEAST_PLY = 4.0  # mm; from memory, a narrower strip of ply adds nothing
PLY_CLEAR = 0.5  # mm; from memory, between an inner ply and a tab or a seam


@dataclass(frozen=True)
class Dome:
    """Middle surfaces of a dome: a profile of facets that touch a circle of ``radius`` mm.

    ``radius`` is the dome's inradius at its springing; ``centre`` the height
    of its centre; ``foot`` where its upright foot begins, in mm.
    """

    sides: int
    radius: float
    centre: float
    foot: float
    facets: int

    @property
    def step(self) -> float:
        """Turn from facet to facet, in radians; the last is level."""
        return math.pi / 2 / (self.facets + 1)

    def corner(self, i: int, inner: float = 0.0) -> tuple[float, float]:
        """Inradius and height where facet i ends, ``inner`` mm within; facet 0 is the foot."""
        out = (self.radius - inner) / math.cos(self.step / 2)
        turn = (i + 0.5) * self.step
        return out * math.cos(turn), self.centre + out * math.sin(turn)


def gore_half_width(radius: float, sides: int, along: float) -> float:
    """Half width in mm of a gore at an arc length in mm from the pole: R tan(pi/n) sin(s/R)."""
    return radius * math.tan(math.pi / sides) * math.sin(along / radius)


def about_z(degrees: float) -> Floats:
    """4 x 4 turn about the upright axis."""
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return np.array([[c, -s, 0, 0], [s, c, 0, 0], [0, 0, 1, 0], [0, 0, 0, 1.0]])


def _section(dome: Dome, k: int, inner: float = 0.0) -> list[tuple[float, float]]:
    """Inradius and height at the lower and the upper end of facet k."""
    if k == 0:
        return [(dome.radius - inner, dome.foot), dome.corner(0, inner)]
    if k == dome.facets + 1:
        return [dome.corner(k - 1, inner), (0.0, dome.corner(k - 1, inner)[1])]
    return [dome.corner(k - 1, inner), dome.corner(k, inner)]


def _facet(
    dome: Dome, k: int, phase: float, inner: float = 0.0, keep: tuple[float, float] = (0.0, 0.0)
) -> Floats:
    """Corners of facet k of the gore that looks to ``phase``; ``keep`` narrows its two sides."""
    tangent = math.tan(math.pi / dome.sides)
    low, high = _section(dome, k, inner)
    points = []
    for (r, z), order in ((low, (-1, 1)), (high, (1, -1))):
        for way in order:
            half = r * tangent - keep[way > 0]
            points.append((r, way * half, z))
    flat = np.array(points)
    if k == dome.facets + 1:
        flat = flat[:3]
    turn = about_z(phase)[:3, :3]
    return np.asarray(flat @ turn.T)


def gore_ring(
    dome: Dome, board: Board, phase: float, ply: Board | None, flange: float, fits: Fits = USUAL
) -> tuple[list[Piece], dict[str, Floats], list[Joint]]:
    """``sides`` equal gores, each glued to the next by a tab on every facet wide enough.

    Each has an upright foot, with a ``flange`` (mm) turned outwards at its
    lower edge, and ends in a level tip at the pole, for a cover to be glued on.
    A second ``ply`` lies inside each, narrower by what the tabs take.

    Returns
    -------
    pieces, placements, joints
        Gores named ``gore-1`` and on, plies ``ply-1`` and on.
    """
    net = ClosedForm("gore-1", "gore 1", board, part="gore", fits=fits)
    base = net.base("foot", _facet(dome, 0, phase), title="foot", role=Role.WALL)
    lowest = net.face(
        "facet.1", _facet(dome, 1, phase), base, title="gore", role=Role.GORE, kind=ROLLED
    )  # the dome springs from it without a crease

    def facet(k: int) -> Floats:
        return _facet(dome, k, phase)

    faces = [base, *bend(net, "facet", "gore", facet, range(1, dome.facets + 1), begun=lowest)]
    tip = net.face(
        "tip", facet(dome.facets + 1), faces[-1], title="tip", role=Role.GORE, kind=ROLLED
    )
    faces.append(tip)
    tangent = math.tan(math.pi / dome.sides)
    for k, face in enumerate(faces[:-1]):
        narrow = 2 * min(r for r, _ in _section(dome, k)) * tangent
        seam_tab(net, k, face, narrow, dome.sides)
    edge = base.side_towards((0, 0, -1))
    length = 2 * dome.radius * tangent
    draw = min(FLANGE_EASE, length / 4)
    net.flap(
        "flange",
        base,
        edge,
        np.array([[0, 0], [length - 2 * draw, 0], [length - 2 * draw, flange], [0, flange]]),
        -90.0,
        title="flange",
        role=Role.TAB,
        start=draw,
    )
    pieces, placements, joints = gores_all_round(net, faces[:-1], dome.sides)
    names = {panel.name for panel in pieces[0].panels}
    if ply is not None:
        more = _plies(dome, board, ply, phase, names, fits)
        pieces += more[0]
        placements |= more[1]
        joints += more[2]
    return pieces, placements, joints


def seam_tab(net: ClosedForm, number: int, face: Face, narrow: float, sides: int) -> None:
    """A tab of a facet on the same facet of the next gore, if it is wide enough.

    ``narrow`` is its width in mm at its narrow end.
    """
    if narrow < LEAST_WIDTH:
        return
    turn = about_z(360.0 / sides)[:3, :3]
    ghost = net.ghost(f"next.{number}", face.space() @ turn.T, face)
    depth = min(net.fits.tab_depth, narrow * TAB_SHARE)
    net.tab(f"tab.{number}", face, ghost, title="seam", depth=depth)


def gores_all_round(
    net: ClosedForm, faces: Sequence[Face], sides: int
) -> tuple[list[Piece], dict[str, Floats], list[Joint]]:
    """Equal gores ``gore-1`` and on from one net, glued to the next by the tabs of their faces."""
    first = net.build()
    names = {panel.name for panel in first.panels}
    pieces, placements, joints = [], {}, []
    for i in range(sides):
        name, nxt = f"gore-{i + 1}", f"gore-{(i + 1) % sides + 1}"
        pieces.append(replace(first, name=name, title=f"gore {i + 1}"))
        placements[name] = about_z(360.0 / sides * i) @ net.placement
        for k, face in enumerate(faces):
            if f"tab.{k}" in names:
                title = f"gore {i + 1} to gore {(i + 1) % sides + 1}"
                joints.append(Joint(Kind.GLUE, (name, f"tab.{k}"), (nxt, face.name), title))
    return pieces, placements, joints


def _plies(
    dome: Dome, board: Board, ply: Board, phase: float, names: set[str], fits: Fits
) -> tuple[list[Piece], dict[str, Floats], list[Joint]]:
    """Inner plies, a facet of each on every facet of its gore."""
    tangent = math.tan(math.pi / dome.sides)
    tabs = [0.0]
    for k in range(1, dome.facets + 1):
        if f"tab.{k}" in names:
            (r0, z0), (r1, z1) = _section(dome, k)
            slant = (r0 - r1) * tangent / math.hypot(r0 - r1, z1 - z0)  # of the seam
            deep = min(fits.tab_depth, 2 * min(r0, r1) * tangent * TAB_SHARE)
            tabs.append(deep * math.hypot(1.0, slant) + board.thickness)
    # the tab of the gore before lies on the side away from this gore's own tab; the ply keeps
    # off the deepest from foot to tip, so that its edge runs on smoothly
    keep = (max(tabs) + PLY_CLEAR, PLY_CLEAR)
    inner = (board.thickness + ply.thickness) / 2
    return _on_gores(dome, phase, _Layer("ply", "inner ply", ply, inner, keep, 0.0))


def outside_panels(
    dome: Dome, board: Board, panel: Board, phase: float, border: float, top: float
) -> tuple[list[Piece], dict[str, Floats], list[Joint]]:
    """A panel on the good side of each gore, ``border`` mm in from its seams; to be curled with it.

    They end outside ``top``, an inradius in mm, where a cover lies.
    """
    outer = -(board.thickness + panel.thickness) / 2
    return _on_gores(
        dome, phase, _Layer("panel", "outside panel", panel, outer, (border, border), top)
    )


@dataclass(frozen=True)
class _Layer:
    """A second layer on every gore, ``inner`` mm within it, so much narrower at its two sides."""

    name: str
    title: str
    board: Board
    inner: float
    keep: tuple[float, float]
    top: float


def _on_gores(
    dome: Dome, phase: float, layer: _Layer
) -> tuple[list[Piece], dict[str, Floats], list[Joint]]:
    """The layer's piece on each gore, a facet of it on every facet that is wide enough."""
    tangent = math.tan(math.pi / dome.sides)
    corners: dict[int, Floats] = {}
    for k in range(1, dome.facets + 1):
        ends = [r for r, _ in _section(dome, k, layer.inner)]
        if 2 * min(ends) * tangent - sum(layer.keep) < LEAST_PLY or min(ends) < layer.top:
            break
        corners[k] = _facet(dome, k, phase, layer.inner, layer.keep)
    if not corners:
        return [], {}, []
    made = range(1, len(corners) + 1)
    net = ClosedForm(f"{layer.name}-1", f"{layer.title} 1", layer.board, part=layer.name)
    bend(net, layer.name, layer.title, corners.__getitem__, made)
    first = net.build()
    pieces, placements, joints = [], {}, []
    side = "inside" if layer.inner > 0 else "outside"
    for i in range(dome.sides):
        name, title = f"{layer.name}-{i + 1}", f"{layer.title} {i + 1}"
        pieces.append(replace(first, name=name, title=title))
        placements[name] = about_z(360.0 / dome.sides * i) @ net.placement
        for k in made:
            own, gore = (name, f"{layer.name}.{k}"), (f"gore-{i + 1}", f"facet.{k}")
            joints.append(Joint(Kind.GLUE, own, gore, title, side))
    return pieces, placements, joints
