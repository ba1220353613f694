"""What is made stays as it was, to a thousandth of a millimetre."""

from __future__ import annotations

import copy
import gzip
import json

import pytest

from jadeite.core.formats.project_file import load_project, project_from_text
from tests.jobs import only
from tests.standing import EXAMPLES, FOLDER, boards_chosen, differences, made, record

FILES = sorted(FOLDER.glob("*.json.gz"))
FEW = 5  # of each family; the soak compares all


def _compared(name: str, most: int) -> list[str]:
    wrong = []
    entries = json.loads(gzip.decompress((FOLDER / name).read_bytes()))
    assert len(entries) >= 13
    for number, entry in enumerate(entries[:most]):
        design = made(boards_chosen(only(project_from_text(json.dumps(entry["project"])))))
        found = ["is refused"] if design is None else differences(entry, record(design))
        wrong += [f"{number}: {words}" for words in found]
    return wrong


@pytest.mark.parametrize("path", FILES, ids=lambda p: p.name[:-8])
def test_nets_are_as_they_were(path) -> None:  # type: ignore[no-untyped-def]
    """A few random jobs of each family, and every example."""
    assert _compared(path.name, 99 if path.name.startswith("of-examples") else FEW) == []


@pytest.mark.soak
@pytest.mark.parametrize("path", FILES, ids=lambda p: p.name[:-8])
def test_soak_nets_are_as_they_were(path) -> None:  # type: ignore[no-untyped-def]
    """All of them."""
    assert _compared(path.name, 99) == []


def test_a_change_is_seen() -> None:
    """A corner moved, a fold turned, a joint lost, a piece of another board."""
    entries = json.loads(gzip.decompress((FOLDER / "tray-with-lid.json.gz").read_bytes()))
    was = entries[0]
    assert differences(was, was) == []
    name = next(iter(was["pieces"]))
    cases = []
    for _ in range(5):
        cases.append(copy.deepcopy(was))
    cases[0]["pieces"][name]["cuts"][0][1][0] += 0.002
    cases[1]["pieces"][name]["folds"][0][4] += 0.01
    cases[2]["joints"].pop()
    cases[3]["pieces"][name]["board"] = "tissue"
    cases[4]["pieces"][name]["folds"].pop()
    for now in cases:
        assert len(differences(was, now)) == 1


@pytest.mark.parametrize("path", sorted(EXAMPLES.glob("*.jadeite")), ids=lambda p: p.stem)
def test_files_of_before_open(path) -> None:  # type: ignore[no-untyped-def]
    """Projects as they were written when a job was one made thing."""
    project = only(load_project(path))
    assert made(project) is not None
