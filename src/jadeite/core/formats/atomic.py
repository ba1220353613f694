"""Files appear whole or not at all."""

from __future__ import annotations

import contextlib
import os
import tempfile
from pathlib import Path

from jadeite.core.errors import FileError

__all__ = ["reason", "write_whole"]


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
    try:
        handle, temporary = tempfile.mkstemp(dir=path.parent, prefix=f".{path.name[:80]}.")
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        os.chmod(temporary, 0o644)
        if keep and path.exists():
            previous = path.with_name(path.name + "~")
            with contextlib.suppress(FileNotFoundError):
                previous.unlink()
            os.link(path, previous)
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
