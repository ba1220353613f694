"""No name of a part, panel, piece, option or family is compared outside the module that made it."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from pathlib import Path

import jadeite
from jadeite.core.nets import Kind
from jadeite.core.shapes import all_families
from tests.core.shapes.closing import build, fit

CORE = Path(jadeite.__file__).parent / "core"
# what holds such a name, wherever it stands
HOLDERS = {"name", "panel", "piece", "part", "family", "child", "parent", "after"}
PAIRS = {"tab", "target", "onto", "ground", "where"}  # (piece, panel)
OPTIONS = {"options", "settled", "chosen"}
# each of these compares what it has named itself, or the sides and notches of its own nets
MAKERS = {"nets/builder.py": {"front", "back", "far", "end", "left", "right"}}


def _vocabulary() -> set[str]:
    """Every name that a family gives to something, and the keys of families and options."""
    words: set[str] = set()
    for family in all_families():
        words |= {family.key, *(p for p, _ in family.parts), *(o.key for o in family.options)}
        design = build(family, fit(family, (90.0, 90.0, 60.0)))
        for piece in design.pieces:
            words |= {piece.name, *(panel.name for panel in piece.panels)}
    return words | {word.partition(mark)[0] for word in words for mark in "-."}


def _holds(node: ast.expr) -> bool:
    """Whether an expression names something: ``p.name``, ``j.tab[1]``, ``options["x"]``."""
    if isinstance(node, ast.Subscript):
        of = node.value
        name = of.attr if isinstance(of, ast.Attribute) else getattr(of, "id", "")
        return name in PAIRS | OPTIONS
    if isinstance(node, ast.Attribute) and node.attr == "key":
        return getattr(node.value, "id", getattr(node.value, "attr", "")) in {
            "family", "shape", "option", "o", "f",
        }  # fmt: skip
    return isinstance(node, ast.Attribute) and node.attr in HOLDERS


def _words(nodes: list[ast.expr]) -> set[str]:
    consts = (c for node in nodes for c in ast.walk(node) if isinstance(c, ast.Constant))
    return {c.value for c in consts if isinstance(c.value, str)}


def compared(tree: ast.AST, vocabulary: set[str]) -> Iterator[tuple[str, set[str]]]:
    """Comparisons, and tests of a beginning or an end, of a name with a word of the vocabulary."""
    for node in ast.walk(tree):
        if isinstance(node, ast.Compare):
            sides = [node.left, *node.comparators]
        elif isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute):
            if node.func.attr not in ("startswith", "endswith"):
                continue
            sides = [node.func.value, *node.args]
        else:
            continue
        names = [side for side in sides if _holds(side)]
        words = {
            word for word in _words([side for side in sides if side not in names])
            if word in vocabulary or word.rstrip(".-") in vocabulary
        }  # fmt: skip
        if names and words:
            yield ast.unparse(node), words


def test_no_name_is_compared_outside_the_module_that_made_it() -> None:
    """Roles, kinds, parts and arrivals say what something is; its name is the maker's to read."""
    vocabulary = _vocabulary()
    assert {"lid", "carton", "good-side", "gore", "floor", "strip"} <= vocabulary
    found = []
    for path in sorted(CORE.rglob("*.py")):
        where = path.relative_to(CORE).as_posix()
        if where.startswith("shapes/"):
            continue  # families, and what several of them share, make the names
        for text, words in compared(ast.parse(path.read_text(encoding="utf-8")), vocabulary):
            if not words <= MAKERS.get(where, set()):
                found.append(f"{where}: {text}")
    assert found == []


def test_such_a_comparison_is_seen() -> None:
    """The check can fail, in every form that such a comparison had."""
    forms = (
        'p.name == "lid"', 'j.tab[1].startswith("lap")', 'joint.target[1] == "floor"',
        '"wall" in panel.name', 'options["bottom"] == "lock"', 'option.key == "good-side"',
        'fold.child in ("left", "right")', 'design.family != "carton"', 'p.part == "strip"',
    )  # fmt: skip
    vocabulary = _vocabulary() | {"lap", "wall"}
    for form in forms:
        assert len(list(compared(ast.parse(form), vocabulary))) == 1, form


def test_every_kind_of_joint_has_its_proof() -> None:
    """A closed set: nothing is joined in a way that is not measured."""
    from jadeite.core.folding.closure import PROOFS

    assert set(PROOFS) == set(Kind)
    used = {
        j.kind for f in all_families() for j in build(f, fit(f, (90.0, 90.0, 60.0))).joints
    }  # fmt: skip
    assert {Kind.GLUE, Kind.TUCK, Kind.SLIDE, Kind.TONGUE} <= used
