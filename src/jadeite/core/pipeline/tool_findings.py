"""What the cutter at hand has no tool for: said once for each item, with what ends it."""

from __future__ import annotations

from collections.abc import Sequence

from jadeite.core.cutting import CutterProfile
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.nets.model import Trace
from jadeite.core.pipeline.job import JobPiece

__all__ = ["without_tool"]


def without_tool(pieces: Sequence[JobPiece], profile: CutterProfile) -> list[Finding]:
    """Findings for scores and written lines that a cutter cannot make."""
    found: list[Finding] = []
    for item in dict.fromkeys(piece.item for piece in pieces):
        own = [piece for piece in pieces if piece.item == item]
        if "scoring tool" not in profile.tools:
            found += _scores(own, profile)
        written = [p for p in own if any(v.trace is Trace.PEN for v in p.piece.veins)]
        if "pen" not in profile.tools and written:
            words = (
                f"{profile.title} has no pen, and {written[0].piece.title} is to be written on: "
                "write it by hand, or choose another cutter."
            )
            found.append(
                Finding(Level.LOOK, "no-pen", words, written[0].own, "cutting", None, item)
            )
    return found


def _scores(own: Sequence[JobPiece], profile: CutterProfile) -> list[Finding]:
    scored = [p for p in own if any(fold.kind == "scored" for fold in p.piece.folds)]
    pressed = [p for p in own if any(v.trace is Trace.PRESSED for v in p.piece.veins)]
    if not scored and not pressed:
        return []
    piece = (scored or pressed)[0]
    what = "is scored" if scored else "has pressed lines"
    cure = None
    end = "press them by hand along a ruler."
    if scored:
        end = "perforate the folds, or crease them by hand."
    if scored and not pressed:
        cure = Cure("Perforate the folds", (("folds", "perforated"),))
    words = f"{profile.title} has no scoring tool, and {piece.piece.title} {what}: {end}"
    return [Finding(Level.LOOK, "no-scoring-tool", words, piece.own, "cutting", cure, piece.item)]
