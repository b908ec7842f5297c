"""Every kind of edit through the engine alone: processor time, rows computed anew by stage, memory after many."""

import resource
import statistics
import sys
import time
from collections import Counter

from garnetfin.engine.run import run
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.values import Pinned
from tests.edits_of_the_day import Counted, kinds
from tests.rows_of_rooms import building

TIMES = 5


TARGETS = {"name of a room": 0.06, "bypass of a coil": 0.06, "an assumption": 1.5}  # all others
TARGET_S = 0.3


def measure(times: int = TIMES) -> list[dict]:
    project, memo, found = building(), Counted(), []
    run(project, memo)
    for name, made in kinds(project).items():
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
                "target_s": TARGETS.get(name, TARGET_S),
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
