"""What is done to the made things of a job: added, named, copied, ordered, put into one another."""

from __future__ import annotations

from collections.abc import Callable

from jadeite.core.contents.things import MadeThing
from jadeite.core.pipeline import usual_brief
from jadeite.core.project import (
    Item,
    Project,
    Shape,
    changed,
    free_name,
    put_into,
    renamed,
    with_item,
    without_item,
)
from jadeite.core.shapes import ShapeFamily, family_by_key
from jadeite.desktop.session import Session

__all__ = ["ItemActions", "fresh_item"]


def fresh_item(project: Project, family: ShapeFamily) -> Item:
    """A new made thing of a family, of a usual size where it needs one to begin with."""
    return Item(
        name=free_name(project, family.short.lower()),
        shape=Shape(key=family.key),
        brief=usual_brief(family, sized=True),
        usual_windows=True,
    )


class ItemActions:
    """Every change can be taken back; one that cannot be is said."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def _try(self, change: Callable[[Project], Project], chosen: str = "") -> None:
        self.session.trying(lambda: change(self.session.project), chosen)

    def add(self, key: str) -> None:
        """One more made thing, chosen."""
        item = fresh_item(self.session.project, family_by_key(key))
        self._try(lambda project: with_item(project, item), item.name)

    def rename(self, name: str, new: str) -> None:
        """Another name; it stays chosen if it was."""
        new = new.strip()
        if new and new != name:
            chosen = new if self.session.chosen == name else self.session.chosen
            self._try(lambda project: renamed(project, name, new), chosen)

    def copy(self, name: str) -> None:
        """The same once more, under a name of its own, chosen."""
        project = self.session.project
        twin = changed(project.item(name), name=free_name(project, name))
        self._try(lambda p: with_item(p, twin), twin.name)

    def remove(self, name: str) -> None:
        """Take a made thing out of the job."""
        self._try(lambda project: without_item(project, name))

    def move(self, name: str, place: int) -> None:
        """Put a made thing at another place of the row, before what stands there now."""
        items = list(self.session.project.items)
        now = self.session.project.names.index(name)
        item = items.pop(now)
        items.insert(place - (place > now), item)
        self._try(lambda project: changed(project, items=tuple(items)))

    def put(self, name: str, holder: str) -> None:
        """Make a made thing part of the contents of another, which is then chosen."""
        self._try(lambda project: put_into(project, name, holder), holder)

    def take_out(self, name: str, holder: str) -> None:
        """Take a made thing out of the contents of another."""
        item = self.session.project.item(holder)
        rest = tuple(t for t in item.contents if not (isinstance(t, MadeThing) and t.item == name))
        new = changed(item, contents=rest)
        items = tuple(new if i.name == holder else i for i in self.session.project.items)
        self._try(lambda project: changed(project, items=items))
