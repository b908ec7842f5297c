"""One PNG per view of the example, at 1280 x 800. Run: python scripts/shots.py FOLDER [dark] [names of views]"""

import os
import sys
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from garnetfin.cli.pictures import take

DEMO = Path(__file__).parents[1] / "demo"


def taking_in(folder: Path) -> None:
    """The pages on which a building comes in: a room list, a drawing below the plan, a file that has changed."""
    from msgspec import structs
    from PySide6.QtCore import QPointF

    from garnetfin.exchange.gbxml_write import write_gbxml
    from garnetfin.project.edits.outlines import RemoveRooms
    from garnetfin.project.edits.rooms import SetCeiling, SetRoomText
    from garnetfin.project.new import new_project
    from garnetfin.ui.app import make_app
    from garnetfin.ui.example import example_project
    from garnetfin.ui.frame.window import MainWindow
    from garnetfin.ui.session import Session

    app, window = make_app(), MainWindow(Session())
    window.show()

    def settle(done=lambda: window.session.settled) -> None:
        until = time.monotonic() + 30
        while not done() and time.monotonic() < until:
            app.processEvents()
            time.sleep(0.005)
        for _ in range(20):
            app.processEvents()
            time.sleep(0.005)

    def insert(path: Path) -> None:
        view.insert(path)
        settle(lambda: not view.reader.busy)
        settle()

    def shot(name: str) -> None:
        settle()
        window.grab().save(str(folder / f"{name}.png"))
        print(folder / f"{name}.png")

    window.session.start(structs.replace(new_project(), name="Tern Point"), None)
    window.session.set_show(link="Building")
    settle()
    view = window.view("Building")
    insert(DEMO / "rooms.csv")
    shot("room-list")
    view.show_plan()
    insert(DEMO / "ground-floor.dxf")
    view.use_tool("fill")
    for x, y in ((2.0, 3.0), (9.0, 3.0), (16.0, 3.0), (4.0, 11.0), (8.0, 6.8)):
        view.plan.tool.press(QPointF(x, y), app.keyboardModifiers())
        settle()
    shot("underlay")
    example = example_project()
    path = folder / "tern-point.xml"
    path.write_bytes(write_gbxml(example))
    window.session.start(new_project(), None)
    settle()
    insert(path)
    view.draft_page.take()
    settle()
    changed = SetRoomText(example.rooms[0].id, "name", "Library").apply(
        SetCeiling((example.rooms[1].id,), 3.2).apply(example)
    )
    path.write_bytes(write_gbxml(RemoveRooms((changed.rooms[10].id,)).apply(changed)))
    insert(path)
    shot("import")
    path.unlink()
    window.session._saved = window.session.project
    window.close()


def proposing(folder: Path) -> None:
    """Route proposals for the ground level, side by side."""
    from garnetfin.ui.app import make_app
    from garnetfin.ui.example import example_project
    from garnetfin.ui.frame.window import MainWindow
    from garnetfin.ui.session import Session

    app, window = make_app(), MainWindow(Session())
    window.show()

    def settle(done) -> None:
        until = time.monotonic() + 60
        while not done() and time.monotonic() < until:
            app.processEvents()
            time.sleep(0.005)
        for _ in range(20):
            app.processEvents()
            time.sleep(0.005)

    window.session.start(example_project(), None)
    window.session.set_show(link="Ducts")
    settle(lambda: window.session.settled)
    view = window.view("Ducts")
    view.propose()
    settle(lambda: not view.routes.busy)
    window.grab().save(str(folder / "routes.png"))
    print(folder / "routes.png")
    window.session._saved = window.session.project
    window.close()


if __name__ == "__main__":
    target, names = Path(sys.argv[1]), tuple(a for a in sys.argv[2:] if a != "dark")
    for made in take(target, dark="dark" in sys.argv[2:], only=names):
        print(made)
    if not names and "dark" not in sys.argv[2:]:
        taking_in(target)
        proposing(target)
