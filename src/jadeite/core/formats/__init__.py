"""Files: the project itself, and everything that leaves the program."""

from jadeite.core.formats.export import EVERY, FORMATS, export_all
from jadeite.core.formats.project_file import (
    load_project,
    project_from_text,
    project_schema,
    project_text,
    save_project,
)

__all__ = [
    "EVERY",
    "FORMATS",
    "export_all",
    "load_project",
    "project_from_text",
    "project_schema",
    "project_text",
    "save_project",
]
