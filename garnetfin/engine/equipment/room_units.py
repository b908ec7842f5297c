"""Units in rooms: those that were put there, and by rule one where the rest of a room's heat is left to a unit."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache, partial
from typing import Any

import numpy as np

from garnetfin.core.equipment import room_units as core
from garnetfin.core.equipment import unit_choice as choice
from garnetfin.core.equipment.unit_choice import Circuit, Picked
from garnetfin.core.psychro import properties as moist
from garnetfin.engine.equipment import tags
from garnetfin.engine.equipment.catalogues import fan_coils
from garnetfin.engine.equipment.catalogues import rows as catalogue
from garnetfin.engine.equipment.records import RoomUnitRecord
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import AirResult, Climate, Missing, RoomResult, TrainResult
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
    found: dict[str, RoomUnitRecord] = {}
    for one in asked(project, climate, rooms, air, trains):
        row = key(
            project.book,
            one.room,
            *one.units,
            (
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
                climate.pressure_pa,
            ),
        )
        work = partial(_records, project, climate.pressure_pa, one)
        found.update((r.id, r) for r in memo.one("room units", row, work))
    return found


def _records(project: Project, pressure_pa: float, one: Asked) -> tuple[RoomUnitRecord, ...]:
    return _Units(project, pressure_pa, one).records()


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

    def records(self) -> tuple[RoomUnitRecord, ...]:
        cool, heat = self.one.cool_w, self.one.heat_w
        found = []
        for unit in sorted(self.one.units, key=lambda u: ORDER.index(u.kind)):
            made = self._one(unit, cool if unit.kind in COOLS else 0.0, heat if unit.kind in HEATS else 0.0)
            found.append(made)
            cool = made.short_cool_w if unit.kind in COOLS else cool
            heat = made.short_heat_w if unit.kind in HEATS else heat
        return tuple(found)

    def _one(self, unit: RoomUnit, cool_w: float, heat_w: float) -> RoomUnitRecord:
        models = self._models(unit)
        picked = Picked(None, 0, ())
        surface: choice.SurfacePicked | None = None
        if models and max(cool_w, heat_w) >= LEAST_W:
            if unit.kind in ("floor", "ceiling"):
                surface = self._surface(unit, models, cool_w, heat_w)
                picked = Picked(surface.model, 1 if surface.model else 0, surface.tried)
            else:
                picked = self._picked(unit, models, cool_w, heat_w)
        model = picked.model
        count = picked.count
        if model is None and (unit.model or unit.count) and models and unit.kind not in ("floor", "ceiling"):
            model, count = models[-1], max(unit.count, 1)  # pinned: judged, never replaced
        record = self._empty(unit, replace(picked, model=model, count=count), cool_w, heat_w)
        if model is None:
            return record
        if surface is not None:
            return self._of_surface(record, surface, cool_w, heat_w)
        does = {
            "fan_coil": self._fan_coil,
            "beam": self._beam,
            "radiator": self._radiator,
            "convector": self._radiator,
            "electric": self._electric,
            "direct": self._direct,
        }[unit.kind]
        return does(record, model, count)

    def _models(self, unit: RoomUnit) -> tuple[Any, ...]:
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
        if unit.kind == "fan_coil":
            known, rated = fan_coils(self.book)
            at = [next(i for i, k in enumerate(known) if k is m) for m in models]
            of = core.FanCoils(*(getattr(rated, n)[at] for n in core.FanCoils.__slots__))
            return choice.fan_coils(
                models,
                of,
                self._air(need),
                np.array([heat_w]),
                np.array([one.heating_c]),
                np.array([self.limit_dba]),
                self.cold.flow_c,
                self.hot.flow_c,
            )[0]
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

    def _air(self, need: np.ndarray) -> core.RoomAsked:
        one = self.one
        return core.RoomAsked(
            np.array([one.cooling_c]),
            need,
            np.array([one.gains_kg_s]),
            np.array([one.primary_kg_s]),
            np.array([one.primary_w]),
            self.p,
        )

    def _surface(self, unit: RoomUnit, models: tuple[Any, ...], cool_w: float, heat_w: float) -> choice.SurfacePicked:
        heats = heat_w >= LEAST_W and (unit.kind == "floor" or cool_w < LEAST_W)
        area = self.one.area_m2 * self._figure(unit, "area_share", AREA_SHARE)
        cover = self._figure(unit, "cover_m2k_w", COVER_M2K_W if unit.kind == "floor" else 0.0)
        if heats:
            want = choice.SurfaceAsked(heat_w, area, cover, self.one.heating_c)
            return choice.surfaces(models, want, self.hot, True)
        want = choice.SurfaceAsked(cool_w, area, cover, self.one.cooling_c, self.dew_c)
        return choice.surfaces(models, want, self.mild, False)

    def _empty(self, unit: RoomUnit, picked: Picked, cool_w: float, heat_w: float) -> RoomUnitRecord:
        """The record of a unit before what it does is known: it does nothing, and all is left."""
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

    def _fan_coil(self, record: RoomUnitRecord, model: Any, n: int) -> RoomUnitRecord:
        known, rated = fan_coils(self.book)
        i = next(k for k, m in enumerate(known) if m is model)

        def of(value: float) -> np.ndarray:
            return np.array([value * n])

        cools = record.cool_need_w >= LEAST_W  # its valve and its fan stay shut and off below that
        worked = core.fan_coils_at(
            (of(rated.air_w_k[i]), of(rated.water_w_k[i])),
            of(model.air_m3s),
            of(model.cool_water_kg_s),
            of(model.fan_w),
            self._air(np.array([record.cool_need_w if cools else 0.0])),
            self.cold.flow_c,
        )
        heats = float(
            core.fan_coil_heats(
                rated.heating_w_k[i] * n,
                model.air_m3s * n,
                model.heat_water_kg_s * n,
                model.fan_w * n,
                self.one.heating_c,
                self.hot.flow_c,
            )
        )
        room_w = float(worked.room_w[0])
        return replace(
            record,
            room_rh=float(moist.relative_humidity(self.one.cooling_c, room_w, self.p)),
            dew_c=float(moist.dew_point(room_w, self.p)),
            water_in_c=self.cold.flow_c,
            water_back_c=float(worked.back_c[0]),
            cool_total_w=float(worked.total_w[0]) if cools else 0.0,
            cool_sensible_w=float(worked.sensible_w[0]) if cools else 0.0,
            condensate_kg_s=float(worked.condensate_kg_s[0]) if cools else 0.0,
            heat_w=min(heats, record.heat_need_w),
            water_kg_s=float(worked.share[0]) * model.cool_water_kg_s * n if cools else 0.0,
            hot_water_kg_s=model.heat_water_kg_s * n if record.heat_need_w >= LEAST_W else 0.0,
            sound_dba=self._sound(model, n),
            short_cool_w=float(worked.short_w[0]) if cools else 0.0,
            short_heat_w=max(0.0, record.heat_need_w - heats),
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
