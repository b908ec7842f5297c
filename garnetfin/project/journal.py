"""The journal: every edit of a session as one line beside the project file, so that a crash loses nothing and undo
survives it.

The first line holds the project as it was opened. Each following one holds what an edit changed (parts by id), a
move of undo or redo,
contents that came in, a mark, or a save (before it and after it). A line begins with a checksum of the rest: one
that was cut off by the crash is left out.
Lines go to the system at once, so that a killed program loses none; `sync` brings them to the disk itself.
"""

import base64
import glob
import os
import socket
import time
import zlib
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from hashlib import sha256
from itertools import pairwise
from pathlib import Path
from typing import Any

import msgspec
from msgspec import structs

from garnetfin.core.errors import FileError, GarnetfinError
from garnetfin.project import container
from garnetfin.project.disk import hold, remove_unheld
from garnetfin.project.history import Entry
from garnetfin.project.migrate import migrate
from garnetfin.project.store import Mark
from garnetfin.project.tree import LISTS, Project, check_links

try:
    import fcntl
# only where there is no file locking; then the process named in the first line counts
except ImportError:
    fcntl = None

FORMAT = 1
SUFFIX = "-journal"
LARGEST = 2 * 2**30
OTHERS = tuple(f for f in Project.__struct_fields__ if f not in LISTS and f != "format")


def beside(path: Path) -> Path:
    """Where the journal of a project file lies."""
    return path.with_name(f".{path.name}{SUFFIX}")


def away(path: Path, folder: Path) -> Path:
    """Where it lies if the project's own folder cannot be written."""
    return folder / f"{path.stem[:60]}-{sha256(str(path.absolute()).encode()).hexdigest()[:12]}{SUFFIX}"


def digest_of(data: bytes) -> str:
    """What bytes hold, in short."""
    return sha256(data).hexdigest()


def digest(path: Path) -> str:
    """What a file holds, in short; "" for none that can be read."""
    try:
        return digest_of(path.read_bytes())
    except OSError:
        return ""


def clear_beginnings(path: Path) -> None:
    """Take away beginnings of a journal that a crash left; one that somebody is writing is held and stays."""
    remove_unheld(p for p in path.parent.glob(f"{glob.escape(path.name)}.*") if p.suffix[1:].isdigit())


# -- one edit as a difference -------------------------------------------------------------------------------------
def difference(before: Project, now: Project) -> dict[Any, Any]:
    """What changed: parts set and removed by kind, their order where it moved, all else as a whole."""
    made: dict[Any, Any] = {}
    for kind in LISTS:
        old, new = getattr(before, kind), getattr(now, kind)
        if old is new:
            continue
        known = {p.id: p for p in old}
        change: dict[Any, Any] = {"set": [p for p in new if known.get(p.id) is not p]}
        ids = [p.id for p in new]
        kept = set(ids)
        gone = [p.id for p in old if p.id not in kept]
        if gone:
            change["gone"] = gone
        if ids != [i for i in known if i in kept] + [i for i in ids if i not in known]:
            change["order"] = ids
        made[kind] = change
    for name in OTHERS:
        old, new = getattr(before, name), getattr(now, name)
        if old is not new and old != new:
            made[name] = new
    return made


def apply_difference(project: Project, raw: Mapping[Any, Any]) -> Project:
    """The project after a difference that was read from a file.

    Raises msgspec.ValidationError, GarnetfinError for what cannot be.
    """
    changes: dict[Any, Any] = {}
    hints = _hints()
    for name, change in raw.items():
        if name not in LISTS:
            changes[name] = msgspec.convert(change, hints[name])
            continue
        parts = {p.id: p for p in getattr(project, name)}
        for gone in change.get("gone", ()):
            parts.pop(gone, None)
        for part in msgspec.convert(change["set"], hints[name]):
            parts[part.id] = part
        order = change.get("order")
        changes[name] = tuple(parts[i] for i in order) if order is not None else tuple(parts.values())
    return structs.replace(project, **changes)


_HINTS: dict[Any, Any] = {}


def _hints() -> dict[Any, Any]:
    if not _HINTS:
        from typing import get_type_hints

        _HINTS.update(get_type_hints(Project))
    return _HINTS


# -- writing ------------------------------------------------------------------------------------------------------
class Head(msgspec.Struct, frozen=True):
    """The first line, but for the project in it: whose journal it is, what its file held, who holds it since when."""

    garnetfin_journal: int = 0
    of: str = ""  # path of the project file; "" for one never saved
    digest: str = ""
    host: str = ""
    process: int = 0
    begun: float = 0.0
    saved_at: int = -1  # the entry that the file holds


