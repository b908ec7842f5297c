"""Units in rooms: those that were put there, and by rule one where the rest of a room's heat is left to a unit."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np

from garnetfin.core.equipment import room_units as core
from garnetfin.core.equipment import unit_choice as choice
from garnetfin.core.equipment.catalogue import UnitModel
from garnetfin.core.equipment.unit_choice import Circuit, Picked
from garnetfin.core.psychro import properties as moist
from garnetfin.engine.equipment import tags
from garnetfin.engine.equipment.catalogues import fan_coils
from garnetfin.engine.equipment.catalogues import rows as catalogue
from garnetfin.engine.equipment.records import RoomUnitRecord
from garnetfin.engine.memo import Key, Memo, key
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import AirResult, Climate, Missing, RoomResult, TrainResult
from garnetfin.project.book import Book
from garnetfin.project.equipment import RoomUnit
from garnetfin.project.lookup import find, walls_of
from garnetfin.project.spaces import Room
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule

KIND_OF = {"unit": "fan_coil", "own unit": "direct", "heater": "radiator"}
COOLS = ("fan_coil", "beam", "ceiling", "direct")
HEATS = ("floor", "ceiling", "radiator", "convector", "electric", "fan_coil")
# What is left by one kind is done by the next: surfaces first, fan coils last.
ORDER = ("floor", "ceiling", "radiator", "convector", "electric", "beam", "direct", "fan_coil")
LEAST_W = 1.0
USUAL_RH = 0.5
AREA_SHARE, COVER_M2K_W = 0.8, 0.02  # of floors and ceilings, until they are given: own estimates
LONGEST_M, HIGHEST_M = 3.0, 0.9  # of radiators in rooms without a window
MILDER_K = 8.0  # by which water of cold surfaces and beams is warmer than that of coils


@dataclass(frozen=True, slots=True)
class Asked:
    """What the units of a room have to do at its worst hours, and the air they find there."""

    room: Room
    units: tuple[RoomUnit, ...]  # those that were put, or the one by rule
    by_hand: bool
    cool_w: float
    heat_w: float
    cooling_c: float
    heating_c: float
    room_w: float  # kg/kg
    gains_kg_s: float
    primary_kg_s: float
    primary_w: float
    outdoor_c: float
    area_m2: float
    windows: tuple[tuple[float, float], ...]  # width and sill [m]


def asked(
    project: Project,
    climate: Climate,
    rooms: Mapping[str, RoomResult | Missing],
    air: Mapping[str, AirResult | Missing],
    trains: Mapping[str, TrainResult | Missing],
) -> list[Asked]:
    """Rooms with units, with what those have to do."""
    put: dict[str, list[RoomUnit]] = {}
    for unit in project.room_units:
        put.setdefault(unit.room_id, []).append(unit)
    rests = {r.room_id: r.rest for a in air.values() if isinstance(a, AirResult) for r in a.rooms}
    found = []
    for room in project.rooms:
        known = rooms.get(room.id)
        kind = KIND_OF.get(rests.get(room.id, ""), "")
        if not isinstance(known, RoomResult) or not (room.id in put or kind):
            continue
        units = tuple(put.get(room.id, ())) or (_by_rule(room.id, kind),)
        train = trains.get(room.system_id)
        of_train = train if isinstance(train, TrainResult) and room.id in train.room_ids else None
        found.append(_asked(project, climate, room, known, units, of_train))
    return found


@lru_cache(maxsize=4096)
def _by_rule(room_id: str, kind: str) -> RoomUnit:
    """The unit of a room where none was put; the same one each time."""
    return RoomUnit(id=f"unit:{room_id}", room_id=room_id, kind=kind)  # type: ignore[arg-type]


def _asked(
    project: Project,
    climate: Climate,
    room: Room,
    known: RoomResult,
    units: tuple[RoomUnit, ...],
    train: TrainResult | None,
) -> Asked:
    windows = tuple(
        (o.width_m, o.sill_m)
        for wall in walls_of(project.walls, room.id)
        for o in wall.openings
        if o.kind in ("window", "glass wall")
    )
    figures = known.figures
    by_hand = find(project.room_units, units[0].id) is not None
    common = (figures.area_m2.figure, windows)
    counted = known.counted
    if train is None:
        load = np.where(counted, np.maximum(known.sensible_w, 0.0), 0.0).reshape(288)
        hour = int(load.argmax())
        latent = float(np.maximum(known.latent_w, 0.0).reshape(288)[hour])
        damp = float(moist.humidity_ratio(figures.cooling_c.figure, USUAL_RH, climate.pressure_pa))
        return Asked(
            room,
            units,
            by_hand,
            float(load[hour]),
            max(known.heating_w, 0.0),
            figures.cooling_c.figure,
            figures.heating_c.figure,
            damp,
            latent / float(moist.vapour_enthalpy(figures.cooling_c.figure)),
            0.0,
            damp,
            float(climate.days.dry_bulb_c.reshape(288)[hour]),
            *common,
        )
    i, solved = train.room_ids.index(room.id), train.solved
    need = solved.unit_w[i]
    hour = int(np.argmax(need))
    last = len(train.hours)
    at = train.hours[hour] if hour < last else (0, 0)
    latent = float(np.maximum(known.latent_w, 0.0)[at])
    before = _supply_node(train)
    room_c = float(solved.room_c[i, hour])
    return Asked(
        room,
        units,
        by_hand,
        max(float(need[hour]), 0.0),
        max(float(-need.min()), 0.0),
        room_c,
        figures.heating_c.figure,
        float(solved.room_w[i, hour]),
        latent / float(moist.vapour_enthalpy(room_c)),
        float(solved.supply_kg_s[i, hour]),
        float(solved.nodes[before].w[hour]),
        float(solved.nodes["outdoor"].t[hour]),
        *common,
    )


def _supply_node(train: TrainResult) -> str:
    ids = [p.id for p in train.parts]
    at = next((i for i, p in enumerate(train.parts) if p.kind == "terminals"), 0)
    return ids[at - 1] if at else "outdoor"


def room_units(
    project: Project,
    climate: Climate | Missing,
    rooms: Mapping[str, RoomResult | Missing],
    air: Mapping[str, AirResult | Missing],
    trains: Mapping[str, TrainResult | Missing],
    memo: Memo,
) -> dict[str, RoomUnitRecord]:
    """All units in rooms by id."""
    if isinstance(climate, Missing):
        return {}
    pressure_pa, many = climate.pressure_pa, asked(project, climate, rooms, air, trains)

    def compute(stale: list[int]) -> list[tuple[RoomUnitRecord, ...]]:
        return _records(project, pressure_pa, [many[i] for i in stale])

    made = memo.rows("room units", [_reads(project.book, one, pressure_pa) for one in many], compute)
    return {record.id: record for records in made for record in records}


def _reads(book: Book, one: Asked, pressure_pa: float) -> Key:
    figures = (
        one.cool_w,
        one.heat_w,
        one.cooling_c,
        one.heating_c,
        one.room_w,
        one.gains_kg_s,
        one.primary_kg_s,
        one.primary_w,
        one.outdoor_c,
        one.area_m2,
        one.windows,
        pressure_pa,
    )
    return key(book, one.room, *one.units, figures)


def _records(project: Project, pressure_pa: float, many: list[Asked]) -> list[tuple[RoomUnitRecord, ...]]:
    """Units of each room; fan coils, which come last, of all rooms at once."""
    rooms = [_Units(project, pressure_pa, one) for one in many]
    for room in rooms:
        room.all_but_fan_coils()
    while any(room.left for room in rooms):
        _fan_coils([(room, room.left.pop(0)) for room in rooms if room.left])
    return [tuple(room.found) for room in rooms]


def _air_of(rooms: list["_Units"], need_w: list[float]) -> core.RoomAsked:
    """What fan coils in these rooms find there."""

    def of(name: str) -> np.ndarray:
        return np.array([getattr(r.one, name) for r in rooms])

    air = (of("gains_kg_s"), of("primary_kg_s"), of("primary_w"))
    return core.RoomAsked(of("cooling_c"), np.array(need_w), *air, rooms[0].p)


def _fan_coils(coils: list[tuple["_Units", RoomUnit]]) -> None:
    """One kind of fan coil in each of these rooms: chosen together where they have the same models to choose from,
    then worked together.
    """
    groups: dict[tuple[int, ...], list[int]] = {}
    offered = [room.models(unit) for room, unit in coils]
    picked = [Picked(None, 0, ())] * len(coils)
    for k, ((room, _), models) in enumerate(zip(coils, offered)):
        if models and max(room.cool_w, room.heat_w) >= LEAST_W:
            groups.setdefault(tuple(map(id, models)), []).append(k)
    for members in groups.values():
        for k, found in zip(members, _picked_together([coils[k][0] for k in members], offered[members[0]])):
            picked[k] = found
    records = [
        room.empty(unit, picked[k], offered[k], room.cool_w, room.heat_w) for k, (room, unit) in enumerate(coils)
    ]
    works = [k for k, r in enumerate(records) if r.model is not None]
    if works:
        worked, heats = _worked_together([coils[k][0] for k in works], [records[k] for k in works])
        for j, k in enumerate(works):
            records[k] = coils[k][0].coiled(records[k], worked, j, float(heats[j]))
    for (room, _), record in zip(coils, records):
        room.add(record)


def _picked_together(rooms: list["_Units"], models: tuple[Any, ...]) -> list[Picked]:
    known, rated = fan_coils(rooms[0].book)
    at = [next(i for i, k in enumerate(known) if k is m) for m in models]
    return choice.fan_coils(
        models,
        core.FanCoils(*(getattr(rated, n)[at] for n in core.FanCoils.__slots__)),
        _air_of(rooms, [r.cool_w for r in rooms]),
        np.array([r.heat_w for r in rooms]),
        np.array([r.one.heating_c for r in rooms]),
        np.array([r.limit_dba for r in rooms]),
        rooms[0].cold.flow_c,
        rooms[0].hot.flow_c,
    )


def _worked_together(rooms: list["_Units"], records: list[RoomUnitRecord]) -> tuple[core.Worked, np.ndarray]:
    """(what they do at what is asked, heat with open valves [W])."""
    known, rated = fan_coils(rooms[0].book)
    models, n = [model_of(r) for r in records], np.array([r.count for r in records])
    at = [next(i for i, k in enumerate(known) if k is m) for m in models]

    def of(name: str) -> np.ndarray:
        return np.array([getattr(m, name) * count for m, count in zip(models, n)])

    need = [r.cool_need_w if r.cool_need_w >= LEAST_W else 0.0 for r in records]
    passes = (rated.air_w_k[at] * n, rated.water_w_k[at] * n)
    cold, hot = rooms[0].cold.flow_c, rooms[0].hot.flow_c
    worked = core.fan_coils_at(passes, of("air_m3s"), of("cool_water_kg_s"), of("fan_w"), _air_of(rooms, need), cold)
    warm = np.array([r.one.heating_c for r in rooms])
    heats = core.fan_coil_heats(rated.heating_w_k[at] * n, of("air_m3s"), of("heat_water_kg_s"), of("fan_w"), warm, hot)
    return worked, heats


def model_of(record: RoomUnitRecord) -> UnitModel:
    """Its model, of a record that has one."""
    assert record.model is not None
    return record.model


class _Units:
    """All units of one room, which share what it needs in the order of their kinds."""

    def __init__(self, project: Project, pressure_pa: float, one: Asked) -> None:
        self.project, self.book, self.p, self.one = project, project.book, pressure_pa, one
        book = project.book

        def water(name: str) -> float:
            return assumption(book, name).figure

        self.cold = Circuit(water("chilled_supply_c"), water("chilled_return_c"))
        self.mild = Circuit(self.cold.flow_c + MILDER_K, self.cold.back_c + MILDER_K)
        self.hot = Circuit(water("hot_supply_c"), water("hot_return_c"))
        self.limit_dba = core.most_sound(assumption(book, "noise_nc").figure)
        self.dew_c = float(moist.dew_point(one.room_w, pressure_pa))
        self.found: list[RoomUnitRecord] = []
        self.left = [u for u in one.units if u.kind == "fan_coil"]
        self.cool_w, self.heat_w = one.cool_w, one.heat_w  # what those before leave

    def all_but_fan_coils(self) -> None:
        others = [u for u in self.one.units if u.kind != "fan_coil"]
        for unit in sorted(others, key=lambda u: ORDER.index(u.kind)):
            cool, heat = self.cool_w if unit.kind in COOLS else 0.0, self.heat_w if unit.kind in HEATS else 0.0
            self.add(self._one(unit, cool, heat))

    def add(self, made: RoomUnitRecord) -> None:
        """One more, which leaves less to do."""
        self.found.append(made)
        self.cool_w = made.short_cool_w if made.kind in COOLS else self.cool_w
        self.heat_w = made.short_heat_w if made.kind in HEATS else self.heat_w

    def _one(self, unit: RoomUnit, cool_w: float, heat_w: float) -> RoomUnitRecord:
        models = self.models(unit)
        picked = Picked(None, 0, ())
        surface: choice.SurfacePicked | None = None
        if models and max(cool_w, heat_w) >= LEAST_W:
            if unit.kind in ("floor", "ceiling"):
                surface = self._surface(unit, models, cool_w, heat_w)
                picked = Picked(surface.model, 1 if surface.model else 0, surface.tried)
            else:
                picked = self._picked(unit, models, cool_w, heat_w)
        record = self.empty(unit, picked, models, cool_w, heat_w)
        model, count = record.model, record.count
        if model is None:
            return record
        if surface is not None:
            return self._of_surface(record, surface, cool_w, heat_w)
        does = {
            "beam": self._beam,
            "radiator": self._radiator,
            "convector": self._radiator,
            "electric": self._electric,
            "direct": self._direct,
        }[unit.kind]
        return does(record, model, count)

    def models(self, unit: RoomUnit) -> tuple[Any, ...]:
        """Rows of its kind and step; the pinned model alone where one is pinned."""
        step = unit.step or self.book.unit_step
        kind = [m for m in catalogue(self.book, "room_units") if m.kind == unit.kind]
        stepped = [m for m in kind if not m.step or m.step == step]
        if unit.kind == "fan_coil":
            stepped = [m for m in stepped if m.pipes == 4] or stepped
        pinned = [m for m in kind if m.model == unit.model and (not m.step or m.step == step)]
        return tuple(pinned or stepped)

    def _picked(self, unit: RoomUnit, models: tuple[Any, ...], cool_w: float, heat_w: float) -> Picked:
        one = self.one
        need, room = np.array([cool_w]), np.array([one.cooling_c])
        if unit.kind == "beam":
            longest = self._figure(unit, "longest_m", max((w for w, _ in one.windows), default=LONGEST_M))
            primary = np.array([one.primary_kg_s / (1.2 * self.p / moist.SEA_LEVEL_PA)])
            return choice.beams(
                models, need, room, primary, np.array([longest]), np.array([self.limit_dba]), self.mild
            )[0]
        if unit.kind in ("radiator", "convector"):
            widest = max((w for w, _ in one.windows), default=LONGEST_M)
            sill = min((s for _, s in one.windows), default=HIGHEST_M + core.SILL_CLEAR_M)
            count = unit.count or max(len(one.windows), 1)
            return choice.radiators(
                models,
                np.array([heat_w]),
                np.array([one.heating_c]),
                np.array([self._figure(unit, "longest_m", widest)]),
                np.array([self._figure(unit, "highest_m", max(sill - core.SILL_CLEAR_M, 0.1))]),
                self.hot,
                np.array([count]),
            )[0]
        if unit.kind == "electric":
            return choice.electric(models, np.array([heat_w]))[0]
        return choice.direct(models, need, room, np.array([one.room_w]), one.outdoor_c, self.p)[0]

    def _figure(self, unit: RoomUnit, name: str, by_rule: float) -> float:
        value = getattr(unit, name)
        return by_rule if isinstance(value, Rule) else float(value.value)

    def _surface(self, unit: RoomUnit, models: tuple[Any, ...], cool_w: float, heat_w: float) -> choice.SurfacePicked:
        heats = heat_w >= LEAST_W and (unit.kind == "floor" or cool_w < LEAST_W)
        area = self.one.area_m2 * self._figure(unit, "area_share", AREA_SHARE)
        cover = self._figure(unit, "cover_m2k_w", COVER_M2K_W if unit.kind == "floor" else 0.0)
        if heats:
            want = choice.SurfaceAsked(heat_w, area, cover, self.one.heating_c)
            return choice.surfaces(models, want, self.hot, True)
        want = choice.SurfaceAsked(cool_w, area, cover, self.one.cooling_c, self.dew_c)
        return choice.surfaces(models, want, self.mild, False)

    def empty(
        self, unit: RoomUnit, picked: Picked, models: tuple[Any, ...], cool_w: float, heat_w: float
    ) -> RoomUnitRecord:
        """The record of a unit before what it does is known: it does nothing, and all is left. What is pinned is
        judged, never replaced.
        """
        if picked.model is None and (unit.model or unit.count) and models and unit.kind not in ("floor", "ceiling"):
            picked = replace(picked, model=models[-1], count=max(unit.count, 1))
        one, nan = self.one, float("nan")
        kind = tags.ROOM_UNIT[unit.kind]
        return RoomUnitRecord(
            unit.id,
            unit.tag or tags.of_room(kind, self.project, one.room.id),
            one.room.id,
            unit.kind,
            one.by_hand,
            picked.model,
            picked.count,
            bool(unit.model or unit.count),
            cool_w,
            heat_w,
            one.primary_kg_s / (1.2 * self.p / moist.SEA_LEVEL_PA),
            one.cooling_c if cool_w >= LEAST_W else one.heating_c,
            float(moist.relative_humidity(one.cooling_c, one.room_w, self.p)),
            self.dew_c,
            nan,
            nan,
            0.0,
            0.0,
            0.0,
            0.0,
            0.0,
            0.0,
            nan,
            self.limit_dba,
            nan,
            cool_w,
            heat_w,
            picked.tried,
        )

    def _of_surface(
        self, record: RoomUnitRecord, found: choice.SurfacePicked, cool_w: float, heat_w: float
    ) -> RoomUnitRecord:
        heats = heat_w >= LEAST_W and (record.kind == "floor" or cool_w < LEAST_W)
        circuit = self.hot if heats else self.mild
        flow = choice.water_of(found.heat_w, circuit)
        return replace(
            record,
            water_in_c=circuit.flow_c,
            water_back_c=circuit.back_c,
            heat_w=found.heat_w if heats else 0.0,
            cool_total_w=0.0 if heats else found.heat_w,
            cool_sensible_w=0.0 if heats else found.heat_w,
            water_kg_s=0.0 if heats else flow,
            hot_water_kg_s=flow if heats else 0.0,
            surface_c=found.surface_c,
            short_heat_w=found.rest_w if heats else heat_w,
            short_cool_w=cool_w if heats else found.rest_w,
        )

    def _sound(self, model: Any, count: int) -> float:
        return float(model.sound_dba + 10 * np.log10(max(count, 1))) if model.sound_dba else float("nan")

    def coiled(self, record: RoomUnitRecord, worked: core.Worked, k: int, heats_w: float) -> RoomUnitRecord:
        """With what its fan coils do, the k-th of those worked together."""
        model, n = model_of(record), record.count
        cools = record.cool_need_w >= LEAST_W  # their valves and fans stay shut and off below that
        room_w = float(worked.room_w[k])
        return replace(
            record,
            room_rh=float(moist.relative_humidity(self.one.cooling_c, room_w, self.p)),
            dew_c=float(moist.dew_point(room_w, self.p)),
            water_in_c=self.cold.flow_c,
            water_back_c=float(worked.back_c[k]),
            cool_total_w=float(worked.total_w[k]) if cools else 0.0,
            cool_sensible_w=float(worked.sensible_w[k]) if cools else 0.0,
            condensate_kg_s=float(worked.condensate_kg_s[k]) if cools else 0.0,
            heat_w=min(heats_w, record.heat_need_w),
            water_kg_s=float(worked.share[k]) * model.cool_water_kg_s * n if cools else 0.0,
            hot_water_kg_s=model.heat_water_kg_s * n if record.heat_need_w >= LEAST_W else 0.0,
            sound_dba=self._sound(model, n),
            short_cool_w=float(worked.short_w[k]) if cools else 0.0,
            short_heat_w=max(0.0, record.heat_need_w - heats_w),
        )

    def _beam(self, record: RoomUnitRecord, model: Any, n: int) -> RoomUnitRecord:
        each = max(record.primary_m3s / max(n, 1), 1e-6)
        most = float(core.beam(model, self.one.cooling_c, self.mild.flow_c, each, model.cool_water_kg_s)) * n
        given = min(most, record.cool_need_w)
        flow = model.cool_water_kg_s * n
        return replace(
            record,
            water_in_c=self.mild.flow_c,
            water_back_c=self.mild.flow_c + given / (flow * 4186.0),
            cool_total_w=given,
            cool_sensible_w=given,
            water_kg_s=flow,
            sound_dba=self._sound(model, n),
            short_cool_w=max(0.0, record.cool_need_w - most),
        )

    def _radiator(self, record: RoomUnitRecord, model: Any, n: int) -> RoomUnitRecord:
        room = self.one.heating_c
        need = record.heat_need_w / n
        most = float(core.radiator_heat(model.heat_w, model.heat_exponent, self.hot.flow_c, self.hot.back_c, room))
        given = min(need, most)
        back = float(core.radiator_back(model.heat_w, model.heat_exponent, self.hot.flow_c, room, given))
        flow = choice.water_of(given * n, Circuit(self.hot.flow_c, back)) if given > 0 else 0.0
        return replace(
            record,
            water_in_c=self.hot.flow_c,
            water_back_c=back,
            heat_w=given * n,
            hot_water_kg_s=flow,
            short_heat_w=max(0.0, record.heat_need_w - most * n),
        )

    def _electric(self, record: RoomUnitRecord, model: Any, n: int) -> RoomUnitRecord:
        given = min(record.heat_need_w, model.heat_w * n)
        return replace(record, heat_w=given, short_heat_w=record.heat_need_w - given)

    def _direct(self, record: RoomUnitRecord, model: Any, n: int) -> RoomUnitRecord:
        one = self.one
        done = core.direct(model, one.cooling_c, one.room_w, one.outdoor_c, self.p)
        most = (float(done.sensible_w) - model.fan_w) * n
        share = min(1.0, record.cool_need_w / most) if most > 0 else 0.0
        return replace(
            record,
            cool_total_w=float(done.total_w) * n * share,
            cool_sensible_w=most * share,
            condensate_kg_s=1.2 * model.air_m3s * n * share * max(one.room_w - float(done.w), 0.0),
            sound_dba=self._sound(model, n),
            short_cool_w=max(0.0, record.cool_need_w - most),
        )
