"""Saves a project again and again, each time in a process that ends without a word one step later: python -m
tests.ui.save_driver FOLDER.

For each way of saving and each step there is a folder of its own; the last line of a way counts its steps.
"""

import os
import sys
from pathlib import Path

from garnetfin.project import disk, journal
from garnetfin.project.edits.rooms import SetRoomText
from garnetfin.project.store import save
from garnetfin.ui.session import Session
from tests.example import one_room

WAYS = ("same", "as", "first")


def ending_at(step: int):
    """Every call that touches the disk counts before and after; at the step the process is gone."""
    count = 0

    def tick() -> None:
        nonlocal count
        count += 1
        if count == step:
            os._exit(9)

    def counted(real):
        def call(*args, **kwargs):
            tick()
            found = real(*args, **kwargs)
            tick()
            return found

        return call

    for name in ("fsync", "replace", "chmod", "unlink", "open"):
        setattr(os, name, counted(getattr(os, name)))
    disk.hold = counted(disk.hold)
    journal.hold = counted(journal.hold)
    journal.Journal.write = counted(journal.Journal.write)


def work(folder: Path, way: str, step: int) -> None:
    path = folder / "job.gfin"
    session = Session(journals=folder / "state")
    if way == "first":
        session.start(one_room(), None)
    else:
        save(one_room(), path)
        session.open(path)
    for name in ("A", "B"):
        session.do(SetRoomText(session.project.rooms[0].id, "name", name))
    session.undo()
    session.redo()
    ending_at(step)
    session.save({"same": None, "as": folder / "other.gfin", "first": path}[way])
    os._exit(0)


def main() -> None:
    base = Path(sys.argv[1])
    for way in WAYS:
        step, ended = 0, 9
        while ended == 9:
            step += 1
            folder = base / f"{way}-{step}"
            folder.mkdir(parents=True)
            child = os.fork()
            if not child:
                try:
                    work(folder, way, step)
                finally:
                    os._exit(1)
            ended = os.waitstatus_to_exitcode(os.waitpid(child, 0)[1])
        print(way, step, ended, flush=True)


if __name__ == "__main__":
    main()
