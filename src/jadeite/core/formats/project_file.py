"""The project file: readable JSON, written whole, read with suspicion."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from jadeite.core.errors import FileError
from jadeite.core.formats.atomic import reason, write_whole
from jadeite.core.project import FORMAT, VERSION, Project, field_error

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
MAX_BYTES = 4_000_000  # from memory; a job of 500 trials takes a tenth of it
MAX_DIGITS = 40  # of one number; no measure needs more


def project_text(project: Project) -> str:
    """The document as JSON; fields that keep their default are left out."""
    whole = project.model_dump(mode="json")
    usual = Project().model_dump(mode="json")
    data = {name: value for name, value in whole.items() if value != usual[name]}
    return (
        json.dumps({"format": FORMAT, "version": VERSION} | data, indent=1, ensure_ascii=False)
        + "\n"
    )


def _refuse_constant(word: str) -> float:
    raise ValueError(f"{word} is not a number here")


def _short_int(digits: str) -> int:
    if len(digits) > MAX_DIGITS:
        raise ValueError("a number has too many digits")
    return int(digits)


def _short_float(digits: str) -> float:
    if len(digits) > MAX_DIGITS:
        raise ValueError("a number has too many digits")
    value = float(digits)
    if value in (float("inf"), float("-inf")):
        raise ValueError(f"{digits} is too large")
    return value


def project_from_text(text: str, name: str = "project") -> Project:
    """Read a document.

    Raises
    ------
    FileError
        Not JSON, not a Jadeite project, too new, or a field that is not
        allowed; the text names the line or the field.
    """
    try:
        data: Any = json.loads(
            text,
            parse_constant=_refuse_constant,
            parse_int=_short_int,
            parse_float=_short_float,
        )
    except json.JSONDecodeError as error:
        raise FileError(
            name, f"not readable as JSON: {error.msg}", f"line {error.lineno}"
        ) from None
    except RecursionError:
        raise FileError(name, "it is nested too deeply to be a project") from None
    except ValueError as error:
        raise FileError(name, str(error)) from None
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise FileError(name, "it is not a Jadeite project", "field format")
    version = data.get("version")
    if isinstance(version, int) and not isinstance(version, bool) and version > VERSION:
        raise FileError(
            name,
            f"it was made by a newer Jadeite (format version {version}, this one reads "
            f"{VERSION}); update Jadeite to open it",
            "field version",
        )
    try:
        return Project.model_validate(data)
    except ValidationError as error:
        complaint = field_error(error)
        raise FileError(name, complaint.problem, f"field {complaint.field}") from None
    except RecursionError:
        raise FileError(name, "it is nested too deeply to be a project") from None


def load_project(path: Path) -> Project:
    """Read a project file; see :func:`project_from_text` for the errors."""
    try:
        with path.open("rb") as file:
            raw = file.read(MAX_BYTES + 1)
    except OSError as error:
        raise FileError(str(path), reason(error)) from None
    if len(raw) > MAX_BYTES:
        raise FileError(str(path), f"it is larger than {MAX_BYTES // 1_000_000} MB")
    try:
        text = raw.decode("utf-8")
    except UnicodeDecodeError as error:
        raise FileError(str(path), "it is not UTF-8 text", f"byte {error.start}") from None
    return project_from_text(text, str(path))


def save_project(project: Project, path: Path) -> None:
    """Write a project whole, and keep the previous version as ``NAME.jadeite~``."""
    write_whole(path, project_text(project).encode(), keep=True)


def project_schema() -> dict[str, Any]:
    """JSON schema of the project file."""
    schema = Project.model_json_schema()
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["title"] = "Jadeite project, version 1"
    return schema
