"""The project file: readable JSON, written whole, read with suspicion."""

from __future__ import annotations

import json
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from jadeite.core.errors import FieldError, FileError
from jadeite.core.formats.atomic import write_whole
from jadeite.core.formats.hostile import MAX_BYTES, check_format, json_from_text, text_of_file
from jadeite.core.project import FORMAT, VERSION, Item, Project, field_error

__all__ = [
    "MAX_BYTES",
    "SUFFIX",
    "load_project",
    "project_from_text",
    "project_schema",
    "project_text",
    "save_project",
]

SUFFIX = ".jadeite"


def project_text(project: Project) -> str:
    """The document as JSON; fields that keep their default are left out."""
    data = _unusual(project, Project())
    data["items"] = [{"name": item.name} | _unusual(item, Item()) for item in project.items]
    for thing in (thing for item in data["items"] for thing in item.get("contents", ())):
        if thing["kind"] == "made":
            del thing["extents"], thing["mass"]  # they follow from its design
    return (
        json.dumps({"format": FORMAT, "version": VERSION} | data, indent=1, ensure_ascii=False)
        + "\n"
    )


def _unusual(document: Item | Project, usual: Item | Project) -> dict[str, Any]:
    """The fields that do not keep their default, as plain data."""
    whole, known = document.model_dump(mode="json"), usual.model_dump(mode="json")
    return {name: value for name, value in whole.items() if value != known[name]}


def _from_first_version(data: dict[str, Any]) -> dict[str, Any]:
    """Version 1 held one made thing, its fields beside those of the job."""
    own = {name: data[name] for name in data if name in Item.model_fields and name != "name"}
    if data.get("inside") is not None:
        own["brief"] = {"kind": "hollow", "size": data["inside"]}
    shape = data.get("shape")
    key = shape.get("key") if isinstance(shape, dict) else None
    if isinstance(key, str) and key:
        own["name"] = key[:60].replace("-", " ").strip() or "box"
    job = {name: value for name, value in data.items() if name not in own and name != "inside"}
    for name in ("items", "brief", "names"):
        if name in data:
            raise FieldError(name, "version 1 has no such field")
    return {**job, "version": VERSION, "items": [own]}


def project_from_text(text: str, name: str = "project") -> Project:
    """Read a document.

    Raises
    ------
    FileError
        Not JSON, not a Jadeite project, too new, or a field that is not
        allowed; the text names the line or the field.
    """
    data = check_format(json_from_text(text, name), FORMAT, VERSION, "a Jadeite project", name)
    try:
        if data.get("version", 1) == 1:
            data = _from_first_version(data)
        return Project.model_validate(data)
    except ValidationError as error:
        complaint = field_error(error)
        raise FileError(name, complaint.problem, f"field {complaint.field}") from None
    except FieldError as error:  # a board that is none
        raise FileError(name, error.problem, f"field {error.field}") from None
    except RecursionError:
        raise FileError(name, "it is nested too deeply") from None


def load_project(path: Path) -> Project:
    """Read a project file; see :func:`project_from_text` for the errors.

    Raises
    ------
    FileError
        As there, or it names a picture that does not lie beside it.
    """
    project = project_from_text(text_of_file(path), str(path))
    for photo in project.photos:
        if Path(photo.file).name != photo.file or photo.file.startswith("."):
            words = f"the picture “{photo.file[:40]}” does not lie beside the project"
            raise FileError(str(path), words, "field photos")
    folder = path.absolute().parent
    return _with_files(project, {photo.key: str(folder / photo.file) for photo in project.photos})


def save_project(project: Project, path: Path) -> Project:
    """Write a project whole, its pictures beside it, and keep the version before.

    That is ``NAME.jadeite~``.  What comes back names the pictures where they now lie.

    Raises
    ------
    FileError
        The system refused; the files before are as they were.
    """
    if project.photos:
        from jadeite.core.formats.photo_file import carried_along

        photos = carried_along(project.photos, path.absolute().parent)
        project = project.model_copy(update={"photos": photos})
    bare = _with_files(project, {photo.key: Path(photo.file).name for photo in project.photos})
    write_whole(path, project_text(bare).encode(), keep=True)
    return project


def _with_files(project: Project, files: Mapping[str, str]) -> Project:
    """The project with other files of its pictures, by key."""
    if not files:
        return project
    photos = tuple(p.model_copy(update={"file": files[p.key]}) for p in project.photos)
    return project.model_copy(update={"photos": photos})


def project_schema() -> dict[str, Any]:
    """JSON schema of the project file."""
    schema = Project.model_json_schema()
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["title"] = f"Jadeite project, version {VERSION}"
    return schema
