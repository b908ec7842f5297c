"""Schedules of equipment: their columns, and what stands in them; for window, papers, CSV and JSON alike.

A column names the figure and its quantity; a line holds figures in SI or words, each with the address of its why.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any, NamedTuple

from garnetfin.core import noise
from garnetfin.core.equipment.catalogue import BANDS
from garnetfin.core.equipment.coils import valve_kv
from garnetfin.core.equipment.plant import amps
from garnetfin.engine.equipment.machines import part_load
from garnetfin.engine.equipment.records import (
    BoxRecord,
    CoilRecord,
    MachineRecord,
    RoomUnitRecord,
    ShaftDuct,
    ShaftRecord,
    SilencerRecord,
    UnitRecord,
)
from garnetfin.engine.results import InlineRecord, Missing, Results
from garnetfin.project.lookup import find

NAN = float("nan")


class Column(NamedTuple):
    """key: its name in JSON and in addresses; quantity "" for words; edits: the field of the project it fixes."""

    key: str
    name: str
    quantity: str = ""
    width: float = 1.0
    digits: int | None = None
    edits: str = ""


@dataclass(frozen=True, slots=True)
class Line:
    """One piece: id, sheet of the project where it is fixed, figures or words in the order of the columns."""

    id: str
    cells: tuple[float | str, ...]
    fixed: frozenset[str] = frozenset()  # keys of what is pinned
    remark: str = ""


@dataclass(frozen=True, slots=True)
class Schedule:
    """A schedule; sheet: the list of the project in which its pieces are fixed."""

    key: str
    title: str
    sheet: str
    columns: tuple[Column, ...]
    lines: tuple[Line, ...]

    def cell(self, line_id: str, key: str) -> float | str:
        """What stands in a column of a line. Raises LookupError where there is none."""
        at = next((i for i, c in enumerate(self.columns) if c.key == key), None)
        line = next((x for x in self.lines if x.id == line_id), None)
        if at is None or line is None:
            raise LookupError(f"no {key} of {line_id}")
        return line.cells[at]


HEAD = (Column("tag", "Tag", width=1.3, edits="tag"), Column("served", "Serves", width=2.0))
MODEL = Column("model", "Model", width=2.0, edits="model")

BOXES = (
    *HEAD,
    MODEL,
    Column("kind", "Kind", width=1.0),
    Column("inlet_m", "Inlet", "duct_size", 0.7),
    Column("most_m3s", "Greatest", "room_flow", 0.9),
    Column("least_m3s", "Least", "room_flow", 0.8, edits="least_m3s"),
    Column("heating_m3s", "Heating", "room_flow", 0.9, edits="heating_m3s"),
    Column("drop_pa", "Box + coil", "pressure", 0.9),
    Column("coil_rows", "Rows", "plain", 0.6, 0),
    Column("reheat_w", "Reheat", "power", 0.9),
    Column("leaving_c", "Air off", "temperature", 0.8),
    Column("leave_c", "at most", "temperature", 0.8, edits="leave_c"),
    Column("water_in_c", "Water in", "temperature", 0.9),
    Column("water_back_c", "out", "temperature", 0.7),
    Column("water_m3s", "Water", "water_flow", 0.8, 3),
    Column("water_pa", "Drop", "air_pressure", 0.7),
    Column("radiated_nc", "NC casing", "plain", 0.9, 0),
    Column("discharge_nc", "NC duct", "plain", 0.9, 0),
    Column("mass_kg", "Mass", "mass", 0.7),
)
COILS = (
    *HEAD,
    Column("model", "Series", width=1.4, edits="series"),
    Column("rows", "Rows", "plain", 0.7, 0, "rows"),
    Column("circuits", "Circuits", "plain", 0.8, 0),
    Column("air_m3s", "Air", "system_flow", 0.8),
    Column("air_in_c", "Air in", "temperature", 0.8),
    Column("air_out_c", "Air off", "temperature", 0.8),
    Column("total_w", "Total", "load", 0.8, 1),
    Column("sensible_w", "Sensible", "load", 0.9, 1),
    Column("face_m_s", "Face", "velocity", 0.7),
    Column("water_in_c", "Water in", "temperature", 0.9, None, "water_in_c"),
    Column("water_out_c", "out", "temperature", 0.7, None, "water_out_c"),
    Column("water_m3s", "Water", "water_flow", 0.8),
    Column("water_m_s", "in tubes", "velocity", 0.9),
    Column("air_pa", "Air drop", "pressure", 0.9),
    Column("water_pa", "Water drop", "air_pressure", 1.0),
    Column("bypass", "Bypass", "plain", 0.8, 3),
    Column("reserve", "Reserve", "fraction", 0.9),
    Column("kv", "Valve kv", "plain", 0.9, 1),
)
UNITS = (
    *HEAD,
    Column("model", "Size", width=1.1, edits="size"),
    Column("room_id", "Stands in", width=1.1, edits="room_id"),
    Column("lacks_long_m", "Too long", "length", 0.8),
    Column("lacks_wide_m", "Too wide", "length", 0.8),
    Column("lacks_high_m", "Too high", "length", 0.8),
    Column("supply_m3s", "Supply", "system_flow", 0.8),
    Column("exhaust_m3s", "Exhaust", "system_flow", 0.9),
    Column("outside_pa", "Ducts", "pressure", 0.8),
    Column("velocity_m_s", "On filters", "velocity", 0.9, 2, "velocity_m_s"),
    Column("velocity_class", "Class", width=0.7),
    Column("recovery", "Recovery", "fraction", 0.9),
    Column("recovery_class", "Class", width=0.7),
    Column("arrangement", "Decks", width=1.2, edits="arrangement"),
    Column("length_m", "Length", "length", 0.8),
    Column("width_m", "Width", "length", 0.8),
    Column("height_m", "Height", "length", 0.8),
    Column("mass_kg", "Mass", "mass", 0.8),
    Column("pieces", "Pieces", "plain", 0.7, 0),
    Column("floor_m2", "Floor", "area", 0.8),
    Column("clear_m", "Clear", "length", 0.7),
    Column("specific_w_m3s", "SFP", "specific_fan_power", 1.1),
    Column("fan_class", "Class", width=0.8),
    Column("inner_w_m3s", "inner", "specific_fan_power", 1.1),
    Column("duct_dba", "dB(A) duct", "plain", 1.0, 0),
    Column("casing_dba", "casing", "plain", 0.8, 0),
)
ROOM_UNITS = (
    *HEAD,
    Column("kind", "Kind", width=1.6),
    MODEL,
    Column("count", "Number", "plain", 0.8, 0, "count"),
    Column("primary_m3s", "Primary", "room_flow", 0.9),
    Column("cool_need_w", "Asked cold", "power", 1.0),
    Column("cool_total_w", "Total", "power", 0.8),
    Column("cool_sensible_w", "Sensible", "power", 0.9),
    Column("heat_need_w", "Asked heat", "power", 1.0),
    Column("heat_w", "Heat", "power", 0.8),
    Column("air_m3s", "Air", "room_flow", 0.7),
    Column("water_in_c", "Water in", "temperature", 0.9),
    Column("water_back_c", "out", "temperature", 0.7),
    Column("water_m3s", "Cold water", "water_flow", 1.0, 3),
    Column("hot_water_m3s", "Hot water", "water_flow", 1.0, 3),
    Column("room_rh", "Room RH", "fraction", 0.9),
    Column("dew_c", "Dew point", "temperature", 0.9),
    Column("sound_dba", "dB(A)", "plain", 0.7, 0),
    Column("length_m", "Length", "length", 0.8),
)
MACHINES = (
    *HEAD,
    MODEL,
    Column("kind", "Kind", width=2.0),
    Column("count", "Number", "plain", 0.8, 0, "count"),
    Column("standby", "Reserve", "plain", 0.8, 0),
    Column("load_w", "Load", "load", 0.8, 1),
    Column("each_w", "each gives", "load", 1.0, 1),
    Column("cop", "COP", "plain", 0.7, 2),
    Column("water_c", "Water", "temperature", 0.8),
    Column("back_c", "back", "temperature", 0.7),
    Column("around_c", "Around", "temperature", 0.8),
    Column("water_m3s", "Flow", "water_flow", 0.7),
    Column("input_w", "Input", "load", 0.8, 1),
    Column("amps", "A, 400 V", "plain", 0.8, 0),
    Column("part_75", "COP ¾", "plain", 0.7, 2),
    Column("part_50", "½", "plain", 0.6, 2),
    Column("part_25", "¼", "plain", 0.6, 2),
    Column("spare", "Spare", "fraction", 0.7),
    Column("year_kwh", "kWh a year", "plain", 1.0, 0),
    Column("floor_m2", "Floor", "area", 0.7),
    Column("room_m2", "Plant room", "area", 1.0),
    Column("sound_dba", "dB(A)", "plain", 0.7, 0),
)
PUMPS = (
    *HEAD,
    Column("flow_m3s", "Flow", "water_flow", 0.8),
    Column("head_pa", "Head", "air_pressure", 0.8),
    Column("power_w", "Power", "power", 0.8),
    Column("main_mm", "Main, DN", "plain", 0.9, 0),
    Column("pipe_m", "Longest way", "length", 1.0, 0),
)
SILENCERS = (
    *HEAD,
    Column("model", "Model", width=1.7),
    Column("air_m3s", "Air", "system_flow", 0.8),
    Column("length_m", "Length", "length", 0.8),
    Column("drop_pa", "Drop", "pressure", 0.8),
    *(Column(f"lost_{b}_db", f"{b} Hz", "plain", 0.7, 0) for b in BANDS),
    Column("own_dba", "own dB(A)", "plain", 0.9, 0),
    Column("mass_kg", "Mass", "mass", 0.8),
)
INLINE = (
    Column("tag", "Tag", width=0.9),
    Column("served", "System", width=1.8),
    Column("kind", "Kind", width=1.6),
    Column("model", "Model", width=2.0),
    Column("size", "Size", width=1.4),
    Column("duct", "Duct", width=0.7),
    Column("level", "Level", width=1.0),
    Column("flow_m3s", "Air", "room_flow", 0.8),
    Column("velocity_m_s", "Velocity", "velocity", 0.9),
    Column("pressure_pa", "Drop", "fine_pressure", 0.8),
    Column("length_m", "Length", "length", 0.8, 2),
    Column("minutes", "Fire", width=1.0),
    Column("smoke", "Smoke", width=0.8),
    Column("mass_kg", "Mass", "mass", 0.8, 1),
)
SHAFTS = (
    Column("tag", "Level", width=1.2),
    Column("served", "Ducts through it", width=4.0),
    Column("flow_m3s", "Air", "system_flow", 0.8),
    Column("width_m", "Width", "length", 0.8),
    Column("depth_m", "Depth", "length", 0.8),
    Column("free_m2", "Free area", "area", 0.9),
    Column("drawn_m2", "Drawn", "area", 0.9),
)
KIND_WORDS = {
    "vav": "variable",
    "cav": "constant",
    "fan_coil": "fan coil",
    "beam": "chilled beam",
    "radiator": "radiator",
    "convector": "convector",
    "floor": "floor",
    "ceiling": "ceiling",
    "electric": "electric",
    "direct": "direct cooling",
    "chiller_air": "chiller, air-cooled",
    "chiller_water": "chiller, water-cooled",
    "heat_pump_air": "heat pump, air",
    "boiler": "boiler",
    "dx_condensing": "condensing unit",
}
WATER_KG_M3 = 998.0


def _rooms(results: Results, ids: Iterable[str]) -> str:
    rooms = [find(results.project.rooms, i) for i in ids]
    return ", ".join(f"{r.number} {r.name}".strip() for r in rooms if r is not None)


def _system(results: Results, system_id: str) -> str:
    system = find(results.project.air_systems, system_id)
    return system.name if system is not None else ""


def _box(results: Results, b: BoxRecord) -> Line:
    m, w = b.model, b.water
    return Line(
        b.id,
        (
            b.tag,
            _rooms(results, b.room_ids),
            m.model if m else "none serves",
            KIND_WORDS[b.kind],
            m.inlet_m if m else NAN,
            b.most_m3s,
            b.least.figure,
            b.heating.figure,
            b.drop_pa,
            m.coil_rows if m and b.reheat else NAN,
            b.reheat_w if b.reheat else NAN,
            b.supply_c + b.reheat_w / max(b.reheat_m3s, 1e-9) / _capacity(results, b.system_id)
            if b.reheat
            else b.supply_c,
            b.leaving.figure if b.reheat else NAN,
            b.hot_c if w else NAN,
            w.back_c if w else NAN,
            w.flow_kg_s / WATER_KG_M3 if w else NAN,
            w.drop_pa if w else NAN,
            b.radiated_nc,
            b.discharge_nc,
            m.mass_kg if m else NAN,
        ),
        _fixed(
            model=b.pinned,
            least_m3s=b.least.origin == "pinned",
            heating_m3s=b.heating.origin == "pinned",
            leave_c=b.leaving.origin == "pinned",
        ),
        b.why,
    )


def _capacity(results: Results, system_id: str) -> float:
    air = results.air.get(system_id)
    return 1.0 if air is None or isinstance(air, Missing) else air.heat_j_m3k


def _fixed(**flags: bool) -> frozenset[str]:
    return frozenset(k for k, on in flags.items() if on)


def _coil(results: Results, c: CoilRecord) -> Line:
    k = c.chosen
    return Line(
        c.id,
        (
            c.tag,
            _system(results, c.system_id),
            k.built.series.series if k else "none serves",
            k.built.rows if k else NAN,
            k.built.circuits if k else NAN,
            c.air_m3s,
            c.t1,
            c.t2,
            abs(c.heat_w),
            abs(c.sensible_w),
            c.air_kg_s / 1.2 / k.built.face.area_m2 if k else NAN,
            c.water_in.figure,
            c.water_out.figure,
            k.water_kg_s / WATER_KG_M3 if k else NAN,
            k.water_m_s if k else NAN,
            k.air_pa if k else NAN,
            k.water_pa if k else NAN,
            c.bypass,
            k.reserve if k else NAN,
            valve_kv(c.valve_kg_s / WATER_KG_M3, k.water_pa) if k and k.water_pa > 0 else NAN,
        ),
        _fixed(
            model=c.pinned,
            rows=c.pinned,
            water_in_c=c.water_in.origin == "pinned",
            water_out_c=c.water_out.origin == "pinned",
        ),
        k.why if k else "; ".join(r.why for r in c.tried if not r.model),
    )


def _unit(results: Results, u: UnitRecord) -> Line:
    made, at = u.layout, results.equipment.standings.get(u.id)
    return Line(
        u.id,
        (
            u.tag,
            u.name,
            made.casing.size if made else "none serves",
            find(results.project.rooms, at.room_id).number if at is not None else "",
            at.lacks.long_m if at is not None and at.lacks is not None else NAN,
            at.lacks.wide_m if at is not None and at.lacks is not None else NAN,
            at.high_m if at is not None and at.high_m > 0 else NAN,
            u.supply_m3s,
            u.exhaust_m3s,
            u.outside_pa,
            u.face_m_s,
            u.velocity_class,
            u.ratio,
            u.recovery_class,
            made.arrangement if made else "",
            made.length_m if made else NAN,
            made.width_m if made else NAN,
            made.height_m if made else NAN,
            made.mass_kg if made else NAN,
            made.pieces if made else NAN,
            made.floor_m2 if made else NAN,
            made.clear_m if made else NAN,
            u.specific_w_m3s,
            u.fan_class,
            u.inner_w_m3s,
            u.duct_dba,
            u.casing_dba,
        ),
        _fixed(model=u.pinned, velocity_m_s=u.velocity.origin == "pinned", room_id=at is not None and at.pinned),
    )


def _room_unit(results: Results, u: RoomUnitRecord) -> Line:
    m = u.model
    return Line(
        u.id,
        (
            u.tag,
            _rooms(results, (u.room_id,)),
            KIND_WORDS[u.kind],
            m.model if m else "none serves" if max(u.cool_need_w, u.heat_need_w) >= 1 else "nothing to do",
            u.count,
            u.primary_m3s,
            u.cool_need_w,
            u.cool_total_w,
            u.cool_sensible_w,
            u.heat_need_w,
            u.heat_w,
            m.air_m3s * u.count if m and m.air_m3s else NAN,
            u.water_in_c,
            u.water_back_c,
            u.water_kg_s / WATER_KG_M3 if u.water_kg_s else NAN,
            u.hot_water_kg_s / WATER_KG_M3 if u.hot_water_kg_s else NAN,
            u.room_rh,
            u.dew_c,
            u.sound_dba,
            m.length_m * u.count if m and m.length_m else NAN,
        ),
        _fixed(model=u.pinned, count=u.pinned),
    )


def _machine(_results: Results, m: MachineRecord) -> Line:
    model, parts = m.model, part_load(m) or (NAN,) * 3
    electric = m.kind != "boiler"
    return Line(
        m.id,
        (
            m.tag,
            "cold water" if m.id == "cold" else "hot water",
            model.model if model else "none serves",
            KIND_WORDS[m.kind],
            m.count,
            m.standby,
            m.load_w,
            m.each_w,
            m.load_w / m.input_w if m.input_w > 0 else NAN,
            m.water_c,
            m.back_c,
            m.around.figure,
            m.pump.flow_m3s,
            m.input_w,
            amps(m.input_w) if electric else NAN,
            *parts,
            m.spare,
            m.year_wh / 1000,
            m.floor_m2,
            m.room_m2 if m.room_m2 > 0 else NAN,
            model.sound_dba if model else NAN,
        ),
        _fixed(model=m.pinned, count=m.pinned),
    )


def _pump(_results: Results, m: MachineRecord) -> Line:
    return Line(
        m.id,
        (
            f"PU-{'01' if m.id == 'cold' else '02'}",
            "cold water" if m.id == "cold" else "hot water",
            m.pump.flow_m3s,
            m.pump.head_pa,
            m.pump.power_w,
            m.main.nominal_mm if m.main is not None else NAN,
            m.pipe_m,
        ),
    )


def _silencer(results: Results, a: SilencerRecord) -> Line:
    m = a.model
    return Line(
        a.id,
        (
            a.tag,
            _system(results, a.system_id),
            m.model if m else "none serves",
            a.air_m3s,
            m.length_m if m else NAN,
            a.drop_pa,
            *(m.loss_db if m else (NAN,) * len(BANDS)),
            float(noise.weighted(a.own_db)),
            m.mass_kg_m2 * a.face_m[0] * a.face_m[1] if m else NAN,
        ),
        remark="" if m else f"{a.lacks_db:.0f} dB are missing at {a.lacks_hz:.0f} Hz",
    )


def inline_parts(results: Results) -> list[InlineRecord]:
    """Parts in all ducts that could be computed, system by system."""
    return [
        part
        for system in results.project.air_systems
        for network in results.networks(system.id)
        for r in network.segments.values()
        for part in r.inline
    ]


def _inline(results: Results, p: InlineRecord) -> Line:
    segment = find(results.project.segments, p.segment_id)
    point = find(results.project.duct_points, segment.a)
    level = find(results.project.levels, point.level_id)
    m = p.model
    return Line(
        p.part_id,
        (
            p.tag,
            f"{_system(results, segment.system_id)} {segment.air}".strip(),
            p.kind,
            m.model if m else "as typed" if p.typed else "none serves",
            p.section.label,
            p.segment_id,
            level.name,
            p.flow_m3s,
            p.velocity_m_s,
            p.pressure_pa,
            p.length_m,
            f"{p.resists_min} min" if p.resists_min else "",
            "yes" if p.shuts_for_smoke else "",
            p.mass_kg,
        ),
        frozenset(("model",)) if p.pinned else frozenset(),
        "" if p.refusal in ("", "none") else f"its model: {p.refusal}",
    )


def _shaft(results: Results, s: ShaftRecord) -> Line:
    def words(duct: ShaftDuct) -> str:
        size = f"{duct.size.width_m:.2f} × {duct.size.depth_m:.2f} m" if duct.size is not None else "too large"
        return f"{_system(results, duct.system_id)} {duct.way} {size}"

    return Line(
        s.id,
        (
            s.name,
            ", ".join(words(d) for d in s.ducts),
            sum(d.flow_m3s for d in s.ducts),
            s.size.width_m if s.size else NAN,
            s.size.depth_m if s.size else NAN,
            s.size.area_m2 if s.size else NAN,
            s.drawn_m2,
        ),
    )


def _known_machines(results: Results) -> list[Any]:
    return [m for m in results.equipment.machines.values() if isinstance(m, MachineRecord)]


# key, title, list of the project, columns, records, line of a record
_SCHEDULES: tuple[
    tuple[str, str, str, tuple[Column, ...], Callable[[Results], Iterable[Any]], Callable[[Results, Any], Line]], ...
] = (
    ("boxes", "Flow boxes", "flow_boxes", BOXES, lambda r: r.equipment.boxes.values(), _box),
    ("room_units", "Room units", "room_units", ROOM_UNITS, lambda r: r.equipment.room_units.values(), _room_unit),
    ("coils", "Coils", "coils", COILS, lambda r: r.equipment.coils.values(), _coil),
    ("units", "Air handlers", "units", UNITS, lambda r: r.equipment.units.values(), _unit),
    ("machines", "Machines", "machines", MACHINES, _known_machines, _machine),
    ("pumps", "Pumps", "", PUMPS, _known_machines, _pump),
    ("silencers", "Silencers", "", SILENCERS, lambda r: r.equipment.silencers.values(), _silencer),
    ("inline", "Parts in ducts", "", INLINE, inline_parts, _inline),
    ("shafts", "Shafts", "", SHAFTS, lambda r: r.equipment.shafts.values(), _shaft),
)
KEYS = tuple((key, title) for key, title, *_ in _SCHEDULES)
COLUMNS = {key: columns for key, _, _, columns, *_ in _SCHEDULES}


def schedule(results: Results, key: str) -> Schedule:
    """One schedule by its key. Raises LookupError for another."""
    for one, title, sheet, columns, records, line in _SCHEDULES:
        if one == key:
            return Schedule(key, title, sheet, columns, tuple(line(results, r) for r in records(results)))
    raise LookupError(key)


def schedules(results: Results) -> tuple[Schedule, ...]:
    """All schedules that have a line."""
    return tuple(s for key, _ in KEYS if (s := schedule(results, key)).lines)