@dataclass
class Journal:
    """An open journal. Raises OSError where it cannot be written; it is held by this process until it is closed."""

    path: Path
    _file: object = None

    @classmethod
    def begin(
        cls,
        path: Path,
        history: Sequence[Entry],
        at: int,
        project_path: Path | None,
        saved_at: int,
        contents: Mapping[str, bytes],
        marks: Mapping[str, Mark],
        mine: "Journal | None" = None,
    ) -> "Journal":
        """A journal of a whole history, put in the place of what lies there only once it is complete.

        `saved_at`: the entry that the project file holds, -1 for none; `contents`: those it does not hold; `mine`:
        the journal that this one follows. Raises FileError where another window holds it.
        """
        if (mine is None or mine.path != path) and (who := held(path)):
            raise FileError(f"{path.name} belongs to {who}", where=str(path.parent))
        clear_beginnings(path)
        part = path.with_name(f"{path.name}.{os.getpid()}")
        made = cls(path, part.open("wb", buffering=0))
        try:
            hold(made._file)
            head = Head(
                FORMAT,
                str(project_path.absolute()) if project_path else "",
                digest(project_path) if project_path else "",
                socket.gethostname(),
                os.getpid(),
                time.time(),
                saved_at,
            )
            made.write({**structs.asdict(head), "project": history[0].project})
            for i, (before, entry) in enumerate(pairwise(history), 1):
                made.edit(entry.label, entry.gesture, i, before.project, entry.project)
            if at != len(history) - 1:
                made.move(at)
            for name in sorted(contents):
                made.content(name, contents[name])
            for mark in marks.values():
                made.write({"mark": mark, "known": True})
            os.replace(part, path)
        except BaseException:
            made._file.close()
            part.unlink(missing_ok=True)
            raise
        return made

    def write(self, record: dict[Any, Any]) -> None:
        text = msgspec.json.encode(record)
        line = f"{zlib.crc32(text):08x} ".encode() + text + b"\n"
        sent = 0
        while sent < len(line):  # a raw file may take less than it is given
            sent += self._file.write(line[sent:])

    def edit(self, label: str, gesture: int, at: int, before: Project, now: Project) -> None:
        """An edit that became entry `at` of the history."""
        self.write(
            {"edit": label, "gesture": gesture, "at": at, "change": difference(before, now), "time": time.time()}
        )

    def move(self, at: int) -> None:
        """Undo or redo."""
        self.write({"move": at})

    def content(self, name: str, data: bytes) -> None:
        self.write({"content": name, "data": base64.b64encode(data).decode()})

    def mark(self, mark: Mark) -> None:
        self.write({"mark": mark})

    def unmark(self, name: str) -> None:
        self.write({"unmark": name})

    def saving(self, path: Path, digest_then: str, at: int) -> None:
        """Told before a save: once the file is the one that is announced, it holds entry `at`, whether or not anything
        could be told after it.
        """
        self.write({"saving": str(path.absolute()), "digest": digest_then, "at": at})

    def saved(self, path: Path, at: int) -> None:
        self.write({"saved": str(path.absolute()), "digest": digest(path), "at": at})

    def sync(self) -> None:
        os.fsync(self._file.fileno())

    def close(self, remove: bool = True) -> None:
        """Closed in order nothing of it is needed any more."""
        try:
            if remove:
                self.path.unlink(missing_ok=True)
        except OSError:
            pass
        finally:
            self._file.close()


# -- reading ------------------------------------------------------------------------------------------------------
@dataclass(frozen=True, slots=True)
class Found:
    """What a journal holds: its project file ("" for one never saved), the history with the entry in force, contents,
    marks, and which entry was saved last (-1: none).
    """

    path: Path
    of: str
    entries: tuple[Entry, ...]
    at: int
    contents: dict[str, bytes] = field(default_factory=dict)
    marks: dict[str, Mark] = field(default_factory=dict)
    saved_at: int = -1
    digest: str = ""  # of the file when it was opened or last saved
    time: float = 0.0  # of the last edit
    marked: bool = False  # marks were kept or forgotten since

    @property
    def project(self) -> Project:
        return self.entries[self.at].project

    @property
    def lost(self) -> bool:
        """True when it holds more than the file."""
        return self.at != self.saved_at or self.marked


def held(path: Path) -> str:
    """Who has a journal open: words for the user, "" when nobody has."""
    if not path.exists():
        return ""
    try:
        with path.open("rb") as file:
            head = _head(next(_records(file), {}))
            if fcntl is not None:
                try:
                    fcntl.flock(file, fcntl.LOCK_SH | fcntl.LOCK_NB)
                    return ""
                except BlockingIOError:
                    return _who(head)
                except OSError:
                    pass  # a folder without locks: the process it names counts
    except OSError:
        return ""
    return _who(head) if head.host == socket.gethostname() and _alive(head.process) else ""


