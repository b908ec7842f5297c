"""Reading a foreign file in a process of its own, with progress, a way to stop it, and limits."""

import json
import os
import subprocess
import tempfile
import threading
import time
from collections.abc import Callable
from pathlib import Path

import msgspec

from garnetfin.core.errors import Cancelled, FileError, GarnetfinError
from garnetfin.exchange.results import Answer
from garnetfin.processes import isolated
from garnetfin.project import container
from garnetfin.project.draft import check_draft

LONGEST_S = 300.0
LARGEST_ANSWER = 256 * 2**20
LARGEST_FILE = {
    "table": 20,
    "gbxml": 200,
    "ifc": 300,
    "dxf": 200,
    "picture": 100,
    "page": 200,
    "weather": 40,
    "project": container.LARGEST_FILE // 2**20,
}  # MB
KINDS = {
    ".csv": "table",
    ".txt": "table",
    ".tsv": "table",
    ".xlsx": "table",
    ".xml": "gbxml",
    ".gbxml": "gbxml",
    ".ifc": "ifc",
    ".dxf": "dxf",
    ".png": "picture",
    ".jpg": "picture",
    ".jpeg": "picture",
    ".pdf": "page",
    ".epw": "weather",
    ".tm3": "weather",
}


def kind_of(path: Path) -> str:
    """What a file is read as, by its ending. Raises FileError for one that is not read."""
    kind = KINDS.get(path.suffix.lower())
    if kind is None:
        raise FileError(f"{path.name} is not a file this program reads", remedy="Accepted: " + ", ".join(sorted(KINDS)))
    return kind


def read(
    path: Path,
    kind: str = "",
    options: dict | None = None,
    progress: Callable[[float, str], None] = lambda share, words: None,
    stopped: Callable[[], bool] = lambda: False,
    longest_s: float = LONGEST_S,
) -> Answer:
    """The answer of the reader. Raises FileError with one clear sentence, Cancelled when stopped() turns true."""
    kind = kind or kind_of(path)
    _check(path, kind)
    with tempfile.TemporaryFile() as out:
        # Its standard input is a pipe that nothing is written to: once this process is gone, the reader sees its end
        # and ends too.
        process = subprocess.Popen(
            isolated("garnetfin.exchange.worker", kind, str(path.resolve()), json.dumps(options or {})),
            stdout=out,
            stderr=subprocess.PIPE,
            stdin=subprocess.PIPE,
            text=True,
            errors="replace",
            cwd="/",
            env={**os.environ, "OMP_NUM_THREADS": "2"},
        )
        listener = threading.Thread(target=_listen, args=(process, progress), daemon=True)
        listener.start()
        until = time.monotonic() + longest_s
        try:
            while process.poll() is None:
                if stopped():
                    raise Cancelled
                if time.monotonic() > until:
                    raise FileError(
                        f"{path.name} was not read within {longest_s:.0f} s", remedy="A smaller part of it is accepted"
                    )
                time.sleep(0.01)
        finally:
            if process.poll() is None:
                process.kill()
            process.wait()
            process.stdin.close()
            listener.join(timeout=2)
            process.stderr.close()
        size = out.seek(0, os.SEEK_END)
        out.seek(0)
        if process.returncode != 0 or not size or size > LARGEST_ANSWER:
            raise FileError(
                f"{path.name} brought its reader down",
                where=f"reader ended with {process.returncode}",
                remedy="It is damaged or far too large; the project is as it was",
            )
        return _checked(out.read(), path.name)


def _check(path: Path, kind: str) -> None:
    try:
        if not path.is_file():
            raise FileError(f"{path.name} is not a file")
        size = path.stat().st_size
    except OSError as error:
        raise FileError(f"{path.name} cannot be read: {error.strerror or error}", where=str(path.parent)) from error
    if size == 0:
        raise FileError(f"{path.name} is empty")
    if size > LARGEST_FILE[kind] * 2**20:
        raise FileError(f"{path.name} is larger than {LARGEST_FILE[kind]} MB", remedy="Export a part of it")


def _listen(process: subprocess.Popen, progress: Callable[[float, str], None]) -> None:
    for line in process.stderr:
        share, _, words = line[:300].rstrip().partition(" ")
        try:
            progress(min(1.0, max(0.0, float(share))), words)
        except ValueError:
            continue  # a foreign library's own remark


def _checked(data: bytes, name: str) -> Answer:
    """What came back is decoded with every range checked again: readers let odd figures through."""
    try:
        found = msgspec.msgpack.decode(data, type=Answer)
        if found.draft is not None:
            check_draft(found.draft)
    except (msgspec.DecodeError, GarnetfinError) as error:
        raise FileError(f"{name} holds something that cannot be: {error}", remedy="The project is as it was") from error
    if found.refused:
        raise FileError(found.refused)
    return found
