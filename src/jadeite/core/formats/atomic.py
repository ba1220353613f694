"""Files appear whole or not at all."""

from __future__ import annotations

import contextlib
import os
import tempfile
from collections.abc import Mapping
from pathlib import Path

from jadeite.core.errors import FileError

__all__ = ["PART", "alive", "reason", "sweep", "write_all", "write_whole"]

PART = ".jadeite-part"  # the end of the name of a file that is not whole yet


def reason(error: OSError) -> str:
    """Plain words for what the system refused."""
    words = {
        "ENOSPC": "the disk is full; free some space and save again",
        "EROFS": "the disk can only be read; save to another place",
        "EACCES": "it may not be written here; save to another place",
        "EPERM": "it may not be written here; save to another place",
        "ENOENT": "there is no such file or folder",
        "EISDIR": "it is a folder, not a file",
        "ENOTDIR": "part of its path is not a folder",
        "ENAMETOOLONG": "its name is too long",
    }
    import errno

    name = errno.errorcode.get(error.errno or 0, "")
    return words.get(name, error.strerror or str(error))


def alive(process: int) -> bool:
    """Whether a process runs, whosever it is."""
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except (PermissionError, OverflowError):
        return True
    return True


def sweep(folder: Path) -> None:
    """Remove what was half written when a program was killed; files being written now stay."""
    with contextlib.suppress(OSError):
        for part in folder.glob(f".*{PART}"):
            number = part.name.removesuffix(PART).split(".")[-2]
            if number.isdigit() and not alive(int(number)):
                part.unlink(missing_ok=True)


def write_whole(path: Path, data: bytes, *, keep: bool = False) -> None:
    """Write a file by temporary file, fsync and rename.

    Parameters
    ----------
    path : Path
    data : bytes
    keep : bool
        Keep the previous version beside it, with ``~`` at the end of its name.

    Raises
    ------
    FileError
        The system refused; the previous file is as it was.
    """
    temporary = ""
    sweep(path.parent)
    try:
        handle, temporary = tempfile.mkstemp(
            dir=path.parent, prefix=f".{path.name[:80]}.{os.getpid()}.", suffix=PART
        )
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        os.chmod(temporary, 0o644)
        if keep and path.exists():
            second = f"{temporary[: -len(PART)]}~{PART}"
            os.link(path, second)
            os.replace(second, path.with_name(path.name + "~"))
        os.replace(temporary, path)
        temporary = ""
        folder = os.open(path.parent, os.O_RDONLY)
        try:
            os.fsync(folder)
        finally:
            os.close(folder)
    except OSError as error:
        raise FileError(str(path), reason(error)) from error
    finally:
        if temporary:
            with contextlib.suppress(OSError):
                os.unlink(temporary)


def write_all(folder: Path, made: Mapping[str, bytes]) -> list[Path]:
    """Write files, each whole, into a folder by their names in it; folders are made when missing.

    Raises
    ------
    FileError
        The system refused; what was written before stays.
    """
    paths = {folder / name: data for name, data in made.items()}
    try:
        for path in paths:
            path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FileError(str(folder), reason(error)) from error
    for path, data in paths.items():
        write_whole(path, data)
    return list(paths)
