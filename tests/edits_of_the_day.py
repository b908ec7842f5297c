"""Every kind of edit that an engineer makes all day, and a memory that counts what each computes anew."""

from collections import Counter
from collections.abc import Callable, Sequence

from garnetfin.engine.memo import Memo
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


def kinds(project: Project) -> dict[str, Callable[[Project, int], Command]]:
    """What an engineer changes all day: how it is done the k-th time."""
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
        "people of a room": (lambda _, k: SetRoomValue((rooms[37].id,), "people", Pinned(value=3.0 + k))),
        "width of a window": (lambda _, k: SetOpening(window.id, window.openings[0].id, "width_m", 1.0 + 0.1 * k)),
        "an inside wall": (lambda _, k: SetWall((inside.id,), "thickness_m", 0.1 + 0.01 * k)),
        "name of a level": (lambda p, k: SetLevel(p.levels[1].id, "name", f"Storey {k}")),
        "corner of a room": (lambda _, k: SetOutline(corner.id, cornered(k))),
        "end of a duct": (lambda _, k: MovePoint(end.id, end.x_m + 0.01 * (k + 1), end.y_m, end.z_m)),
        "pinned size": (
            lambda _, k: SetSize((trunk.id,), PinnedSize(shape="rectangular", width_m=0.6 + 0.05 * k, height_m=0.4))
        ),
        "share of a terminal": (lambda p, k: SetTerminal(p.terminals[40].id, share=Pinned(value=0.4 + 0.02 * k))),
        "name of a room": (lambda _, k: SetRoomText(rooms[55].id, "name", f"Quiet office {k}")),
        "bypass of a coil": (bypass),
        "an assumption": (lambda _, k: SetAssumption("bridges_w_m2k", Pinned(value=0.05 + 0.01 * k))),
    }
