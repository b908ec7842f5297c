"""All benchmarks: python -m benchmarks"""

import json
import platform

from benchmarks import air, building, ducts, edit_to_repaint, engine, flows, loads_200_rooms, start

if __name__ == "__main__":
    print(
        json.dumps(
            {
                "machine": platform.machine(),
                "python": platform.python_version(),
                "benchmarks": [*(b.measure() for b in (loads_200_rooms, edit_to_repaint, start)), *building.measure(), *engine.measure(), *air.measure(), *ducts.measure(), *flows.measure()],
            },
            indent=1,
        )
    )
