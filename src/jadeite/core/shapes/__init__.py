"""Families of shapes: a registry, and one module for each family."""

from jadeite.core.shapes.registry import (
    PURPOSES,
    Option,
    OptionValue,
    ShapeFamily,
    all_families,
    family_by_key,
    left_out,
    register,
    resolve_options,
)
from jadeite.core.shapes.settle import measured_for, settled_design

__all__ = [
    "PURPOSES",
    "Option",
    "OptionValue",
    "ShapeFamily",
    "all_families",
    "family_by_key",
    "left_out",
    "measured_for",
    "register",
    "resolve_options",
    "settled_design",
]
