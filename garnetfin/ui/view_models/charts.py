"""What the charts show, in the units in force."""

import numpy as np

from garnetfin import display
from garnetfin.core.tables import profiles, room_uses
from garnetfin.core.units import System, to_shown
from garnetfin.engine.flows.fan_lines import lines_of
from garnetfin.engine.flows.flow_results import Flows
from garnetfin.engine.results import CAUSES, AirResult, Block, Climate, DuctResult, FanResult, Missing, peak_of
from garnetfin.engine.stages.blocks import block_of
from garnetfin.engine.studies.sensitivity import Sensitivity
from garnetfin.engine.studies.year import YearResult, date_of
from garnetfin.project.edits.book import profile_of
from garnetfin.project.lookup import find
from garnetfin.ui.state import State
from garnetfin.ui.view_models.chart_data import (
    DayVM,
    DurationMark,
    DurationVM,
    FanChartVM,
    HourFieldVM,
    MonthsVM,
    MonthVM,
    MoverRow,
    MoversVM,
    NeedRow,
    NeedsVM,
    PathVM,
    ProfileVM,
    StairVM,
    YearFieldVM,
)

SHORT = {
    "North": "N",
    "North-east": "NE",
    "East": "E",
    "South-east": "SE",
    "South": "S",
    "South-west": "SW",
    "West": "W",
    "North-west": "NW",
}


def _shown(quantity: str, values, units: System) -> tuple[float, ...]:
    return tuple(float(v) for v in to_shown(quantity, np.asarray(values, float), units))


def months(state: State, climate: Climate, chosen: int) -> MonthsVM:
    units = state.show.units
    made = []
    for m in range(12):
        facade = max(climate.compass_sun, key=lambda a: float(climate.compass_sun[a][m].max()))
        sun = climate.compass_sun[facade][m]
        dry, wet = climate.days.dry_bulb_c[m], climate.days.wet_bulb_c[m]
        made.append(
            MonthVM(
                display.MONTHS[m],
                _shown("temperature", dry, units),
                _shown("temperature", wet, units),
                _shown("irradiance", sun, units),
                f"{SHORT[display.direction(facade)]} {display.figure('irradiance', float(sun.max()), units)}",
                f"{display.figure('temperature', float(dry.max()), units)} / "
                f"{display.figure('temperature', float(wet.max()), units)}",
            )
        )
    return MonthsVM(
        tuple(made),
        chosen,
        int(climate.days.dry_bulb_c.max(axis=1).argmax()),
        display.unit("temperature", units),
        display.unit("irradiance", units),
    )


def month_of(hour: int) -> int:
    """Month 0..11 of an hour of the year."""
    return date_of(hour)[0]


def scope_rooms(state: State) -> tuple[tuple[str, ...], str]:
    """Rooms that Loads looks at, and what to call them."""
    project, show = state.project, state.show
    served = [r for r in project.rooms if r.kept]
    if show.scope == "room":
        chosen = [r for r in project.rooms if r.id in state.selection.of("room")] or served[:1]
        return tuple(r.id for r in chosen), chosen[0].name if len(chosen) == 1 else f"{len(chosen)} rooms"
    if show.scope == "level":
        level = find(project.levels, show.level_id)
        return tuple(r.id for r in served if r.level_id == show.level_id), f"{level.name} level" if level else "level"
    if show.scope == "zone":
        chosen = {r.zone_id for r in project.rooms if r.id in state.selection.of("room")} | set(
            state.selection.of("zone")
        )
        zone = next((z for z in project.zones if z.id in chosen), next(iter(project.zones), None))
        if zone is not None:
            return tuple(r.id for r in served if r.zone_id == zone.id), zone.name
    if show.scope == "system" and state.system:
        return tuple(r.id for r in served if r.system_id == show.system_id), state.system.name
    return tuple(r.id for r in served), "the building"


