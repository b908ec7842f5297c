"""A window that lives long: projects opened and closed again and again, edited, looked at; memory, files and threads
stay what they were.
"""

import gc
import os
import random
import tempfile
import threading
import time
from pathlib import Path

from PySide6.QtCore import QEvent

import tests
from garnetfin.project.edits.marks import AddMark
from garnetfin.project.store import save
from garnetfin.ui.app import make_app
from garnetfin.ui.frame.window import MainWindow
from garnetfin.ui.session import Session
from garnetfin.ui.state import LINKS
from tests.engine.test_first_pass import listed
from tests.engine.test_random_projects import edit
from tests.example import one_room, station
from tests.exchange.samples import tower

FIRST = 8  # openings after which all is loaded that ever will be
MORE_MB = 60  # that a window may hold later: caches of text and colours fill up
OPENINGS, ACTIONS = 50, 200


def resident_mb() -> float:
    return int(Path("/proc/self/statm").read_text().split()[1]) * os.sysconf("SC_PAGE_SIZE") / 2**20


def open_files() -> int:
    return len(os.listdir("/proc/self/fd"))


def projects() -> dict:
    return {"room": one_room(), "station": station(), "list": listed(), "tower": tower(3, 4, 2)}


def drawn(rng: random.Random) -> dict:
    return {"seeds": [rng.randrange(2**32)], "openings": OPENINGS, "actions": ACTIONS}


def play(case: dict) -> str:
    rng, app = random.Random(case["seeds"][0]), make_app()
    with tempfile.TemporaryDirectory() as folder:
        paths = []
        for name, project in projects().items():
            paths.append(Path(folder) / f"{name}.gfin")
            save(project, paths[-1])
        window = MainWindow(Session(journals=Path(folder) / "state"))
        window.show()

        def settle() -> None:
            until = time.monotonic() + 120
            while not (window.session.settled and not window._refresh.isActive()):
                app.processEvents()
                time.sleep(0.002)
                if time.monotonic() > until:
                    raise AssertionError("the window did not settle")

        seen = []
        for i in range(case["openings"]):
            window.session._saved, window.session._saved_marks = (
                window.session.project,
                tuple(window.session.marks.values()),
            )
            if not window.open(paths[i % len(paths)]):
                raise AssertionError(window.banner.sentence.words)
            settle()
            for k in range(case["actions"]):
                if k % 10 == 9:
                    window.session.undo()
                elif k % 10 == 5:
                    window.session.set_show(link=LINKS[rng.randrange(7)])
                else:
                    command = edit(rng, window.session.project)
                    if not isinstance(command, AddMark):
                        window.session.do(command)
                for _ in range(2):
                    app.processEvents()
            settle()
            app.sendPostedEvents(None, QEvent.Type.DeferredDelete)
            gc.collect()
            seen.append((resident_mb(), open_files(), threading.active_count()))
        window.close_without_edits()
        if tests.faults:
            raise AssertionError("".join(tests.faults)[-3000:])
        left = [p.name for p in Path(folder).rglob("*-journal*")]
        if left:
            raise AssertionError(f"journals of a window that was closed are left: {left}")
    first, last = seen[min(FIRST, len(seen) // 2) :][:4], seen[-4:]
    grown = max(m for m, _, _ in last) - max(m for m, _, _ in first)
    if grown > MORE_MB or max(f for _, f, _ in last) > max(f for _, f, _ in first) + 2 or last[-1][2] > first[-1][2]:
        raise AssertionError(f"memory, files, threads went from {first} to {last}")
    return (
        f"{case['openings']} openings, {case['openings'] * case['actions']} actions, {seen[0][0]:.0f} to "
        f"{seen[-1][0]:.0f} MB"
    )
