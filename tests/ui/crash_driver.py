"""The real program for the test that kills it: opens the window on a file, edits without end, tells each edit once it
is done.

python -m tests.ui.crash_driver FILE JOURNALS SEED [save]
"""

import random
import sys
from pathlib import Path

from garnetfin.project.edits.rooms import SetCeiling, SetRoomText
from garnetfin.ui.app import make_app
from garnetfin.ui.frame.window import MainWindow
from garnetfin.ui.session import Session
from tests.example import one_room


def main() -> None:
    path, journals, seed, saving = Path(sys.argv[1]), Path(sys.argv[2]), int(sys.argv[3]), "save" in sys.argv[4:]
    app = make_app()
    window = MainWindow(Session(journals=journals))
    window.show()
    if path.exists():
        window.open(path)
    else:
        window.session.start(one_room(), None)
    session, rng = window.session, random.Random(seed)
    room = session.project.rooms[0].id
    print("ready", flush=True)
    for i in range(1, 100_000):
        kind = rng.randrange(10)
        if kind < 8:
            session.do(SetRoomText(room, "name", f"Edit {i}"))
        elif kind == 8:
            session.do(SetCeiling((room,), 2.5 + 0.001 * i))
            session.do(SetRoomText(room, "name", f"Edit {i}"))
        else:
            session.undo()
            session.do(SetRoomText(room, "name", f"Edit {i}"))
        if saving and i % 7 == 0:
            session.save()
        app.processEvents()
        print(i, flush=True)


if __name__ == "__main__":
    main()
