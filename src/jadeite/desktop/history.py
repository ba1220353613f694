"""Documents for undo and redo: what is dragged is one change."""

from __future__ import annotations

from jadeite.core.project import Project

__all__ = ["History"]

MOST = 400  # documents kept for undo; from memory


class History:
    """The present document, those before it, and those that were taken back."""

    def __init__(self, project: Project) -> None:
        self._all, self._now, self._drag = [project], 0, ""

    @property
    def present(self) -> Project:
        """The document as it now is."""
        return self._all[self._now]

    @property
    def can_undo(self) -> bool:
        """Whether there is an earlier document."""
        return self._now > 0

    @property
    def can_redo(self) -> bool:
        """Whether there is a later document."""
        return self._now + 1 < len(self._all)

    def put(self, project: Project) -> None:
        """Make a document the present one."""
        if self._drag == "moving" and self._now > 0:  # one drag is one change to take back
            self._all[self._now] = project
            del self._all[self._now + 1 :]
            return
        if self._drag == "begun":
            self._drag = "moving"
        del self._all[self._now + 1 :]
        self._all.append(project)
        if len(self._all) > MOST:
            del self._all[0]
        self._now = len(self._all) - 1

    def amend(self, project: Project) -> None:
        """Another document in place of the present one: nothing that a maker would take back."""
        self._all[self._now] = project

    def drag(self, going_on: bool) -> None:
        """A number begins or ends to be dragged: what changes between is one change."""
        self._drag = "begun" if going_on else ""

    def undo(self) -> None:
        """Back to the document before, if there is one."""
        self._now = max(0, self._now - 1)

    def redo(self) -> None:
        """Forward again, if there is a later document."""
        self._now = min(len(self._all) - 1, self._now + 1)
