"""All equipment of a project from its results: boxes, coils, casings, units in rooms, machines."""

from collections.abc import Mapping
from dataclasses import replace
from typing import Any, NamedTuple

from garnetfin.engine.equipment.coils import coils
from garnetfin.engine.equipment.machines import machines
from garnetfin.engine.equipment.places import box_places
from garnetfin.engine.equipment.records import BoxRecord, CoilRecord, Equipment, SilencerRecord, UnitRecord
from garnetfin.engine.equipment.room_units import room_units
from garnetfin.engine.equipment.shafts import shafts
from garnetfin.engine.equipment.silencers import silencer
from garnetfin.engine.equipment.space import plant_space
from garnetfin.engine.equipment.standing import standings
from garnetfin.engine.equipment.units import size, unit
from garnetfin.engine.faults import Faults
from garnetfin.engine.flows.flow_results import NoiseResult
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import (
    AirResult,
    Block,
    Climate,
    DuctResult,
    FanResult,
    Missing,
    Plant,
    RoomResult,
    TrainResult,
)
from garnetfin.engine.stages.train import COLD_WATER
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project


class Found(NamedTuple):
    """Results that equipment is chosen from, by system or room."""

    climate: Climate | Missing
    rooms: Mapping[str, RoomResult | Missing]
    air: Mapping[str, AirResult | Missing]
    ducts: Mapping[str, DuctResult | Missing]
    fans: Mapping[str, Mapping[str, FanResult | Missing]]
    trains: Mapping[str, TrainResult | Missing]
    plant: Plant | Missing
    noise: Mapping[str, NoiseResult | Missing]
    blocks: Mapping[str, Block | Missing]
    boxes: Mapping[str, Mapping[str, BoxRecord]]


def equipment(project: Project, found: Found, memo: Memo, faults: Faults) -> Equipment:
    """What is chosen of every kind; a kind that cannot be computed is left out and told."""
    all_boxes: dict[str, BoxRecord] = {}
    all_coils: dict[str, CoilRecord] = {}
    all_units: dict[str, UnitRecord] = {}
    all_silencers: dict[str, SilencerRecord] = {}
    stand: dict[str, tuple[str, ...]] = {}

    def guarded(kind: str, object_id: str, what: str, call: Any, *arguments: Any) -> Any:
        return faults.stage(("Air", kind, object_id, what), call, *arguments, otherwise=lambda _: {})

    for system in project.air_systems:
        own_boxes, drawn = found.boxes[system.id], found.ducts[system.id]
        all_boxes |= own_boxes
        if own_boxes and isinstance(drawn, DuctResult):
            stand |= box_places(drawn, own_boxes, memo)
        train = found.trains[system.id]
        if isinstance(train, TrainResult):
            made = guarded("system", system.id, f"Unit of {system.name}", _unit, project, system, train, found, memo)
            all_coils |= made.get("coils", {})
            all_units |= made.get("units", {})
            all_silencers |= made.get("silencers", {})
    in_rooms = guarded(
        "site", "", "Units in rooms", room_units, project, found.climate, found.rooms, found.air, found.trains, memo
    )
    standing = guarded("site", "", "Where units stand", standings, project, all_units, memo)
    floor = sum(r.figures.area_m2.figure for r in found.rooms.values() if isinstance(r, RoomResult) and r.kept)
    wet = sum(max(u.cool_total_w - u.cool_sensible_w, 0.0) for u in in_rooms.values() if u.kind in COLD_WATER)
    plant = guarded("site", "", "Machines", machines, project, found.climate, found.plant, all_coils, floor, wet, memo)
    passing = guarded("site", "", "Shafts", shafts, project, found.air)
    chosen = Equipment(all_boxes, in_rooms, all_coils, all_units, plant, all_silencers, passing, None, standing, stand)
    at = ("Air", "site", "", "Room for the plant")
    space = faults.stage(at, plant_space, project, chosen, found.blocks, otherwise=lambda _: None)
    return replace(chosen, space=space)


def _unit(project: Project, system: AirSystem, train: TrainResult, found: Found, memo: Memo) -> dict[str, Any]:
    sized = size(project, system, train)
    own = coils(project, system, train, sized.casing, memo)
    sheet = unit(project, system, train, sized, own, found.fans[system.id], found.ducts[system.id], memo)
    driven = found.fans[system.id].get("supply")
    quiet = silencer(project, system, found.noise.get(system.id), driven, sheet, memo)
    return {"coils": own, "units": {sheet.id: sheet}, "silencers": {quiet.id: quiet} if quiet is not None else {}}
