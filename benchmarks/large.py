"""A large building, 1,000 rooms on 10 levels, 4 air systems, 5,000 ducts: opening, an edit until it is painted,
memory.
"""

import resource
import statistics
import tempfile
import time
from pathlib import Path

from msgspec import structs

from garnetfin.project.derive import derive
from garnetfin.project.ducts import DuctPoint, Segment, Terminal
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.edits.systems import AddSystem
from garnetfin.project.new import new_project
from garnetfin.project.spaces import Level, Opening, Room
from garnetfin.project.store import save
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned
from garnetfin.ui.app import make_app
from garnetfin.ui.frame.window import MainWindow
from garnetfin.ui.session import Session

LEVELS, ACROSS, ALONG, SYSTEMS = 10, 25, 4, 4
STOREY, WIDE, DEEP = 3.6, 4.0, 6.0
OPEN_S, EDIT_S, MEMORY_MB = 5.0, 0.3, 1500


def building() -> Project:
    """Rooms in four rows, each row with an air system of its own: a riser, a trunk a level, five ducts and two
    terminals a room.
    """
    levels = tuple(Level(id=f"L{k}", name=f"Level {k}", elevation_m=STOREY * k, storey_m=STOREY) for k in range(LEVELS))
    rooms = []
    for k in range(LEVELS):
        for j in range(ALONG):
            for i in range(ACROSS):
                x, y = i * WIDE, j * DEEP
                rooms.append(
                    Room(
                        id=f"r{k}-{j}-{i}",
                        number=f"{k}.{j * ACROSS + i + 1:03d}",
                        name=("Office", "Meeting", "Open office", "Store")[(i + j) % 4],
                        level_id=f"L{k}",
                        outline=((x, y), (x + WIDE, y), (x + WIDE, y + DEEP), (x, y + DEEP)),
                        use_id=("office_single", "meeting", "office_open", "office_single")[(i + j) % 4],
                        ceiling_m=2.8,
                    )
                )
    project = structs.replace(new_project(), name="Large building", levels=levels, air_systems=())
    for _ in range(SYSTEMS):
        project = AddSystem().apply(project)
    systems = [s.id for s in project.air_systems]
    rooms = [structs.replace(r, system_id=systems[int(r.id.split("-")[1])]) for r in rooms]
    project = derive(structs.replace(project, rooms=tuple(rooms)), {r.id for r in rooms})
    return _ducts(_windows(project))


def _windows(project: Project) -> Project:
    """One in every outside wall."""
    glazing = project.glazings[0].id
    walls = tuple(
        structs.replace(
            w,
            openings=(
                Opening(
                    id=f"w{i}",
                    kind="window",
                    at_m=w.length_m / 2,
                    width_m=1.8,
                    sill_m=0.9,
                    head_m=2.4,
                    glazing_id=glazing,
                ),
            ),
        )
        if w.outside
        else w
        for i, w in enumerate(project.walls)
    )
    return structs.replace(project, walls=walls)


def _ducts(project: Project) -> Project:
    points, segments, terminals, made = [], [], [], []
    for j, system in enumerate(project.air_systems):
        y, root = (j + 0.5) * DEEP, f"p{j}-root"
        points.append(DuctPoint(id=root, level_id="L0", x_m=-2.0, y_m=y, z_m=3.0))
        below = root
        for k in range(LEVELS):
            z = STOREY * k + 3.0
            foot = f"p{j}-{k}"
            points.append(DuctPoint(id=foot, level_id=f"L{k}", x_m=-1.0 if k == 0 else -1.0, y_m=y, z_m=z))
            segments.append(
                Segment(id=f"s{j}-{k}", system_id=system.id, a=below, b=foot, shape="rectangular", role="trunk")
            )
            last = below = foot
            for i in range(ACROSS):
                x, room = i * WIDE + 2.0, f"r{k}-{j}-{i}"
                at = f"p{j}-{k}-{i}"
                points.append(DuctPoint(id=at, level_id=f"L{k}", x_m=x, y_m=y, z_m=z))
                segments.append(
                    Segment(id=f"s{j}-{k}-{i}", system_id=system.id, a=last, b=at, shape="rectangular", role="trunk")
                )
                last = at
                for n, side in enumerate((-1.0, 1.0)):
                    bend, end = f"{at}-{n}", f"{at}-{n}e"
                    points += [
                        DuctPoint(id=bend, level_id=f"L{k}", x_m=x, y_m=y + side * 1.2, z_m=z),
                        DuctPoint(id=end, level_id=f"L{k}", x_m=x + 0.8, y_m=y + side * 1.2, z_m=z),
                    ]
                    segments += [
                        Segment(id=f"b{j}-{k}-{i}-{n}", system_id=system.id, a=at, b=bend, role="branch"),
                        Segment(id=f"e{j}-{k}-{i}-{n}", system_id=system.id, a=bend, b=end, role="last"),
                    ]
                    terminals.append(
                        Terminal(id=f"t{j}-{k}-{i}-{n}", label=f"{room[1:]}{'ab'[n]}", point_id=end, room_id=room)
                    )
        made.append(structs.replace(system, root_point_id=root))
    return structs.replace(
        project,
        duct_points=tuple(points),
        segments=tuple(segments),
        terminals=tuple(terminals),
        air_systems=tuple(made),
    )


def measure() -> dict:
    app, project = make_app(), building()
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "large.gfin"
        save(project, path)
        size = path.stat().st_size
        window = MainWindow(Session(journals=Path(folder) / "state"))
        window.show()

        def settle() -> None:
            while not (window.session.settled and not window._refresh.isActive()):
                app.processEvents()
                time.sleep(0.004)  # a window at rest does not take the processor from the engine
            for _ in range(3):
                app.processEvents()

        began = time.perf_counter()
        window.open(path)
        while not window.session.opened:  # it is read beside the window
            app.processEvents()
            time.sleep(0.002)
        window.refresh()
        app.processEvents()
        shown = time.perf_counter() - began
        settle()
        computed = time.perf_counter() - began
        edits = {}
        for link in ("Building", "Loads", "Ducts", "Balance"):
            window.session.set_show(link=link)
            settle()
            taken = []
            for k in range(6):
                room = project.rooms[37 * (k + 1)].id
                window.session.select("room", room)
                settle()
                began = time.perf_counter()
                window.session.do(SetRoomValue((room,), "people", Pinned(value=3.0 + k + len(edits))))
                settle()
                taken.append(time.perf_counter() - began)
            edits[link] = {"median": round(statistics.median(taken), 3), "least": round(min(taken), 3)}
        began = time.perf_counter()
        window.session.save()
        saved = time.perf_counter() - began
        window.session._saved = window.session.project
        window.close()
    return {
        "name": "1,000 rooms, 4 systems, 5,000 ducts",
        "rooms": len(project.rooms),
        "ducts": len(project.segments),
        "file_kb": size // 1024,
        "file_opened_and_shown_s": round(shown, 3),
        "all_computed_s": round(computed, 3),
        "edit_to_repaint_s": edits,
        "save_s": round(saved, 3),
        "peak_memory_mb": resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024,
        "target_open_s": OPEN_S,
        "target_edit_s": EDIT_S,
        "target_memory_mb": MEMORY_MB,
    }
