"""What moved between a mark and now, room by room and duct by duct, with what moved it."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from garnetfin import display
from garnetfin.engine.resolve import ROOM_FIGURES
from garnetfin.engine.results import (
    CAUSES,
    AirResult,
    DuctResult,
    FanResult,
    Missing,
    Results,
    RoomResult,
    SegmentResult,
    TrainResult,
)
from garnetfin.engine.studies.changes import differ
from garnetfin.project.lookup import find
from garnetfin.project.values import Rule

MOST_REASONS = 3
ARROW = "\u2192"
# Figures of a room by field: what it is called, its quantity, and the cause of load it acts on.
FIELDS = {
    "area_m2": ("floor", "area", ""),
    "cooling_c": ("set-point, cooling", "temperature", "set-point change"),
    "heating_c": ("set-point, heating", "temperature", ""),
    "people": ("people", "people", "people"),
    "lights_w_m2": ("lights", "electric_density", "lights"),
    "equipment_w_m2": ("equipment", "electric_density", "equipment"),
    "infiltration_1h": ("infiltration", "air_change", "infiltration"),
    "air_change_1h": ("least air change", "air_change", ""),
    "outdoor_m3s": ("outdoor air", "room_flow", ""),
    "people_area_m2": ("floor for each person", "area", ""),
    "moisture_w": ("moisture", "load", ""),
    "cooling_limit_w": ("cooling that is there", "load", ""),
    "heating_limit_w": ("heating that is there", "load", ""),
    "extract_m3s": ("extract", "room_flow", ""),
}
# Causes of load by what lets them in.
OF_FACES = {
    "window": ("solar through glass", "conduction through glass"),
    "glass wall": ("solar through glass", "conduction through glass"),
    "wall": ("walls",),
    "roof": ("roofs",),
    "floor": ("floors",),
    "door": ("walls",),
}


@dataclass(frozen=True, slots=True)
class Moved:
    """One figure before and now, in SI; None where there was or is none."""

    before: float | None
    now: float | None
    quantity: str

    @property
    def any(self) -> bool:
        return (self.before is None) != (self.now is None) or (
            self.before is not None and differ(self.before, self.now)
        )

    @property
    def step(self) -> float:
        return (self.now or 0.0) - (self.before or 0.0)


@dataclass(frozen=True, slots=True)
class RoomChange:
    room_id: str
    number: str
    name: str
    cooling: Moved
    heating: Moved
    flow: Moved
    reasons: tuple[str, ...]  # in words and the units asked for, the weightiest first


@dataclass(frozen=True, slots=True)
class DuctChange:
    segment_id: str
    system_id: str
    air: str
    before: str  # size
    now: str
    flow: Moved
    reason: str


@dataclass(frozen=True, slots=True)
class SystemChange:
    system_id: str
    name: str
    figures: tuple[tuple[str, Moved], ...]


@dataclass(frozen=True, slots=True)
class ChangeList:
    systems: tuple[SystemChange, ...]
    rooms: tuple[RoomChange, ...]
    ducts: tuple[DuctChange, ...]

    @property
    def any(self) -> bool:
        return bool(self.rooms or self.ducts) or any(m.any for s in self.systems for _, m in s.figures)


def change_list(before: Results, now: Results, units: str = "SI") -> ChangeList:
    """All that moved, the greatest step in load first; what is the same is not listed."""
    rooms = [c for c in _rooms(before, now, units) if c is not None]
    rooms.sort(key=lambda c: -max(abs(c.cooling.step), abs(c.heating.step)))
    return ChangeList(tuple(_systems(before, now)), tuple(rooms), tuple(_ducts(before, now, units)))


# -- rooms --------------------------------------------------------------------------------------------------------
def _rooms(before: Results, now: Results, units: str) -> Iterator[RoomChange | None]:
    old = {r.id: r for r in before.project.rooms}
    for room in now.project.rooms:
        yield _room(before, now, room, old.pop(room.id, None), units)
    for room in old.values():
        yield RoomChange(
            room.id,
            room.number,
            room.name,
            Moved(_peak(before, room.id), None, "load"),
            Moved(_heating(before, room.id), None, "load"),
            Moved(_flow(before, room.id), None, "room_flow"),
            ("removed",),
        )


def _peak(results: Results, room_id: str) -> float | None:
    found = results.room(room_id)
    return found.peak_w if found is not None and found.kept else None


def _heating(results: Results, room_id: str) -> float | None:
    found = results.room(room_id)
    return found.heating_w if found is not None and found.kept else None


def _flow(results: Results, room_id: str) -> float | None:
    found = results.room_air.get(room_id)
    return found.flow_m3s if found is not None else None


def _room(before: Results, now: Results, room, old, units: str) -> RoomChange | None:
    cooling = Moved(_peak(before, room.id), _peak(now, room.id), "load")
    heating = Moved(_heating(before, room.id), _heating(now, room.id), "load")
    flow = Moved(_flow(before, room.id), _flow(now, room.id), "room_flow")
    renamed = old is not None and (old.number, old.name) != (room.number, room.name)
    if not (cooling.any or heating.any or flow.any or renamed or old is None):
        return None
    if old is None:
        reasons: tuple[str, ...] = ("new",)
    else:
        reasons = (
            *((f"was {old.number} {old.name}",) if renamed else ()),
            *_reasons(before, now, room, old, cooling.any or heating.any, units),
        )[:MOST_REASONS]
    return RoomChange(room.id, room.number, room.name, cooling, heating, flow, reasons)


def _reasons(before: Results, now: Results, room, old, loads: bool, units: str) -> tuple[str, ...]:
    """What of the room itself differs, by the load it moved; else what it shares with others."""
    a, b = before.room(room.id), now.room(room.id)
    if a is None or b is None:
        return ("could not be computed before",) if a is None else ("cannot be computed now",)
    found: list[tuple[float, str]] = []
    weight = _weights(a, b)
    for field in ROOM_FIGURES:
        x, y = getattr(a.figures, field).figure, getattr(b.figures, field).figure
        if differ(x, y):
            name, quantity, cause = FIELDS[field]
            found.append((weight.get(cause, 0.0), f"{name} {_step(x, y, quantity, units)}"))
    found += _faces(a, b, weight, units)
    if a.figures.use.id != b.figures.use.id:
        found.append((0.0, f"use {a.figures.use.name} {ARROW} {b.figures.use.name}"))
    if differ(a.volume_m3, b.volume_m3) and not differ(a.figures.area_m2.figure, b.figures.area_m2.figure):
        found.append((0.0, f"ceiling {_step(old.ceiling_m, room.ceiling_m, 'length', units)}"))
    if old.system_id != room.system_id:
        found.append((0.0, "served by another air system"))
    found.sort(key=lambda f: -f[0])
    own = [words for _, words in found]
    if not own and loads:
        own = [*_shared(before, now, a, b)]
    if not own:
        own = [*_of_flow(before, now, room, old, units)]
    return tuple(own)


def _weights(a: RoomResult, b: RoomResult) -> dict[str, float]:
    """How far each cause moved at the peak that stands now [W]."""
    at = b.peak
    return {c: abs(float(b.by_cause_w[i][at]) - float(a.by_cause_w[i][at])) for i, c in enumerate(CAUSES)}


def _step(x: float, y: float, quantity: str, units: str) -> str:
    return f"{display.figure(quantity, x, units)} {ARROW} {display.with_unit(quantity, y, units)}"


def _faces(a: RoomResult, b: RoomResult, weight: dict[str, float], units: str) -> Iterator[tuple[float, str]]:
    """Areas and U-values by kind and direction: “west glass 6.1 → 9.4 m²”."""
    old, new = _by_direction(a), _by_direction(b)
    for key in (*old, *(k for k in new if k not in old)):
        kind, to, facing = key
        words = {"window": "glass", "glass wall": "glass wall"}.get(kind, kind)
        name = (
            f"{display.direction(facing).lower()} {words}"
            if facing is not None
            else f"{words} to {to}"
            if kind in ("wall", "partition", "floor", "ceiling")
            else words
        )
        causes = OF_FACES.get(kind, ()) if to in ("outdoors", "ground") else ("unheated spaces", "adjacent rooms")
        moved = max((weight.get(c, 0.0) for c in causes), default=0.0)
        (x, ux, gx), (y, uy, gy) = old.get(key, (0.0, 0.0, "")), new.get(key, (0.0, 0.0, ""))
        if differ(x, y):
            yield moved, f"{name} {_step(x, y, 'area', units)}"
        if x and y and differ(ux, uy):
            yield moved, f"{name} U {_step(ux, uy, 'u_value', units)}"
        elif x and y and gx != gy:
            yield moved, f"{name}: {gx} {ARROW} {gy}"


def _by_direction(found: RoomResult) -> dict[tuple[Any, ...], tuple[float, float, str]]:
    """(kind, to, direction) -> (area [m2], mean U [W/m2K], names of glass)."""
    sums: dict[tuple[Any, ...], list[Any]] = {}
    for f in found.faces:
        looks = f.to == "outdoors" and f.kind in ("wall", "window", "glass wall", "door")
        row = sums.setdefault(
            (f.kind, f.to, round(f.azimuth_deg / 45) % 8 * 45.0 if looks else None), [0.0, 0.0, set()]
        )
        row[0] += f.area_m2
        row[1] += f.area_m2 * f.u_w_m2k
        if f.opening_id:
            row[2].add(f.name)
    return {k: (area, ua / area if area else 0.0, ", ".join(sorted(names))) for k, (area, ua, names) in sums.items()}


def _shared(before: Results, now: Results, a: RoomResult, b: RoomResult) -> Iterator[str]:
    """What moved it without being its own: place, rules, profile, hours of the plant, a room beside."""
    if before.project.site != now.project.site:
        yield "place or design conditions"
    if before.project.book != now.project.book:
        yield "office standards"
    if (
        a.figures.profile.name != b.figures.profile.name
        or (a.figures.profile.working != b.figures.profile.working).any()
    ):
        yield "profile"
    if a.figures.operation != b.figures.operation:
        yield "hours of the plant"
    if before.project.build_ups != now.project.build_ups or before.project.glazings != now.project.glazings:
        yield "build-up or glass"
    if before.project.plan_marks != now.project.plan_marks:
        yield "what casts shadows"
    if before.project.rooms != now.project.rooms or before.project.zones != now.project.zones:
        yield "adjacent rooms"


def _of_flow(before: Results, now: Results, room, old, units: str) -> Iterator[str]:
    if old.supply_m3s != room.supply_m3s:
        yield "supply air by rule" if isinstance(room.supply_m3s, Rule) else "supply air pinned"
    x, y = before.air.get(room.system_id), now.air.get(room.system_id)
    if isinstance(x, AirResult) and isinstance(y, AirResult):
        if differ(x.supply_c, y.supply_c):
            yield f"supply air {_step(x.supply_c, y.supply_c, 'temperature', units)}"
        elif x.figures != y.figures or find(before.project.air_systems, room.system_id) != find(
            now.project.air_systems, room.system_id
        ):
            yield "air system"
    p, q = before.room_air.get(room.id), now.room_air.get(room.id)
    if p is not None and q is not None and p.governs != q.governs:
        yield f"{p.governs} {ARROW} {q.governs} governs"
    if before.project.book != now.project.book:
        yield "office standards"
    elif before.project.transfers != now.project.transfers:
        yield "transfer air"


# -- ducts --------------------------------------------------------------------------------------------------------
def _ducts(before: Results, now: Results, units: str) -> Iterator[DuctChange]:
    for system in now.project.air_systems:
        old = {i: (s, d.air) for d in before.networks(system.id) for i, s in d.segments.items()}
        new = {i: (s, d.air) for d in now.networks(system.id) for i, s in d.segments.items()}
        for i, (s, air) in new.items():
            was = old.pop(i, (None, air))[0]
            if was is None:
                yield DuctChange(
                    i, system.id, air, "", display.size(s.section, units), Moved(None, s.flow_m3s, "room_flow"), "new"
                )
            elif was.section != s.section:
                yield DuctChange(
                    i,
                    system.id,
                    air,
                    display.size(was.section, units),
                    display.size(s.section, units),
                    Moved(was.flow_m3s, s.flow_m3s, "room_flow"),
                    _duct_reason(before, now, was, s, units),
                )
        for i, (s, air) in old.items():
            yield DuctChange(
                i, system.id, air, display.size(s.section, units), "", Moved(s.flow_m3s, None, "room_flow"), "removed"
            )


def _duct_reason(before: Results, now: Results, was: SegmentResult, s: SegmentResult, units: str) -> str:
    if s.pinned != was.pinned or s.pinned:
        return "pinned" if s.pinned else "no longer pinned"
    if differ(was.flow_m3s, s.flow_m3s):
        return f"flow {_step(was.flow_m3s, s.flow_m3s, 'room_flow', units)}"
    if differ(was.friction_limit, s.friction_limit):
        return f"friction at most {_step(was.friction_limit, s.friction_limit, 'friction', units)}"
    if differ(was.velocity_limit, s.velocity_limit):
        return f"velocity at most {_step(was.velocity_limit, s.velocity_limit, 'velocity', units)}"
    if differ(was.clear_height_m, s.clear_height_m) or differ(was.obstacle_height_m, s.obstacle_height_m):
        return "height that is clear"
    if was.section.shape != s.section.shape:
        return "shape"
    if was.make != s.make:
        return "material, lining or insulation"
    return "office standards" if before.project.book != now.project.book else "rules of sizing"


# -- systems ------------------------------------------------------------------------------------------------------
def _systems(before: Results, now: Results) -> Iterator[SystemChange]:
    def of(results: Results, table: str, system_id: str, kind: type, get: Callable[..., Any]) -> float | None:
        found = getattr(results, table).get(system_id)
        return get(found) if isinstance(found, kind) else None

    figures = (
        ("Supply air", "air", AirResult, lambda a: a.flow_m3s, "system_flow"),
        ("Outdoor air", "air", AirResult, lambda a: a.outdoor_m3s, "system_flow"),
        ("Cooling coil", "trains", TrainResult, lambda t: t.cooling.cooling_w, "load"),
        ("Heating of the air and rooms", "trains", TrainResult, lambda t: t.heater_w(t.heating), "load"),
        ("Length of supply ducts", "ducts", DuctResult, lambda d: d.length_m, "length"),
        ("Sheet of supply ducts", "ducts", DuctResult, lambda d: d.mass_kg, "mass"),
        ("Index run", "ducts", DuctResult, lambda d: d.runs.fan_pa, "pressure"),
        ("Fan, total pressure", "fans", FanResult, lambda f: f.wanted_pa, "pressure"),
        ("Fan, electric power", "fans", FanResult, lambda f: f.point.electric_w if f.point else None, "shaft_power"),
    )
    whole = [
        (name, Moved(_block(before, get), _block(now, get), "load"))
        for name, get in (("Cooling of all rooms", lambda b: b.peak_w), ("Heating of all rooms", lambda b: b.heating_w))
    ]
    yield SystemChange("", "Building", tuple(whole))
    for system in now.project.air_systems:
        yield SystemChange(
            system.id,
            system.name,
            tuple(
                (name, Moved(of(before, table, system.id, kind, get), of(now, table, system.id, kind, get), quantity))
                for name, table, kind, get, quantity in figures
            ),
        )


def _block(results: Results, get: Callable[..., Any]) -> float | None:
    found = results.blocks.get("")
    return None if found is None or isinstance(found, Missing) else get(found)
