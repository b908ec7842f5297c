"""From an edit of one room of the example to repainted figures, in the real window."""

import statistics
import time

from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.values import Pinned
from garnetfin.ui.app import make_app
from garnetfin.ui.example import example_project
from garnetfin.ui.frame.window import MainWindow
from garnetfin.ui.session import Session

TARGET_S = 0.100


def measure() -> dict:
    app = make_app()
    window = MainWindow(Session())
    window.show()
    window.session.start(example_project(), None)
    figures = {}
    for link in ("Building", "Ducts", "Balance"):
        window.session.set_show(link=link)
        _settle(app, window)
        room = window.session.project.rooms[0].id
        window.session.select("room", room)
        _settle(app, window)
        taken = []
        for k in range(12):
            began = time.perf_counter()
            window.session.do(SetRoomValue((room,), "people", Pinned(value=20.0 + k + len(figures) * 20)))
            while not (window.session.settled and not window._refresh.isActive()):
                app.processEvents()
                time.sleep(0.0005)  # as an event loop does, so that the engine's thread can run
            app.processEvents()  # paints what became dirty
            taken.append(time.perf_counter() - began)
        figures[link] = {"median": round(statistics.median(taken), 4), "least": round(min(taken), 4)}
    window.session._saved = window.session.project
    window.close()
    return {"name": "edit of one room to repainted figures", "s": figures, "target_s": TARGET_S}


def _settle(app, window) -> None:
    while not window.session.settled:
        app.processEvents()
    for _ in range(5):
        app.processEvents()
