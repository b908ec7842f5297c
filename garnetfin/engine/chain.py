"""One air system from its rooms' loads to its coils: flows, ducts, fans and the train, in rounds until they agree."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any, NamedTuple

from garnetfin.engine.equipment.boxes import boxes
from garnetfin.engine.equipment.coils import coils
from garnetfin.engine.equipment.feedback import MOST_ROUNDS as MOST_COILS
from garnetfin.engine.equipment.feedback import agree, with_coils
from garnetfin.engine.equipment.records import BoxRecord
from garnetfin.engine.equipment.units import size
from garnetfin.engine.faults import Faults, Struck
from garnetfin.engine.memo import Key, Memo, Ready, key
from garnetfin.engine.results import (
    AirResult,
    BoxInDuct,
    Climate,
    DuctHeat,
    DuctResult,
    FanResult,
    Missing,
    RoomResult,
    TrainResult,
    there,
)
from garnetfin.engine.slices import duct_parts
from garnetfin.engine.stages.air import air_system, asks_of
from garnetfin.engine.stages.duct_heat import AirAlong, air_along, duct_heat, held_beside, places_of
from garnetfin.engine.stages.duct_tree import SizedDucts, ducts, sized_ducts
from garnetfin.engine.stages.fan import fans
from garnetfin.engine.stages.train import Behind, train
from garnetfin.project.ducts import Air
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project

MOST_ROUNDS, SETTLED_K, RELAX = 20, 0.005, 0.7
RELAX_ROOMS = 0.9  # more flow is warmed less: a tenth of what its warmth moves comes back
LEAVING: tuple[Air, ...] = ("return", "extract", "outdoor")


@dataclass(frozen=True, slots=True, eq=False)
class Chain:
    """What one air system comes to; leaving: ducts of the air that leaves, warmed: heat of the supply ducts."""

    air: AirResult | Missing
    ducts: DuctResult | Missing
    fans: Mapping[str, FanResult | Missing]
    train: TrainResult | Missing
    leaving: Mapping[str, DuctResult | Missing]
    warmed: DuctHeat | None
    struck: tuple[Struck, ...] = ()
    boxes: Mapping[str, BoxRecord] = field(default_factory=dict)
    system: AirSystem | None = None  # with the figures of its coils, where they are chosen
    loops: bool = False  # the coils and the system do not come to agree


def without(why: Missing) -> Chain:
    """A system that could not be computed at all."""
    return Chain(why, why, {"supply": why}, why, dict.fromkeys(LEAVING, why), None)


class Asked(NamedTuple):
    """What a chain is made from; also: hours of the 288 that the whole building wants."""

    project: Project
    system: AirSystem
    weather: Climate | Missing
    rooms: dict[str, RoomResult | Missing]
    also: tuple[int, ...]


def chain(asked: Asked, memo: Memo, progress: Callable[[str], None], faults: Faults) -> Chain:
    """Remembered as a whole: nothing of a system that an edit does not reach is looked at again."""
    found: Chain = memo.one("chain", _reads(asked, memo), lambda: _with_coils(asked, memo, progress))
    faults.struck += found.struck
    return found


def _with_coils(asked: Asked, memo: Memo, progress: Callable[[str], None]) -> Chain:
    """The chain once more with the bypass factor and the drop of its coils, until both agree."""
    system, made = asked.system, _rounds(asked, memo, progress)
    if system.coils == "typed":
        return made
    now = system
    for _ in range(MOST_COILS):
        train_ = made.train
        if not isinstance(train_, TrainResult):
            return made
        sized = size(asked.project, now, train_)
        chosen = coils(asked.project, system, train_, sized.casing, memo, valves=False)
        new = with_coils(system, chosen)
        if agree(now, new):
            return replace(made, system=now)
        now = new
        made = _rounds(asked._replace(system=now), memo, progress)
    return replace(made, system=now, loops=True)


def _reads(asked: Asked, memo: Memo) -> Key:
    project, system, weather, rooms, also = asked
    parts = [duct_parts(project, system.id, way) for way in ("supply", *LEAVING)]
    asks = asks_of(project, system, weather, rooms)
    places, beside = None, Ready()
    if parts[0] is not None and system.heat == "computed":
        # ducts may run through rooms of other systems, which warm them
        _, places = places_of(project, system, memo)
        beside = Ready(held_beside(places, rooms))
    return key(
        system,
        project.book,
        weather,
        asks.row if not isinstance(asks, Missing) else (asks.reason, asks.remedy),
        tuple(p.key if p is not None else None for p in parts),
        tuple(sorted({t.air for t in project.terminals})),
        places,
        beside,
        also,
        project.flow_boxes if system.boxes == "chosen" else (),
        (project.coils, project.units) if system.coils == "chosen" else (),
    )


def _rounds(asked: Asked, memo: Memo, progress: Callable[[str], None]) -> Chain:
    """Where the air behind the coil is held, fan heat and duct gain warm what reaches the rooms, and where heat of
    ducts is computed every room gets its own; flows rest on it: rounds go on until they agree, or come back to where
    they were, as sizes and rounded flows may.
    """
    project, system, weather, rooms, also = asked
    faults = Faults()
    warmer, seen = 0.0, []
    arriving: tuple[tuple[str, float], ...] = ()

    def guarded(link: str, what: str, call: Callable[..., Any], *arguments: Any) -> Any:
        return faults.stage((link, "system", system.id, f"{what} of {system.name}"), call, *arguments)

    def behind(flows: AirResult | Missing, along: AirAlong | None) -> tuple[Any, ...]:
        """(supply ducts, fans, air system proved, ducts of the air that leaves, heat of the supply ducts)."""
        network = guarded("Ducts", "Supply ducts", ducts, project, system, flows, memo, "supply", near)
        warmed = None
        if along is not None and isinstance(network, DuctResult):
            heat = guarded("Ducts", "Heat of the ducts", duct_heat, weather, network, flows, along, rooms, memo)
            warmed = heat if isinstance(heat, DuctHeat) else None
        leaving = {
            air: guarded("Ducts", f"{air.capitalize()} ducts", ducts, project, system, flows, memo, air)
            for air in LEAVING
        }
        progress("fan")
        driven = guarded("Fan", "The fans", fans, system, project.book, flows, network, leaving, memo)
        if isinstance(driven, Missing):
            driven = {"supply": driven}
        progress("train")
        at = Behind(network, warmed, driven)
        proof = guarded("Air", "States of air", train, project, system, weather, flows, at, rooms, also, memo)
        return network, driven, proof, leaving, warmed

    near: SizedDucts | None = None  # sizes of the round before
    chosen: dict[str, BoxRecord] | Missing = {}
    for round_ in range(MOST_ROUNDS):
        progress("air")
        flows = guarded("Air", "Air flows", air_system, project, system, weather, rooms, memo, warmer, arriving)
        progress("ducts")
        chosen = guarded("Air", "Flow boxes", boxes, project, system, flows, rooms, memo)
        flows = _with_boxes(flows, chosen, memo)
        sizes = guarded("Ducts", "Supply ducts", sized_ducts, project, system, flows, memo, "supply", near)
        along = guarded("Ducts", "Heat of the ducts", air_along, project, system, weather, sizes, rooms, memo)
        along = along if isinstance(along, AirAlong) else None
        reached, rest = warmer, None
        if system.supply == "coil":
            rest = behind(flows, along)
            if not isinstance(rest[2], TrainResult):
                break
            reached = rest[2].cooling.node("supply")[0] - there(flows).figures.supply_c.figure
        seen.append((warmer, dict(arriving)))
        after = along.rooms_k(sizes.on, arriving, RELAX_ROOMS if round_ else 1.0) if along is not None else arriving
        if any(_agree((reached, dict(after)), before) for before in seen):
            break
        near = sizes if isinstance(sizes, SizedDucts) else None
        arriving = after
        warmer += (RELAX if round_ else 1.0) * (reached - warmer)
    network, driven, proof, leaving, warmed = rest or behind(flows, along)
    made_boxes = {} if isinstance(chosen, Missing) else chosen
    return Chain(flows, network, driven, proof, leaving, warmed, tuple(faults.struck), made_boxes)


def _with_boxes(flows: AirResult | Missing, chosen: dict[str, BoxRecord] | Missing, memo: Memo) -> AirResult | Missing:
    """Air flows that know what their boxes lose, so that whoever lays out ducts for them counts it."""
    if isinstance(flows, Missing) or isinstance(chosen, Missing) or not chosen:
        return flows
    own = tuple(BoxInDuct(b.room_ids, round(b.drop_pa, 6), b.room_db) for b in chosen.values() if b.model is not None)
    found: AirResult = memo.one("air with boxes", key(flows, own), lambda: replace(flows, boxes=own))
    return found


def _agree(now: tuple[float, dict[str, float]], then: tuple[float, dict[str, float]]) -> bool:
    """Whether what reaches rooms is as warm as it was taken to be."""
    return abs(now[0] - then[0]) < SETTLED_K and all(
        abs(k - then[1].get(i, 0.0)) < SETTLED_K for i, k in now[1].items()
    )
