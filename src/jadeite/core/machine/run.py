"""The program's side of cutting: what is told, what the person is asked, what is done already.

After a fault the sheet goes on where it stood, or what of it is spoilt is cut anew from
another sheet; a piece that is good is never cut again.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

import numpy as np

from jadeite.core.cutting import CutPath, SheetCut
from jadeite.core.cutting.advice import tack_for
from jadeite.core.cutting.plan import TOOLS
from jadeite.core.machine.lines import Stroke, stroke_line
from jadeite.core.machine.sheet_run import Ask, Asked, SheetRun
from jadeite.core.nets.model import Floats

__all__ = ["Run"]

AGAIN = 0.5  # mm; from memory, of a stroke that was cut off so much is cut once more
FAR = 3.0  # mm; from memory, a sheet that is farther off its marks is loaded again


class Run:
    """A job being cut.  ``send`` holds lines for the cutter, ``ask`` what a person is asked."""

    def __init__(self, sheets: Sequence[SheetCut]) -> None:
        self.sheets = [SheetRun(cut) for cut in sheets if not cut.profile.by_hand]
        self.number = 0  # of the sheet under way
        self.send: list[str] = []
        self.ask: Ask | None = None
        self.lost: list[Asked] = []  # cut anew from another sheet
        self.done = False
        self._wait = ""
        self._tool, self._set = "", ""
        self._doing: int | None = None
        self._trusting = False  # what was in the cutter before the power was lost is there still

    @property
    def sheet(self) -> SheetRun:
        """The sheet under way."""
        return self.sheets[self.number]

    @property
    def doing(self) -> int | None:
        """The stroke under way."""
        return self._doing

    def begin(self) -> None:
        """Start with the first sheet that is not cut."""
        left = [i for i, sheet in enumerate(self.sheets) if not sheet.ended]
        if not left:
            self.done = True
            return
        self.number = left[0]
        size = self.sheet.cut.sheet.size
        words = self.sheet.cut.board.title.lower()
        self._say(f"SHEET {self.number} {size[0]:g} {size[1]:g} {words}", "sheet")

    def add(self, cuts: Sequence[SheetCut]) -> None:
        """More sheets, for what was lost; they are cut after the others."""
        self.sheets += [SheetRun(cut) for cut in cuts]
        self.lost = []
        if self.done:
            self.done = False
            self.begin()

    # ------------------------------------------------------------- what the cutter says

    def heard(self, line: str) -> None:
        """Take a line of the cutter's."""
        name, *words = line.split(" ")
        act = getattr(self, f"_heard_{name.lower()}", None)
        if act is not None:
            act(words)

    def _say(self, line: str, wait: str = "") -> None:
        self.send.append(line)
        self._wait = wait

    def _heard_load(self, words: list[str]) -> None:
        if self._trusting:
            self._say("LOADED", "loaded")
            return
        cut = self.sheet.cut
        hold = f"{tack_for(cut.board)} tack"
        name = cut.sheet.stock.name
        text = f"Load sheet {self.number + 1}: {name}, {cut.setting}; carrier of {hold}."
        if not cut.sheet.stock.whole:
            text += " Its lower left corner in that of the carrier."
        self._asks("load", text, ("loaded", "It is loaded"))

    def _heard_fit(self, words: list[str]) -> None:
        if self._trusting:
            self._say("FITTED", "tool")
            return
        self._asks("tool", f"Fit the {' '.join(words)}.", ("fitted", "It is fitted"))

    def _heard_ready(self, _: list[str]) -> None:
        wait, self._wait = self._wait, ""
        if wait in ("sheet", "loaded"):
            if self.sheet.cut.sheet.printed and self.sheet.next() is not None:
                self._say("FIND", "found")
            else:
                self._go_on()
        elif wait == "tool":
            self._set = ""
            self._go_on()
        elif wait == "set":
            self._go_on()
        elif wait == "unloaded":
            self.begin()

    def _heard_found(self, words: list[str]) -> None:
        x, y = float(words[0]), float(words[1])
        if np.hypot(x, y) > FAR:
            self._asks(
                "far",
                f"The sheet lies {np.hypot(x, y):.1f} mm off its marks: load it again, straight.",
                ("again", "It is loaded again"),
            )
            return
        self.sheet.off = (x, y)
        self._go_on()

    def _heard_at(self, words: list[str]) -> None:
        self._note(int(words[0]), float(words[1]))

    def _heard_stopped(self, words: list[str]) -> None:
        self._note(int(words[0]), float(words[1]))

    def _note(self, number: int, at: float) -> None:
        if self.sheet.again:
            self.sheet.again_at = at
        else:
            self.sheet.at[number] = at

    def _heard_done(self, words: list[str]) -> None:
        number, sheet = int(words[0]), self.sheet
        if sheet.again:
            sheet.again.remove(number)
            sheet.again_at = 0.0
        else:
            sheet.finished[number] = True
        self._doing = None
        self._go_on()

    def _heard_fault(self, words: list[str]) -> None:
        if words and words[0] == "jam":
            self._note(int(words[1]), float(words[2]))
            self._asks(
                "jam",
                "The cutter is stuck. Free the tool and the carrier; keep fingers off the blade.",
                ("clear", "It is free, the sheet has not moved"),
                ("moved", "The sheet has moved"),
            )
        else:
            self._asks(
                "trouble",
                f"The cutter says: {' '.join(words)}.",
                ("clear", "Try that stroke again"),
            )

    def _heard_hello(self, _: list[str]) -> None:
        self._tool, self._set = "", ""
        self._asks(
            "power",
            "The power was gone. Does the sheet lie on its carrier in the cutter as it did?",
            ("clear", "It lies as it did"),
            ("moved", "It was moved or taken out"),
        )

    def _heard_seen(self, words: list[str]) -> None:
        """What was seen before the sheet is unloaded: ``off n``, ``shallow n,n``, ``well``."""
        told = dict(zip(words[::2], words[1::2], strict=False))
        shallow = tuple(int(v) for v in told["shallow"].split(",")) if "shallow" in told else ()
        sheet = self.sheet
        if sheet.moved:  # nothing is added to such a sheet
            left = [i for i, done in enumerate(sheet.finished) if not done]
            self._spoil((*left, *sheet.again, *shallow))
        elif "off" in told:
            off = range(int(told["off"]), len(sheet.cut.paths))
            self._asks(
                "slipped",
                "From a stroke on all lies beside where it should: the sheet has slipped.",
                ("anew", "Cut anew what is spoilt"),
                ("well", "It does no harm"),
                numbers=(*off, *shallow),
            )
        elif shallow:
            self._asks(
                "shallow",
                "It is not cut through everywhere. Raise the force, and cut these lines once more.",
                ("again", "Cut them once more"),
                ("well", "I free them with a knife"),
                numbers=shallow,
            )
        else:
            self._look_over()

    def _heard_unload(self, _: list[str]) -> None:
        words = (
            f"Unload sheet {self.number + 1}: bend the carrier away from the board, not the board, "
            "so that nothing curls. Save the small cut-outs."
        )
        self._asks("unload", words, ("unloaded", "It is unloaded"))

    # ------------------------------------------------------------- what the person says

    def _asks(
        self, kind: str, words: str, *answers: tuple[str, str], numbers: tuple[int, ...] = ()
    ) -> None:
        self.ask = Ask(kind, words, answers, numbers)

    def answer(self, key: str) -> None:
        """What a person says to what is asked.

        Raises
        ------
        ValueError
            That is no answer to it.
        """
        ask = self.ask
        if ask is None or key not in [own for own, _ in ask.answers]:
            raise ValueError(f"“{key}” is no answer")
        self.ask = None
        if key == "anew":
            self._spoil(ask.numbers)
        elif key == "again":
            self._on_again(ask)
        else:
            acts: dict[str, Callable[[], None]] = {
                "loaded": self._on_loaded,
                "fitted": self._on_fitted,
                "unloaded": self._on_unloaded,
                "well": self._look_over,
                "moved": self._on_moved,
                "clear": self._on_clear,
            }
            acts[key]()

    def _on_loaded(self) -> None:
        self._say("LOADED", "loaded")

    def _on_fitted(self) -> None:
        self._say("FITTED", "tool")

    def _on_unloaded(self) -> None:
        self.sheet.ended = True
        self._say("UNLOADED", "unloaded")

    def _on_again(self, ask: Ask) -> None:
        if ask.kind == "far":
            self._say("UNLOADED", "unloaded")  # and the same sheet is asked for again
            return
        self.sheet.again = list(ask.numbers)
        self._go_on()

    def _on_clear(self) -> None:
        """The sheet lies as it did: its stroke goes on where it was cut off."""
        doing, sheet = self._doing, self.sheet
        if doing is not None and sheet.again:
            sheet.again_at = max(0.0, sheet.again_at - AGAIN)
        elif doing is not None:
            sheet.at[doing] = max(0.0, sheet.at[doing] - AGAIN)
        self._doing = None
        self._trusting = self._tool == ""
        if self._trusting:
            self.begin()
        else:
            self._go_on()

    def _on_moved(self) -> None:
        """What is not finished is lost; what is finished is good, if it was cut through."""
        self.sheet.moved = True
        self._say("LOOK")

    def _spoil(self, numbers: tuple[int, ...]) -> None:
        """Pieces to which strokes belong are lost: they are cut anew."""
        self.lost += [asked for asked in self.sheet.pieces(numbers) if asked not in self.lost]
        self.sheet.finished = [True] * len(self.sheet.finished)
        self.sheet.again = []
        self._look_over()

    def _look_over(self) -> None:
        self._doing = None
        self._say("END")

    # ------------------------------------------------------------- going on

    def _go_on(self) -> None:
        number = self.sheet.next()
        if number is None:
            self._trusting = False
            self._say("LOOK")
            return
        path = self.sheet.cut.paths[number]
        tool = TOOLS[path.step]
        if tool != self._tool:
            self._tool = tool
            self._say(f"TOOL {tool}", "tool")
            return
        setting = f"SET {self.sheet.cut.force or 0} {self.sheet.cut.profile.speed(path.role):g}"
        if setting != self._set:
            self._set = setting
            self._say(setting, "set")
            return
        self._trusting = False
        self._doing = number
        self._say(stroke_line(self.stroke(number)))

    def stroke(self, number: int) -> Stroke:
        """A stroke as it is told now: where the sheet lies, and without what is done."""
        path = self.sheet.cut.paths[number]
        points: Floats = path.points + np.array(self.sheet.off)
        if self.sheet.again:
            return Stroke(number, points, 1, self.sheet.again_at)
        return Stroke(number, points, path.passes, self.sheet.at[number])

    def share(self) -> float:
        """How much of the job is done, by the length of strokes; 0 to 1."""
        whole = sum(_length(p) for sheet in self.sheets for p in sheet.cut.paths)
        done = sum(
            _length(path) if sheet.ended or sheet.finished[i] else sheet.at[i]
            for sheet in self.sheets
            for i, path in enumerate(sheet.cut.paths)
        )
        return done / whole if whole else 1.0

    # ------------------------------------------------------------- kept between starts

    def state(self, planned: int) -> dict[str, Any]:
        """What is done of the planned sheets, to be kept in a file.

        Pieces of sheets that replace others, and are not cut yet, are still lost.
        """
        first, others = self.sheets[:planned], self.sheets[planned:]
        again = [
            asked
            for sheet in others
            if not sheet.ended
            for asked in sheet.pieces(range(len(sheet.cut.paths)))
        ]
        return {
            "lost": [list(asked) for asked in (*self.lost, *again)],
            "sheets": [
                {"at": sheet.at, "finished": sheet.finished, "ended": sheet.ended}
                for sheet in first
            ],
        }

    def restore(self, state: Mapping[str, Any]) -> bool:
        """Go on from what was kept; False, and nothing is taken, where it does not fit.

        A sheet that was under way is loaded again as it lies on its carrier.
        """
        try:
            kept = list(state["sheets"])
            sizes = [(len(k["at"]), len(k["finished"])) for k in kept]
            lost = [(str(name), int(copy)) for name, copy in state["lost"]]
            places = [[max(0.0, float(v)) for v in k["at"]] for k in kept]
        except (KeyError, TypeError, ValueError):
            return False
        if sizes != [(len(s.cut.paths), len(s.cut.paths)) for s in self.sheets]:
            return False
        for sheet, own, at in zip(self.sheets, kept, places, strict=True):
            sheet.at = [max(0.0, value - AGAIN) if value else 0.0 for value in at]
            sheet.finished = [bool(value) for value in own["finished"]]
            sheet.ended = bool(own["ended"])
        self.lost = lost
        return True


def _length(path: CutPath) -> float:
    return path.length * path.passes