def scope_block(state: State, room_ids: tuple[str, ...]) -> Block | Missing:
    found = block_of(state.results, room_ids)
    if found is None:
        return (
            next(iter(state.results.rooms.values()), Missing("no rooms", "Serve rooms by an air system"))
            if (isinstance(next(iter(state.results.rooms.values()), None), Missing))
            else Missing("no loads", "Choose a room")
        )
    return found


def field_of(block: Block, kind: str) -> np.ndarray:
    """(12, 24) of the kind of load looked at [W]."""
    return {"sensible": block.sensible_w, "latent": block.latent_w, "total": block.sensible_w + block.latent_w}[kind]


def hour_field(state: State, block: Block, name: str, kind: str) -> HourFieldVM:
    units = state.show.units
    values = field_of(block, kind)
    peak = peak_of(values, block.counted)
    return HourFieldVM(
        "Hour field",
        f"{kind} load of {name}, {display.unit('load', units)}",
        tuple(_shown("load", row, units) for row in values),
        state.show.hour or peak,
        display.unit("load", units),
        1 if float(np.abs(values).max()) >= 3000 else 2,
        block.room_ids if kind == "sensible" else (),
    )


def day_by_cause(state: State, block: Block, kind: str, against: Block | None = None, name: str = "") -> DayVM:
    """The day of the hour looked at; causes without a share in it are left out."""
    units = state.show.units
    values = field_of(block, kind)
    month, hour = state.show.hour or peak_of(values, block.counted)
    rows = (
        []
        if kind == "latent"
        else [
            (name_, _shown("load", block.by_cause_w[i, month], units))
            for i, name_ in enumerate(CAUSES)
            if np.abs(block.by_cause_w[i, month]).max() >= 0.5
        ]
    )
    if kind != "sensible":
        rows.append(("latent", _shown("load", block.latent_w[month], units)))
    instant = () if kind == "latent" else _shown("load", block.instant_w[:, month].sum(axis=0), units)
    other = _shown("load", field_of(against, kind)[month], units) if against is not None else ()
    return DayVM(
        tuple(rows), _shown("load", values[month], units), hour, display.unit("load", units), instant, other, name
    )


def movers(state: State, found: Sensitivity | Missing | None) -> MoversVM:
    units = state.show.units
    if found is None or isinstance(found, Missing):
        return MoversVM((), 0.0, "", 0, found.remedy if found else "Computing what moves this load …")

    def shown(w: float) -> float:
        return float(to_shown("load", w, units))

    rows = tuple(MoverRow(m.name, m.low, m.high, shown(m.low_w), shown(m.high_w)) for m in found.movers)
    return MoversVM(
        rows,
        shown(found.base_w),
        display.unit("load", units),
        2 if abs(found.base_w) < 5000 else 1,
        "Nothing moves this load" if not rows else "",
    )


DAY_KINDS = (
    ("working", "Working day"),
    ("other", "Other day"),
    ("summer_design", "Summer design"),
    ("winter_design", "Winter design"),
)


def profile(state: State, use_id: str, day: str) -> ProfileVM:
    """The hours of a use on one kind of day."""
    own = profile_of(state.project.book, use_id)
    hours = getattr(own, day) or (own.working if day != "winter_design" else (0.0,) * 24)
    shipped = own.id in profiles()
    note = "profile that ships" if shipped else "the office's own"
    if not getattr(own, day):
        note += ", as the working day" if day != "winter_design" else ", no use"
    return ProfileVM(room_uses()[use_id].name, note, tuple(hours))


def year_loads(state: State, found: YearResult) -> tuple[YearFieldVM, DurationVM]:
    """Cooling of the rooms through the year, beside the capacity of the design days."""
    units = state.show.units
    total = np.asarray(to_shown("load", found.total_w, units), float)
    peak, at = found.peak
    month, day, hour = date_of(at)
    unit = display.unit("load", units)
    field = YearFieldVM(
        "Cooling through the year",
        f"peak {display.with_unit('load', peak, units)} on {day} {display.MONTHS[month]}, {hour}–{hour + 1} h",
        total,
        0.0,
        float(total.max()) or 1.0,
        unit,
        chosen=at,
    )
    marks = (
        DurationMark(
            float(to_shown("load", found.design_w, units)),
            f"design days {display.with_unit('load', found.design_w, units)}, {found.beyond} h beyond",
            True,
        ),
    )
    return field, DurationVM("Duration curve", f"cooling, {unit}", total, marks, unit)


