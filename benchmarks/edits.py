"""Every kind of edit through the engine alone: processor time, rows computed anew by stage, memory after many."""

import resource
import statistics
import sys
import time
from collections import Counter
from collections.abc import Callable, Sequence

from benchmarks.large import building
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.project.ducts import PinnedSize
from garnetfin.project.edits import Command
from garnetfin.project.edits.book import SetAssumption
from garnetfin.project.edits.duct_runs import MovePoint, SetSize, SetTerminal
from garnetfin.project.edits.groups import SetLevel
from garnetfin.project.edits.openings import SetWall
from garnetfin.project.edits.outlines import SetOutline
from garnetfin.project.edits.rooms import SetOpening, SetRoomText, SetRoomValue
from garnetfin.project.edits.systems import SetPart
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned

TIMES = 5


class Counted(Memo):
    """Counts the rows computed anew by stage."""

    def __init__(self) -> None:
        super().__init__()
        self.by_stage: Counter[str] = Counter()

    def rows(self, stage: str, keys: Sequence, compute: Callable) -> list:
        def counting(stale: list[int]):
            self.by_stage[stage] += len(stale)
            return compute(stale)

        return super().rows(stage, keys, counting)


def kinds(project: Project) -> dict[str, tuple[Callable[[Project, int], Command], float]]:
    """What an engineer changes all day: how it is done the k-th time, target [s]."""
    rooms = project.rooms
    window = next(w for w in project.walls if w.openings)
    inside = next(w for w in project.walls if not w.outside and w.room_b)
    end = project.duct_points[len(project.duct_points) // 2]
    trunk = next(s for s in project.segments if s.role == "trunk" and s.shape == "rectangular")
    corner = rooms[len(rooms) // 2]

    def cornered(k: int):
        (x, y), *rest = corner.outline
        return ((x + 0.01 * (k + 1), y), *rest)

    def bypass(p: Project, k: int) -> Command:
        system = p.air_systems[0]
        coil = next(x for x in system.parts if x.kind == "cooling")
        return SetPart(system.id, coil.id, "bypass", Pinned(value=0.05 + 0.01 * k))

    return {
        "people of a room": (lambda _, k: SetRoomValue((rooms[37].id,), "people", Pinned(value=3.0 + k)), 0.3),
        "width of a window": (lambda _, k: SetOpening(window.id, window.openings[0].id, "width_m", 1.0 + 0.1 * k), 0.3),
        "an inside wall": (lambda _, k: SetWall((inside.id,), "thickness_m", 0.1 + 0.01 * k), 0.3),
        "name of a level": (lambda p, k: SetLevel(p.levels[1].id, "name", f"Storey {k}"), 0.3),
        "corner of a room": (lambda _, k: SetOutline(corner.id, cornered(k)), 0.3),
        "end of a duct": (lambda _, k: MovePoint(end.id, end.x_m + 0.01 * (k + 1), end.y_m, end.z_m), 0.3),
        "pinned size": (
            lambda _, k: SetSize((trunk.id,), PinnedSize(shape="rectangular", width_m=0.6 + 0.05 * k, height_m=0.4)),
            0.3,
        ),
        "share of a terminal": (lambda p, k: SetTerminal(p.terminals[40].id, share=Pinned(value=0.4 + 0.02 * k)), 0.3),
        "name of a room": (lambda _, k: SetRoomText(rooms[55].id, "name", f"Quiet office {k}"), 0.06),
        "bypass of a coil": (bypass, 0.06),
        "an assumption": (lambda _, k: SetAssumption("bridges_w_m2k", Pinned(value=0.05 + 0.01 * k)), 1.5),
    }


def measure(times: int = TIMES) -> list[dict]:
    project, memo, found = building(), Counted(), []
    run(project, memo)
    for name, (made, target) in kinds(project).items():
        taken, counts = [], Counter()
        for k in range(times):
            project = made(project, k).apply(project)
            memo.by_stage.clear()
            began = time.process_time()
            run(project, memo)
            taken.append(time.process_time() - began)
            counts = Counter(memo.by_stage)
        found.append(
            {
                "name": f"1,000 rooms, engine: {name}",
                "median_s": round(statistics.median(taken), 3),
                "least_s": round(min(taken), 3),
                "rows": sum(counts.values()),
                "target_s": target,
                "by_stage": dict(counts.most_common(12)),
            }
        )
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    for k in range(40):
        room = project.rooms[7 * k % len(project.rooms)].id
        project = SetRoomValue((room,), "people", Pinned(value=2.0 + k % 5)).apply(project)
        run(project, memo)
    after = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    found.append({"name": "memory of an edit", "mb": round((after - before) / 1024 / 40, 2), "peak_mb": after // 1024})
    return found


if __name__ == "__main__":
    for row in measure(int(sys.argv[1]) if len(sys.argv) > 1 else TIMES):
        print(row, flush=True)
