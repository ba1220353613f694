"""Names from a list: each copy of a made thing bears its own words on its blanks.

The design shows the first copy.  Pieces that bear words differ from copy to copy;
all others are cut as often as there are names.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import replace
from functools import lru_cache

import numpy as np
import shapely
from shapely.geometry import Polygon

from jadeite.core.dressings.dressing import Asked, Dressing
from jadeite.core.findings import Cure, Finding, Level
from jadeite.core.lettering import LOOSE, Room, Written, stencil, unwritable, written
from jadeite.core.nets.checks import LETTER_BRIDGE
from jadeite.core.nets.model import Blank, Design, Opening, Piece, Trace, Vein
from jadeite.core.project import Task
from jadeite.core.units import listed, number_text

__all__ = ["NAMES", "differing", "name_findings", "words_on"]

KEPT = 1024  # words that are remembered; setting
MANY = 3  # names that a finding lists; setting
LETTER = "letter"  # the kind of an opening
FINE = 0.01  # mm; rounding


@lru_cache(maxsize=KEPT)
def words_on(blank: Blank, text: str) -> Written | None:
    """Words as they stand on a blank; None where there are none or they cannot be written."""
    if not text or unwritable(text, blank.letters):
        return None
    loose = LOOSE if blank.trace is Trace.CUT else 0.0
    room = Room(*blank.size, blank.wanted, blank.least, blank.pen, loose)
    return written(text, room, blank.letters)


def _bearing(piece: Piece, blanks: tuple[Blank, ...], words: tuple[str, str]) -> Piece:
    """A piece with the words of one copy."""
    for blank in blanks:
        said = words_on(blank, words[blank.column])
        if said is None:
            continue
        at = np.array(blank.centre)
        if blank.trace is Trace.CUT:
            cut = tuple(Opening(LETTER, ring + at) for ring in stencil(said, blank.pen))
            panels = tuple(
                replace(p, openings=(*p.openings, *cut)) if p.name == blank.panel else p
                for p in piece.panels
            )
            piece = replace(piece, panels=panels)
        else:
            lines = tuple(Vein(stroke + at, blank.trace) for stroke in said.strokes)
            piece = replace(piece, veins=(*piece.veins, *lines))
    return piece


def _blanks(design: Design, task: Task) -> Mapping[str, tuple[Blank, ...]]:
    """The blanks that bear words, by piece."""
    out: dict[str, tuple[Blank, ...]] = {}
    for blank in design.blanks if task.names else ():
        if design.has((blank.piece, blank.panel)) and (blank.column == 0 or task.tables):
            out[blank.piece] = (*out.get(blank.piece, ()), blank)
    return out


def differing(design: Design, task: Task) -> Mapping[str, tuple[Piece, ...]]:
    """For each piece that bears words, the pieces of all copies, in the order of the names.

    ``design`` is dressed: what it bears of the first copy is taken off again.
    """
    out = {}
    for name, blanks in _blanks(design, task).items():
        piece = design.piece(name)
        bare = _without(piece, blanks, task.words_of(0))
        first = _bearing(bare, blanks, task.words_of(0))
        out[name] = (
            first,
            *(_bearing(bare, blanks, task.words_of(n)) for n in range(1, len(task.names))),
        )
    return out


def _without(piece: Piece, blanks: tuple[Blank, ...], words: tuple[str, str]) -> Piece:
    """A piece without the words of a copy."""
    named = {blank.panel for blank in blanks if blank.trace is Trace.CUT}
    panels = piece.panels
    if named:
        panels = tuple(replace(p, openings=()) if p.name in named else p for p in panels)
    said = [(b, words_on(b, words[b.column])) for b in blanks]
    own = {
        (stroke + np.array(b.centre)).tobytes()
        for b, one in said
        if one is not None
        for stroke in one.strokes
    }
    veins = tuple(vein for vein in piece.veins if vein.points.tobytes() not in own)
    return replace(piece, panels=panels, veins=veins)


def _dress(draft: Design, asked: Asked) -> Design:
    by_piece = _blanks(draft, asked.task)
    if not by_piece:
        return draft
    words = asked.task.words_of(0)
    pieces = tuple(
        _bearing(piece, by_piece[piece.name], words) if piece.name in by_piece else piece
        for piece in draft.pieces
    )
    return replace(draft, pieces=pieces)


def name_findings(design: Design, task: Task) -> tuple[Finding, ...]:
    """What of a list of names needs a look: none yet, twice, not to be written, too long."""
    if not design.blanks:
        return ()
    if not task.names:
        words = "No names yet: paste a list, or open a table (CSV). Each name gets a copy."
        return (Finding(Level.NOTE, "names-missing", words, "names", "contents"),)
    found = []
    twice = [name for name, times in Counter(task.names).items() if times > 1]
    if twice:
        words = f"More than once on the list: {_some(twice)}. Each gets a copy every time."
        once = tuple(dict.fromkeys(task.names))
        keep = [task.names.index(name) for name in once]
        tables = tuple(task.tables[i] for i in keep) if task.tables else ()
        ways = (("tables", ()), ("names", once), ("tables", tables))
        cure = Cure("Keep each once", ways if tables else ways[1:2])
        found.append(Finding(Level.NOTE, "names-twice", words, "names", "contents", cure))
    for blank in design.blanks:
        found += _written_findings(blank, task)
    return tuple(found)


def _written_findings(blank: Blank, task: Task) -> list[Finding]:
    texts = list(dict.fromkeys(task.words_of(n)[blank.column] for n in range(len(task.names))))
    texts = [text for text in texts if text]
    refused = {text: why for text in texts if (why := unwritable(text, blank.letters))}
    found = []
    if refused:
        first, why = next(iter(refused.items()))
        why = f"{why[0].upper()}{why[1:]}" if len(refused) == 1 else f"Of “{first}”, {why}"
        words = f"Left blank, to be written by hand: {_some(list(refused))}. {why}."
        found.append(Finding(Level.LOOK, "name-unwritten", words, "names", "contents"))
    torn = [text for text in texts if blank.trace is Trace.CUT and _tears(blank, text)]
    if torn:
        words = (
            f"Cut out, board between letters or beside accents is narrower than "
            f"{number_text(LETTER_BRIDGE, 2)} mm and tears: {_some(torn)}. Write them by pen, or "
            "in higher capitals."
        )
        found.append(Finding(Level.LOOK, "letters-tear", words, "names", "contents"))
    low = {}
    for text in texts:
        said = words_on(blank, text)
        if said is not None and said.capital < blank.least - FINE:
            low[text] = said.capital
    if low:
        text, high = min(low.items(), key=lambda item: item[1])
        words = (
            f"Only in capitals {number_text(high)} mm high, and the least is "
            f"{number_text(blank.least)} mm: {_some(list(low))}. Shorten "
            f"{'it' if len(low) == 1 else 'them'}, or make the room wider."
        )
        found.append(Finding(Level.LOOK, "name-low", words, "names", "contents"))
    return found


def _tears(blank: Blank, text: str) -> bool:
    """Whether cuts of the letters come nearer to one another than board holds."""
    said = words_on(blank, text)
    if said is None:
        return False
    cuts = [Polygon(ring) for ring in stencil(said, blank.pen)]
    near, far = shapely.STRtree(cuts).query(cuts, "dwithin", LETTER_BRIDGE - FINE)
    return bool((near != far).any())


def _some(names: list[str]) -> str:
    """A few names, and how many more."""
    shown = [f"“{name}”" for name in names[:MANY]]
    more = len(names) - MANY
    return listed([*shown, f"{more} more"] if more > 0 else shown)


NAMES = Dressing("names", _dress)