def needs(state: State, air: AirResult) -> NeedsVM:
    units, rows = state.show.units, []
    for row in air.rooms:
        room = find(state.project.rooms, row.room_id)
        rows.append(
            NeedRow(
                room.id,
                room.number,
                room.name,
                _shown("room_flow", row.needs_m3s, units),
                to_shown("room_flow", row.flow_m3s, units),
                display.with_unit("room_flow", row.flow_m3s, units) if row.flow_m3s else display.DASH,
                row.governs,
                row.origin == "pinned",
            )
        )
    return NeedsVM(tuple(rows), display.unit("room_flow", units), state.selection.of("room"))


def stair(state: State, ducts: DuctResult, fan: FanResult | Missing) -> StairVM:
    """Every path's corners from the segments' own figures: fittings are steps, friction slopes, the terminal a drop."""
    units, project = state.show.units, state.project

    def pa(value: float) -> float:
        return to_shown("pressure", value, units)

    def metres(value: float) -> float:
        return to_shown("length", value, units)

    flows = state.flows if isinstance(state.flows, Flows) and state.show.what.any and ducts.air == "supply" else None
    paths, drawn = [], set()
    for t in ducts.terminals:
        path = ducts.path(t.segment_id)
        fresh = next((k for k, i in enumerate(path) if i not in drawn), len(path) - 1)
        drawn.update(path)
        corners = [(0.0, pa(ducts.runs.fan_pa if flows is None else flows.root_pa))]
        taken, before = 0.0, flows.root_pa if flows is not None else 0.0
        for segment_id in path:
            s = ducts.segments[segment_id]
            begin = metres(s.distance_m - s.length_m)
            if flows is not None and segment_id in flows.left_pa:
                # Friction slopes as it did at design, grown with the flow; the rest of what was found is a step.
                end = flows.left_pa[segment_id]
                slope = min(
                    max(
                        (s.friction_pa + s.flexible_pa) * (flows.segments[segment_id] / max(s.flow_m3s, 1e-9)) ** 2, 0.0
                    ),
                    max(before - end, 0.0),
                )
                corners += [(begin, pa(end + slope)), (metres(s.distance_m), pa(end))]
                before = end
                continue
            if s.damper is not None and not s.damper_pinned and segment_id != t.segment_id:
                taken += s.damper.surplus_pa
            corners += [
                (begin, pa(s.left_pa - taken + s.friction_pa + s.flexible_pa)),
                (metres(s.distance_m), pa(s.left_pa - taken)),
            ]
        pressures = {r.room_id: r.pressure_pa for r in flows.rooms} if flows is not None else {}
        corners.append(
            (metres(t.distance_m), pa(t.surplus_pa - taken if flows is None else pressures.get(t.room_id, 0.0)))
        )
        room = find(project.rooms, t.room_id)
        paths.append(
            PathVM(
                t.terminal_id,
                t.label,
                tuple(corners),
                room.level_id != project.levels[0].id,
                t.left_pa < 0.5,
                room.name,
                2 * fresh,
            )
        )
    if ducts.air != "supply":
        fan = Missing("no fan")
    parts = (
        []
        if isinstance(fan, Missing)
        else [(_short(name), pa(v)) for name, v in (fan.part_pa if flows is None else flows.parts_pa)]
    )
    after = [q for q in parts if q[0].lower().startswith("silencer")]
    before = [q for q in parts if q not in after]
    top = pa(ducts.runs.fan_pa if flows is None else flows.root_pa)
    total = sum(v for _, v in parts) + top
    side = {
        "supply": "supply side",
        "return": "return side, walked from the unit",
        "extract": "extract side, walked from the unit",
    }.get(ducts.air, ducts.air)
    note = (
        f"{side}, "
        f"{'total pressure against the rooms' if ducts.air == 'supply' else 'what is lost up to the unit'}, "
        f"{display.unit('pressure', units)}"
    )
    names = tuple(f"{x.name.lower()} level" for x in project.levels[:2])
    return StairVM(
        tuple(before),
        tuple(after),
        total,
        max(top, pa(ducts.runs.fan_pa)),
        tuple(paths),
        ducts.index.terminal_id,
        next(iter(state.selection.of("terminal")), ""),
        display.unit("pressure", units),
        "metres" if units == "SI" else "feet",
        0 if units == "SI" else 2,
        (names[0] if names else "", names[1] if len(names) > 1 else ""),
        note,
        {"supply": "supply", "return": "return"}.get(ducts.air, "exhaust"),
        flows is not None,
        1.0 / pa(1.0),
    )


