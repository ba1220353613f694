"""Folding in space: rigid turns, proof of closure, collisions, visible order."""

from jadeite.core.folding.bodies import (
    Body,
    ball_body,
    body_gap,
    box_body,
    cylinder_body,
    round_gap,
)
from jadeite.core.folding.closure import (
    JointReport,
    edges_apart,
    joint_reports,
    plies_apart,
    tabs_in_one_place,
)
from jadeite.core.folding.collisions import crossings
from jadeite.core.folding.facets import SPLIT_EDGE, Facets
from jadeite.core.folding.glance import at_a_glance
from jadeite.core.folding.kinematics import (
    FoldedFace,
    closed_matrices,
    fold_matrices,
    folded_faces,
    loop_gap,
    transform,
)
from jadeite.core.folding.order import VisibleOrder, build_order, order_steps

__all__ = [
    "SPLIT_EDGE",
    "Body",
    "Facets",
    "FoldedFace",
    "JointReport",
    "VisibleOrder",
    "at_a_glance",
    "ball_body",
    "body_gap",
    "box_body",
    "build_order",
    "closed_matrices",
    "crossings",
    "cylinder_body",
    "edges_apart",
    "fold_matrices",
    "folded_faces",
    "joint_reports",
    "loop_gap",
    "order_steps",
    "plies_apart",
    "round_gap",
    "tabs_in_one_place",
    "transform",
]