def _head(record: Mapping[Any, Any]) -> Head:
    """The first line; one that is none of ours says nothing."""
    try:
        return msgspec.convert(record, Head)
    except msgspec.ValidationError:
        return Head()


def _who(head: Head) -> str:
    where = "" if head.host in ("", socket.gethostname()) else f" on {head.host[:60]}"
    return f"another window{where}" + (
        f", open since {time.strftime('%H:%M', time.localtime(head.begun))}" if 0 < head.begun < 1e11 else ""
    )


def _alive(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except OSError:
        return True
    return process > 0


def read(path: Path) -> Found:
    """Replay a journal; a line that is cut off or wrong ends it, what stands before counts.

    Raises FileError for what is no journal.
    """
    try:
        if path.stat().st_size > LARGEST:
            raise FileError(f"{path.name} is larger than the {LARGEST // 2**30} GB accepted", where=str(path.parent))
        with path.open("rb") as file:
            return _replay(path, _records(file))
    except OSError as error:
        raise FileError(f"{path.name} cannot be read: {error.strerror or error}", where=str(path.parent)) from error


def _records(file) -> Iterator[dict[Any, Any]]:
    for line in iter(lambda: file.readline(container.LARGEST_JSON), b""):
        check, _, text = line.rstrip(b"\n").partition(b" ")
        try:
            if not line.endswith(b"\n") or int(check, 16) != zlib.crc32(text):
                return
            container.count(text, "journal", "line")
            record = msgspec.json.decode(text)
        except (ValueError, RecursionError, msgspec.MsgspecError, FileError):
            return
        if not isinstance(record, dict):
            return
        yield record


def _replay(path: Path, records: Iterator[dict[Any, Any]]) -> Found:
    first = next(records, {})
    try:
        head = msgspec.convert(first, Head)
        if head.garnetfin_journal != FORMAT:
            raise FileError(f"{path.name} is no journal", where=str(path.parent))
        start = msgspec.convert(migrate(first["project"]), Project)
        check_links(start)
    except (
        KeyError,
        TypeError,
        ValueError,
        AttributeError,
        RecursionError,
        msgspec.MsgspecError,
        GarnetfinError,
    ) as error:
        raise FileError(f"{path.name} cannot be taken up: {error}", where=str(path.parent)) from error
    entries, at, last = [Entry("", start)], 0, head.begun
    contents: dict[str, bytes] = {}
    marks: dict[str, Mark] = {}
    of, told, saved_at, marked = head.of, head.digest, head.saved_at, False
    # path, digest, entry, whether marks moved since: a save nothing was told of after it
    announced: tuple[str, str, int, bool] | None = None
    for record in records:
        try:
            if "edit" in record:
                project = apply_difference(entries[at].project, record["change"])
                check_links(project, entries[at].project)
                place = int(record["at"])
                if not 0 < place <= at + 1:
                    break
                if saved_at >= place:
                    saved_at = -1  # the entry that was saved is no longer part of the history
                if announced is not None and announced[2] >= place:
                    announced = (*announced[:2], -1, announced[3])
                del entries[place:]
                entries.append(Entry(str(record["edit"]), project, int(record["gesture"])))
                at, last = place, float(record.get("time", last))
            elif "move" in record:
                if not 0 <= int(record["move"]) < len(entries):
                    break
                at = int(record["move"])
            elif "content" in record:
                contents[str(record["content"])] = base64.b64decode(record["data"])
            elif "mark" in record:
                mark = msgspec.convert(record["mark"], Mark)
                marks[mark.name] = mark
                marked = marked or not record.get("known", False)
                announced = announced and (*announced[:3], True)
            elif "unmark" in record:
                marks.pop(str(record["unmark"]), None)
                marked = True
                announced = announced and (*announced[:3], True)
            elif "saving" in record:
                announced = str(record["saving"]), str(record["digest"]), int(record["at"]), False
            elif "saved" in record:
                of, told, saved_at, marked = str(record["saved"]), str(record["digest"]), int(record["at"]), False
                announced = None
        except (KeyError, TypeError, ValueError, AttributeError, RecursionError, msgspec.MsgspecError, GarnetfinError):
            break
    if announced is not None and announced[1] and digest(Path(announced[0])) == announced[1]:
        of, told, saved_at, marked = announced
    return Found(path, of, tuple(entries), at, contents, marks, saved_at, told, last, marked)
