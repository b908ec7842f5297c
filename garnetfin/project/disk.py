"""The one way files of ours are written: whole or not at all, under names that stay below the folder that was chosen.

A file is written beside its place, brought to the disk, and renamed over what stood there. A crash leaves either the
old file or the new
one, and at most a part file, which the next write or opening of that file takes away.
"""

import os
import re
import secrets
import stat
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import BinaryIO

from garnetfin.core.errors import FileError

try:
    import fcntl
# where there is no file locking nobody can tell a part file in work from one left behind
except ImportError:
    fcntl = None

PART = ".part"
LONGEST_NAME = 80
KEEP = "Choose another folder; nothing is lost here"


# -- names --------------------------------------------------------------------------------------------------------
def file_name(words: str, otherwise: str = "file") -> str:
    """Words as a file name or part of one: letters, digits, “-”, “_” and “.” of any script, no path, never empty, never
    hidden.
    """
    made = re.sub(r"[^\w.-]+", "-", words.lower()).strip("-._")[:LONGEST_NAME].strip("-._")
    return made or otherwise


def below(folder: Path, name: str) -> Path:
    """Where a file of that name lies in a folder. Raises FileError for a name that leads anywhere else."""
    path = folder / name
    inside = Path(os.path.realpath(path))
    if not inside.is_relative_to(os.path.realpath(folder)) or inside == Path(os.path.realpath(folder)):
        raise FileError(f"“{name[:60]}” is no name for a file in {folder.name or folder}", where=str(folder))
    return path


# -- writing ------------------------------------------------------------------------------------------------------
def hold(file: BinaryIO) -> bool:
    """Take the lock of an open file;

    False while another has it. Where a folder knows no locks nothing can be held: no hindrance.
    """
    if fcntl is None:
        return True
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return False
    except OSError:
        return True
    return True


def write_whole(path: Path, data: bytes, remedy: str = KEEP, done: str = "written") -> None:
    """Put data in the place of a file, whole or not at all. Raises FileError; what stood there stays.

    A link is followed; a pipe or device takes the data as it is.
    """
    write_by(path, lambda part: part.write(data), remedy, done)


def write_by(path: Path, fill: Callable[[BinaryIO], object], remedy: str = KEEP, done: str = "written") -> None:
    """As write_whole, with a function that writes into the open part file.

    Raises FileError for what the disk refuses.
    """
    part = None
    try:
        mode = path.stat().st_mode if path.exists() else None
        if mode is not None and not stat.S_ISREG(mode):
            if stat.S_ISDIR(mode):
                raise IsADirectoryError(0, "there is a folder of that name")
            with path.open("wb") as out:
                fill(out)
            return
        place = Path(os.path.realpath(path))
        clear_parts(place)
        part = _part(place)
        with part.open("xb") as out:
            hold(out)
            fill(out)
            out.flush()
            os.fsync(out.fileno())
            os.chmod(part, 0o644 if mode is None else mode & 0o777)
            os.replace(part, place)
        part = None
        sync_folder(place.parent)
    except OSError as error:
        raise FileError(
            f"{path.name} could not be {done}: {error.strerror or error}", where=str(path.parent), remedy=remedy
        ) from error
    finally:
        if part is not None:
            part.unlink(missing_ok=True)


def _part(place: Path) -> Path:
    return place.with_name(f".{place.name[:LONGEST_NAME]}.{secrets.token_hex(4)}{PART}")


def clear_parts(place: Path) -> None:
    """Take away part files of a place that a crash left; one that somebody is writing is held and stays."""
    try:
        names = [
            p
            for p in place.parent.iterdir()
            if re.fullmatch(re.escape(f".{place.name[:LONGEST_NAME]}.") + r"[0-9a-f]{8}" + re.escape(PART), p.name)
        ]
    except OSError:
        return
    remove_unheld(names)


def remove_unheld(parts: Iterable[Path]) -> None:
    """Take away files that nobody holds; one that cannot be looked at stays."""
    for part in parts:
        try:
            with part.open("rb") as file:
                if hold(file):
                    part.unlink(missing_ok=True)
        except OSError:
            continue


def sync_folder(folder: Path) -> None:
    """Bring a rename to the disk, where the folder can be opened at all."""
    try:
        opened = os.open(folder, os.O_RDONLY)
    except OSError:
        return
    try:
        os.fsync(opened)
    except OSError:
        pass  # some network folders know no such thing; the file itself is there
    finally:
        os.close(opened)