def _short(name: str) -> str:
    return (
        name.partition(",")[0]
        .replace("Outdoor louvre", "Louvre")
        .replace("Heat recovery", "Recovery")
        .replace("Cooling coil", "Cooling")
        .replace("Heating coil", "Heating")
    )


AXES = {"efficiency": ("fraction", 0), "power": ("shaft_power", 1), "noise": ("noise", 0)}


def fan_chart(state: State, fan: FanResult, quantity: str = "pressure", states: tuple[Flows, ...] = ()) -> FanChartVM:
    """Curves over flow: pressure with the system curve and the points of what-ifs, or efficiency, power, noise of the
    same fans.
    """
    units, drawn = state.show.units, fan.lines
    kind, digits = AXES.get(quantity, ("pressure", 0 if units == "SI" else 1))

    def line(points: np.ndarray) -> tuple[tuple[float, float], ...]:
        q, p = _shown("system_flow", points[0], units), _shown(kind, points[1], units)
        return tuple(zip(q, p))

    words = (
        f"{display.with_unit('system_flow', fan.point.flow_m3s, units)} · "
        f"{display.with_unit('pressure', fan.point.pressure_pa, units)}"
    )
    name, speed = display.size_of_wheel(fan.chosen.wheel_m, units), f"{fan.chosen.speed_rpm:.0f} rpm"
    flow_unit, flow = display.unit("system_flow", units), to_shown("system_flow", fan.point.flow_m3s, units)
    if quantity != "pressure":
        chosen, others = lines_of(state.results, fan.system_id, quantity, fan.way)
        value = {"efficiency": fan.point.efficiency, "power": fan.point.shaft_w, "noise": fan.point.sound_db}[quantity]
        curve, at = line(chosen), to_shown(kind, value, units)
        least = 0.0 if quantity != "noise" else min(b for _, b in curve) // 10 * 10
        return FanChartVM(
            curve,
            tuple((label, line(c)) for label, c in others),
            (),
            (),
            (),
            (flow, at),
            (flow, at),
            name,
            speed,
            f"{display.with_unit('system_flow', fan.point.flow_m3s, units)} · "
            f"{display.with_unit(kind, value, units, digits)}",
            flow_unit,
            display.unit(kind, units),
            0,
            digits,
            max(curve[-1][0], flow * 1.25),
            (),
            least,
        )
    curve = line(drawn.chosen)
    marks = tuple(
        (
            f.what.words,
            to_shown("system_flow", f.fan_m3s, units),
            to_shown("pressure", f.fan_pa, units),
            f.what == state.show.what,
        )
        for f in states
        if f.what.any
    )
    return FanChartVM(
        curve,
        tuple((label, line(c)) for label, c in drawn.others),
        tuple((f"{rpm:.0f}", line(c)) for rpm, c in drawn.speeds),
        line(drawn.system),
        line(drawn.stall),
        (flow, to_shown("pressure", fan.point.pressure_pa, units)),
        (to_shown("system_flow", fan.wanted_m3s, units), to_shown("pressure", fan.wanted_pa, units)),
        name,
        speed,
        words,
        flow_unit,
        display.unit("pressure", units),
        0,
        digits,
        max(curve[-1][0], flow * 1.25),
        marks,
    )
