"""Terminals for rooms that have air and none of its terminals yet: the best even grid, else one in the middle."""

from collections.abc import Iterable
from dataclasses import dataclass

from garnetfin.engine.results import AirResult, Missing, Results
from garnetfin.engine.stages.terminals import OF_ROOM, placement, single
from garnetfin.project.ducts import Air
from garnetfin.project.edits.terminals import Placement, PlaceTerminals
from garnetfin.project.lookup import find

LEAST_M3S = 0.002  # below this a room is not worth a terminal


@dataclass(frozen=True, slots=True)
class Placing:
    """What to place; numbers of rooms with one alone in the middle; (reason, numbers of rooms) where nothing suits."""

    placements: tuple[Placement, ...] = ()
    alone: tuple[str, ...] = ()
    failed: tuple[tuple[str, tuple[str, ...]], ...] = ()

    @property
    def command(self) -> PlaceTerminals | None:
        return PlaceTerminals(self.placements) if self.placements else None


def wanting(results: Results, system_id: str, kind: Air, level_id: str = "") -> tuple[str, ...]:
    """Rooms of a system, on one level or all, that get air of a kind and have no terminal for it."""
    air, project = results.air.get(system_id), results.project
    if not isinstance(air, AirResult) or kind not in OF_ROOM:
        return ()
    have = {t.room_id for t in project.terminals if t.air == kind}
    return tuple(
        row.room_id
        for row in air.rooms
        if getattr(row, OF_ROOM[kind]) > LEAST_M3S
        and row.room_id not in have
        and (not level_id or find(project.rooms, row.room_id).level_id == level_id)
    )


def placing(results: Results, room_ids: Iterable[str], kind: Air) -> Placing:
    """The best terminals for every room named."""
    wanted: list[Placement] = []
    alone: list[str] = []
    failed: dict[str, list[str]] = {}
    for room_id in room_ids:
        number = find(results.project.rooms, room_id).number
        found = placement(results, room_id, kind)
        one = single(results, room_id, kind) if isinstance(found, Missing) else None
        if one is not None:
            alone.append(number)
            wanted.append(one)
        elif isinstance(found, Missing):
            failed.setdefault(f"{found.reason}. {found.remedy}", []).append(number)
        else:
            wanted.append(found)
    return Placing(tuple(wanted), tuple(alone), tuple((reason, tuple(n)) for reason, n in failed.items()))
