"""What follows from the role of a panel, and that nobody asks otherwise."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest

import jadeite
from jadeite.core.nets.roles import Role
from jadeite.core.shapes import all_families
from tests.core.shapes.closing import build

SOURCES = sorted(Path(jadeite.__file__).parent.rglob("*.py"))
VALUES = {role.value for role in Role}


@pytest.mark.parametrize(
    ("role", "trait"),
    [
        (Role.TAB, "glue"), (Role.FOOT, "glue"), (Role.WALL, "window"), (Role.FLOOR, "window"),
        (Role.GORE, "bends"), (Role.GORE, "cover"), (Role.RIM, "leads"), (Role.GUSSET, "follows"),
        (Role.OVERLAY, "frame"), (Role.STIFFENER, "proud"), (Role.LINING, "lines"),
        (Role.FLAP, "shuts"), (Role.HOOK, "shuts"), (Role.WALL, "split"), (Role.FLOOR, "lap"),
    ],
)  # fmt: skip
def test_roles_have_their_traits(role: Role, trait: str) -> None:
    """A few that matter most; common practice at the table."""
    assert getattr(role.traits, trait)


@pytest.mark.parametrize("role", [r for r in Role if r.traits.glue or r.traits.bends])
def test_what_is_glued_or_bends_takes_neither_window_nor_seam(role: Role) -> None:
    """A window in a tab would leave nothing to glue; facets of a bend are too narrow."""
    assert not role.traits.window
    assert not role.traits.split


@pytest.mark.parametrize("family", all_families(), ids=lambda f: f.key)
def test_every_panel_has_a_role(family) -> None:  # type: ignore[no-untyped-def]
    """A member of the closed set, not a word."""
    design = build(family, (70.0, 70.0, 60.0))
    assert all(isinstance(q.role, Role) for p in design.pieces for q in p.panels)


def _compared(tree: ast.AST) -> list[ast.Compare]:
    """Comparisons of something's ``role`` with a word."""
    out = []
    for node in ast.walk(tree):
        if not isinstance(node, ast.Compare):
            continue
        sides = [node.left, *node.comparators]
        asks = any(isinstance(s, ast.Attribute) and s.attr == "role" for s in sides)
        words = {
            c.value for s in sides for c in ast.walk(s)
            if isinstance(c, ast.Constant) and isinstance(c.value, str)
        }  # fmt: skip
        if asks and words & VALUES:
            out.append(node)
    return out


def test_no_role_is_compared_with_a_word() -> None:
    """Lists of names are forgotten somewhere whenever a role is added."""
    assert len(SOURCES) > 150
    found = [
        f"{path.name}: {ast.unparse(node)}"
        for path in SOURCES
        for node in _compared(ast.parse(path.read_text(encoding="utf-8")))
    ]
    assert found == []


def test_a_comparison_with_a_word_is_seen() -> None:
    """The check can fail."""
    for words in ('p.role == "wall"', 'p.role in ("tab", "foot")', '"gore" != piece.panel.role'):
        assert len(_compared(ast.parse(words))) == 1
