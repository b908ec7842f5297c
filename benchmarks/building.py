"""A 300-room building from gbXML and IFC, walls of 1,000 rooms, and frames of a 1,000-room plan."""

import os
import statistics
import tempfile
import time
from pathlib import Path


def _best(work, rounds: int = 3) -> float:
    times = []
    for _ in range(rounds):
        started = time.perf_counter()
        work()
        times.append(time.perf_counter() - started)
    return statistics.median(times)


def main() -> None:
    from garnetfin.engine.memo import Memo
    from garnetfin.engine.run import run
    from garnetfin.exchange.gbxml_write import write_gbxml
    from garnetfin.exchange.reading import read
    from garnetfin.project.derive import derive
    from garnetfin.project.edits.imports import TakeDraft
    from garnetfin.project.new import new_project
    from tests.exchange.samples import tower, write_ifc
    building = tower(6, 25, 2)
    with tempfile.TemporaryDirectory() as folder:
        files = [Path(folder) / "a.xml", write_ifc(building, Path(folder) / "a.ifc"),
                 write_ifc(building, Path(folder) / "b.ifc", boundaries=True)]
        files[0].write_bytes(write_gbxml(building))
        for path, name, target in zip(files, ("gbXML", "IFC", "IFC with boundaries"), (3, 15, 15)):
            def take(path=path):
                draft = read(path).draft
                made = TakeDraft(draft, tuple(r.id for r in draft.rooms)).apply(new_project())
                assert len(made.rooms) == 300
            print(f"{name}, 300 rooms on 6 levels, into the project: {_best(take):.2f} s (target {target})")
    large = tower(1, 40, 25, windows=False)
    ids = {r.id for r in large.rooms}
    print(f"walls and slabs of 1,000 rooms on one level: {_best(lambda: derive(large, ids)):.2f} s (target 0.5)")
    _plan(large, run(large, Memo()))


def _plan(project, results) -> None:
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
    plan, frames = view.plan, []
    for k in range(60):
        started = time.perf_counter()
        plan.zoom(1.02 if k % 2 else 1 / 1.02, QPointF(400, 200)) if k % 3 else plan.pan(6.0, 3.0)
        app.processEvents()
        frames.append(time.perf_counter() - started)
    print(f"pan and zoom of a plan with 1,000 rooms: {1 / statistics.median(frames):.0f} frames/s, slowest {max(frames) * 1000:.0f} ms "
          "(target 30 frames/s)")
    session.close()


if __name__ == "__main__":
    main()
