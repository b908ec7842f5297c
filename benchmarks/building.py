"""A 300-room building from gbXML and IFC, walls of 1,000 rooms, and frames of a 1,000-room plan."""

import os
import statistics
import tempfile
import time
from pathlib import Path

from garnetfin.exchange.gbxml_write import write_gbxml
from garnetfin.exchange.reading import read
from garnetfin.project.derive import derive
from garnetfin.project.edits.imports import TakeDraft
from garnetfin.project.new import new_project
from tests.exchange.samples import tower, write_ifc

FRAMES_PER_S = 30.0


def _row(name: str, work, target_s: float, rounds: int = 3) -> dict:
    times = []
    for _ in range(rounds):
        began = time.perf_counter()
        work()
        times.append(time.perf_counter() - began)
    return {
        "name": name,
        "median_s": round(statistics.median(times), 4),
        "least_s": round(min(times), 4),
        "target_s": target_s,
    }


def measure() -> list[dict]:
    found = []
    building = tower(6, 25, 2)
    with tempfile.TemporaryDirectory() as folder:
        files = [
            Path(folder) / "a.xml",
            write_ifc(building, Path(folder) / "a.ifc"),
            write_ifc(building, Path(folder) / "b.ifc", boundaries=True),
        ]
        files[0].write_bytes(write_gbxml(building))
        for path, name, target in zip(
            files, ("gbXML", "IFC, outlines alone", "IFC with boundaries"), (3.0, 15.0, 15.0)
        ):

            def take(path=path):
                draft = read(path).draft
                assert len(TakeDraft(draft, tuple(r.id for r in draft.rooms)).apply(new_project()).rooms) == 300

            found.append(_row(f"import of 300 rooms on 6 levels, {name}", take, target))
    large = tower(1, 40, 25, windows=False)
    ids = {r.id for r in large.rooms}
    found.append(_row("walls and slabs of 1,000 rooms on one level", lambda: derive(large, ids), 0.5))
    return found + _plan(large)


def _plan(project) -> list[dict]:
    """Frames while the plan is panned and zoomed, and the crisp frame that is drawn when the hand rests."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PySide6.QtCore import QPointF

    from garnetfin.ui.app import make_app
    from garnetfin.ui.session import Session
    from garnetfin.ui.views.building import BuildingView

    app = make_app()
    session = Session()
    session.start(project, None)
    while not session.settled:
        app.processEvents()
        time.sleep(0.005)
    view = BuildingView(session)
    view.resize(984, 650)
    view.show()
    view.render_state(session.state)
    app.processEvents()
    plan, moving, crisp = view.plan, [], []
    for k in range(60):
        began = time.perf_counter()
        plan.zoom(1.02 if k % 2 else 1 / 1.02, QPointF(400, 200)) if k % 3 else plan.pan(6.0, 3.0)
        app.processEvents()
        moving.append(time.perf_counter() - began)
    for _ in range(5):
        plan.pan(3.0, 0.0)
        plan._rest.stop()
        began = time.perf_counter()
        plan.repaint()
        crisp.append(time.perf_counter() - began)
    session.close()
    return [
        {
            "name": f"{name} of a plan with 1,000 rooms",
            "median_s": round(statistics.median(t), 4),
            "greatest_s": round(max(t), 4),
            "target_s": round(1 / FRAMES_PER_S, 4),
        }
        for name, t in (("frame while panning and zooming", moving), ("crisp frame at rest", crisp))
    ]
