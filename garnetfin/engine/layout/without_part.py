"""What a part of a train is good for: the system at an hour with it and without it."""

from functools import lru_cache

from garnetfin.engine.results import Missing, Point, Results, TrainResult
from garnetfin.engine.stages.train import point_at, without
from garnetfin.project.lookup import Same

LEAST_W, LEAST_K = 50.0, 0.05


def without_part(
    results: Results, system_id: str, part_id: str, month: int, hour: int
) -> dict[str, tuple[float, float]] | Missing:
    """(with it, without it) of what its going would move: cooling, heating and fans [W], supply temperature [degC].

    Month -1: the winter design day.
    """
    return _away(Same(results), system_id, part_id, month, hour)


@lru_cache(maxsize=4)
def _away(
    results: Same, system_id: str, part_id: str, month: int, hour: int
) -> dict[str, tuple[float, float]] | Missing:
    found: TrainResult = results.item.trains[system_id]
    now, then = point_at(results.item, system_id, month, hour), without(results.item, system_id, part_id, month, hour)
    for point in (now, then):
        if isinstance(point, Missing):
            return point

    def fans(p: Point) -> float:
        return sum(p.heat_w(q.id) for q in found.parts if q.kind in ("supply_fan", "return_fan") and q.id != part_id)

    moved = {
        "Cooling": (found.cold_w(now), found.cold_w(then)),
        "Heating": (found.heater_w(now), found.heater_w(then)),
        "Fans": (fans(now), fans(then)),
        "Supply": (now.node("supply")[0], then.node("supply")[0]),
    }
    return {name: (a, b) for name, (a, b) in moved.items() if abs(b - a) >= (LEAST_K if name == "Supply" else LEAST_W)}
