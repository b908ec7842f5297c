"""Findings: limits that are broken, with the place, the reason, and commands that would mend them."""

from collections.abc import Iterator

import numpy as np

from garnetfin.core.ducts.sizes import Section, rectangular_series, round_series
from garnetfin.core.ducts.sizing import Limits, size_ladder
from garnetfin.core.tables import materials
from garnetfin.engine.results import AirResult, DuctResult, FanResult, Finding, Mend, Missing, RoomResult, SegmentResult
from garnetfin.engine.stages.air_findings import air_findings
from garnetfin.project.ducts import PinnedSize
from garnetfin.project.edits.ducts import SetSize, SetTerminal
from garnetfin.project.edits.fabric import THICKEST_M, SetLayer
from garnetfin.project.edits.rooms import SetGlazing, SetRoomValue
from garnetfin.project.edits.systems import ChooseFan, SetOperation, SetSystemValue
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned, Rule

SUN_SHARE, SUN_W_M2 = 0.5, 30.0     # of a room's cooling load, and per m2 of floor
MOST_DAMPER_PA, MOST_DAMPER_DEG = 60.0, 55.0
MOST_TERMINAL_PA = 40.0
LEAST_FROM_STALL = 0.10
MOST_WARM_UP = 1.5                  # warm-up after a night off, over the steady loss


def findings(project: Project, rooms: dict, air: dict, ducts: dict, fans: dict, trains: dict) -> tuple[Finding, ...]:
    found: list[Finding] = []
    for room in project.rooms:
        found += _room(project, room, rooms[room.id])
        if isinstance(rooms[room.id], RoomResult) and room.system_id:
            found += _plant(project, room, rooms[room.id])
    found += _odd_layers(project)
    for system in project.air_systems:
        found += _warm_up(project, system, rooms)
        if isinstance(air[system.id], AirResult):
            found += _pinned_flows(project, air[system.id])
            found += air_findings(project, system, air[system.id], rooms, trains[system.id])
        elif air[system.id].reason == "too warm":
            found.append(Finding("supply-too-warm", "Air", "system", system.id, "Supply air is too warm",
                                 air[system.id].remedy, "bad",
                                 (Mend("Supply by rule", SetSystemValue(system.id, "supply_c", Rule())),)))
        if isinstance(ducts[system.id], DuctResult):
            found += _ducts(project, ducts[system.id], air[system.id])
        if isinstance(fans[system.id], FanResult):
            found += _fan(system, fans[system.id])
    return tuple(found)


def _room(project: Project, room, result: RoomResult | Missing) -> Iterator[Finding]:
    if isinstance(result, Missing):
        if result.reason in ("no faces", "not computed", "no way out"):
            yield Finding("room-open", "Building", "room", room.id, f"{room.number} {room.name} has {result.reason}"
                          if result.reason != "not computed" else f"{room.number} cannot be computed", result.remedy, "bad")
        return
    if not room.system_id:
        return
    f = result.figures
    if f.heating_c.figure > f.cooling_c.figure:
        yield Finding("set-points-crossed", "Loads", "room", room.id, f"{room.number}: set-points crossed",
                      f"Heating at {f.heating_c.figure:.1f} °C is above cooling at {f.cooling_c.figure:.1f} °C.", "bad",
                      (Mend("Heating by rule", SetRoomValue((room.id,), "heating_c", Rule())),
                       Mend("Cooling by rule", SetRoomValue((room.id,), "cooling_c", Rule()))))
    share = result.cause_w("glass sun") / result.peak_w if result.peak_w > 0 else 0.0
    if share > SUN_SHARE and result.cause_w("glass sun") > SUN_W_M2 * f.area_m2.figure:
        panes = [(o.wall_id, o.opening_id) for o in result.faces if o.kind in ("window", "glass wall")]
        now = {(w.id, o.id): o.glazing_id for w in project.walls for o in w.openings}
        used = [find(project.glazings, now[p]) for p in panes]
        better = [g for g in sorted(project.glazings, key=lambda g: g.g) if g.g < 0.95 * max(u.g for u in used)][:1]
        mends = tuple(Mend(f"Glass g {g.g:.2f}", SetGlazing(tuple(panes), g.id)) for g in better)
        yield Finding("sun-share", "Loads", "room", room.id, f"{room.number}: sun is {share:.0%} of cooling",
                      f"{result.cause_w('glass sun') / 1000:.1f} of {result.peak_w / 1000:.1f} kW come through "
                      f"{sum(o.area_m2 for o in result.faces if o.kind in ('window', 'glass wall')):.1f} m² of glass.",
                      "watch", mends)


def _plant(project: Project, room, result: RoomResult) -> Iterator[Finding]:
    """What the hours and limits of the plant lead to in a room."""
    f = result.figures
    if result.short_hours:
        warm, month, hour = result.warmest
        yield Finding("cooling-short", "Loads", "room", room.id, f"{room.number} gets {warm:.1f} °C warm",
                      f"{f.cooling_limit_w.figure / 1000:.1f} kW are there, {result.peak_w / 1000:.1f} kW are needed: "
                      f"{result.short_hours} design hours are too warm.", "bad",
                      (Mend("Without limit", SetRoomValue((room.id,), "cooling_limit_w", Rule())),
                       Mend(f"Give {result.peak_w / 1000:.1f} kW", SetRoomValue(
                           (room.id,), "cooling_limit_w", Pinned(value=float(np.ceil(result.peak_w / 100) * 100))))))
    if not result.solved:
        yield Finding("unsolved", "Loads", "room", room.id, f"{room.number}: the plant finds no steady day",
                      "Its set-points and limits contradict each other. Free its limits.", "bad",
                      (Mend("Without limits", SetRoomValue((room.id,), "cooling_limit_w", Rule())),))


def _warm_up(project: Project, system, rooms: dict) -> Iterator[Finding]:
    """A night off that asks for far more plant than the loss itself."""
    known = [rooms[r.id] for r in project.rooms if r.system_id == system.id and isinstance(rooms[r.id], RoomResult)]
    need, steady = sum(r.warm_up_w for r in known), sum(float(r.heating_by_cause_w.sum()) for r in known)
    if need > MOST_WARM_UP * steady > 0 and system.operation.mode == "use" and system.operation.lead_h < 4:
        longer = system.operation.lead_h + 1
        yield Finding("warm-up", "Loads", "system", system.id, f"Warm-up takes {need / steady:.1f} times the heat loss",
                      f"{need / 1000:.0f} kW bring the rooms up in {system.operation.lead_h} h, {steady / 1000:.0f} kW hold them.", "watch",
                      (Mend(f"Start {longer} h before", SetOperation(system.id, "lead_h", longer)),
                       Mend("Hold 16 °C at night", SetOperation(system.id, "night_heating_c", Pinned(value=16.0)))))


def _odd_layers(project: Project) -> Iterator[Finding]:
    """Figures of build-ups that look like another unit, as files bring them."""
    for b in project.build_ups:
        for i, layer in enumerate(b.layers):
            name = layer.name or layer.material or "air gap"
            known = find(project.book.materials, layer.material) or materials().get(layer.material)
            density = layer.density_kg_m3 or (known.density_kg_m3 if known else 0.0)
            if layer.conductivity_w_mk > 5 and density < 2000:
                yield Finding("layer-conductivity", "Building", "build-up", b.id, f"{b.name}: {name} conducts like metal",
                              f"{layer.conductivity_w_mk:g} W/mK at {density:g} kg/m³; mW/mK were likely meant.", "watch",
                              (Mend(f"Take {layer.conductivity_w_mk / 1000:g} W/mK",
                                    SetLayer(b.id, i, "conductivity_w_mk", layer.conductivity_w_mk / 1000)),))
            if layer.thickness_m > THICKEST_M:
                yield Finding("layer-thickness", "Building", "build-up", b.id, f"{b.name}: {name} is {layer.thickness_m:g} m thick",
                              "A figure in another unit was likely meant.", "watch",
                              (Mend(f"Take {layer.thickness_m * 100:.0f} mm", SetLayer(b.id, i, "thickness_m", layer.thickness_m / 10)),))


def _pinned_flows(project: Project, air: AirResult) -> Iterator[Finding]:
    for row in air.rooms:
        if row.origin == "pinned" and row.flow_m3s < row.exact_m3s * 0.98:
            room = find(project.rooms, row.room_id)
            yield Finding("flow-short", "Air", "room", row.room_id, f"{room.number}: pinned flow is short",
                          f"{row.flow_m3s * 1000:.0f} L/s are pinned, {row.exact_m3s * 1000:.0f} L/s are needed.",
                          "bad", (Mend("Let the rule decide", SetRoomValue((row.room_id,), "supply_m3s", Rule())),
                                  Mend(f"Pin {row.exact_m3s * 1000:.0f} L/s", SetRoomValue(
                                      (row.room_id,), "supply_m3s", Pinned(value=round(row.exact_m3s, 4))))))


def _ducts(project: Project, ducts: DuctResult, air: AirResult) -> Iterator[Finding]:
    for terminal_id in ducts.unreached:
        t = find(project.terminals, terminal_id)
        room = find(project.rooms, t.room_id)
        if room is not None and room.system_id == ducts.system_id:
            yield Finding("not-joined", "Ducts", "terminal", terminal_id, f"Terminal {t.label} is not joined",
                          "No duct leads from the unit to it. Draw from it to a duct.", "bad")
    for room_id in ducts.unroomed:
        room = find(project.rooms, room_id)
        yield Finding("no-terminal", "Ducts", "room", room_id, f"{room.number} {room.name} has no terminal",
                      "Its supply air has no way in. Draw a run that ends in the room.", "bad")
    for segment_id in ducts.looped:
        yield Finding("ring", "Ducts", "segment", segment_id, f"Duct {segment_id} closes a ring",
                      "Supply ducts are sized as a tree; this piece is left out. Remove it.", "bad")
    for result in ducts.segments.values():
        yield from _segment(result, air)
    for t in ducts.terminals:
        terminal = find(project.terminals, t.terminal_id)
        if t.point.pressure_pa > MOST_TERMINAL_PA:
            mends = (Mend("Let the rule choose", SetTerminal(t.terminal_id, model="")),) if terminal.model else ()
            yield Finding("terminal-loss", "Ducts", "terminal", t.terminal_id,
                          f"Terminal {t.label} takes {t.point.pressure_pa:.0f} Pa",
                          f"{t.flow_m3s * 1000:.0f} L/s are much for {t.point.model}: above {MOST_TERMINAL_PA:.0f} Pa.",
                          "watch", mends)
        if t.damper.angle_deg is None or t.damper.angle_deg > MOST_DAMPER_DEG or t.surplus_pa > MOST_DAMPER_PA:
            yield _damper(t, ducts.segments[t.segment_id])


def _rungs_below(result: SegmentResult, shape: str) -> list:
    """Smaller sections of the same shape, greatest first."""
    series = round_series(63) if shape == "round" else rectangular_series()
    return sorted(
        (s for s in series.sections if s.area_m2 < result.section.area_m2 * 0.99 and s.aspect <= 4), key=lambda s: -s.area_m2
    )


def _damper(t, segment: SegmentResult) -> Finding:
    smaller = next(iter(_rungs_below(segment, segment.section.shape)), None)
    fast = smaller is not None and segment.flow_m3s / smaller.area_m2 <= segment.velocity_limit * 1.25
    mends = (Mend(f"Duct {smaller.label}", SetSize((segment.segment_id,), PinnedSize(
        shape=smaller.shape, width_m=smaller.width_m, height_m=smaller.height_m))),) if fast else ()
    if t.damper.angle_deg is None:
        return Finding("damper", "Balance", "terminal", t.terminal_id, f"{t.label} cannot be balanced here",
                       f"At {segment.velocity_m_s:.1f} m/s in {segment.section.label} no blade takes "
                       f"{t.surplus_pa:.0f} Pa.", "watch", mends)
    return Finding("damper", "Balance", "terminal", t.terminal_id, f"Damper of {t.label} takes {t.surplus_pa:.0f} Pa",
                   f"Its blade stands at {t.damper.angle_deg:.0f}°; above {MOST_DAMPER_PA:.0f} Pa or "
                   f"{MOST_DAMPER_DEG:.0f}° it is heard and hard to set.", "watch", mends)


def _segment(result: SegmentResult, air: AirResult) -> Iterator[Finding]:
    if result.flow_m3s <= 0:
        return
    height = result.section.height_m
    free = min(result.clear_height_m, result.obstacle_height_m)
    let_rule = Mend("Let the rule decide", SetSize((result.segment_id,), Rule()))
    if height > free + 1e-9:
        mends = [Mend(f"Take {s.label}", SetSize((result.segment_id,), PinnedSize(
            shape=s.shape, width_m=s.width_m, height_m=s.height_m))) for s in _that_fit(result, free, air)]
        by_obstacle = result.obstacle_height_m < result.clear_height_m
        name = result.obstacle if by_obstacle else "the ceiling"
        touch = f"Touches {name} by" if by_obstacle else "Deeper than the ceiling by"
        yield Finding("height", "Ducts", "segment", result.segment_id, f"{touch} {(height - free) * 1000:.0f} mm",
                      f"{result.section.label} needs {height * 1000:.0f} mm, {free * 1000:.0f} mm are free.", "bad",
                      tuple(mends) or ((let_rule,) if result.pinned else ()))
    limits = result.ladder
    if result.pinned and result.velocity_m_s > result.velocity_limit * 1.001:
        yield Finding("velocity", "Ducts", "segment", result.segment_id,
                      f"{result.section.label} runs at {result.velocity_m_s:.1f} m/s",
                      f"{result.velocity_limit:.1f} m/s is the limit here; {limits.section.label} keeps it.", "watch",
                      (let_rule,))
    elif not result.pinned and limits.relaxed:
        yield Finding("limits", "Ducts", "segment", result.segment_id, f"No size keeps {' and '.join(limits.relaxed)}",
                      f"{result.section.label} comes nearest: {result.friction_pa_m:.2f} Pa/m, "
                      f"{result.velocity_m_s:.1f} m/s.", "watch")


def _that_fit(result: SegmentResult, free_m: float, air: AirResult) -> list[Section]:
    """The lightest size within the free height that keeps every other limit, in the duct's shape or else flat."""
    limits = Limits(air.figures.friction_pa_m.figure, result.velocity_limit, free_m)
    for series in (result.ladder.series, rectangular_series()):
        ladder = size_ladder(series, result.flow_m3s, limits, air.density_kg_m3, air.viscosity_pa_s)
        if not set(ladder.relaxed) - {"aspect"}:
            return [ladder.section]
    return []


def _fan(system, fan: FanResult) -> Iterator[Finding]:
    by_rule = Mend("Let the rule choose", ChooseFan(system.id, ""))
    if isinstance(fan.chosen, Missing):
        yield Finding("no-fan", "Fan", "system", system.id, "No fan for this duty" if fan.chosen.reason == "no fan"
                      else "The fan is off its curve", fan.chosen.remedy + ".", "bad",
                      (by_rule,) if system.fan_id or not isinstance(system.fan_rpm, Rule) else ())
        return
    if fan.chosen.speed_rpm > fan.chosen.max_rpm:
        yield Finding("fan-speed", "Fan", "system", system.id, "The fan turns too fast",
                      f"{fan.chosen.speed_rpm:.0f} rpm; {fan.chosen.max_rpm:.0f} rpm is its limit.", "bad",
                      (Mend("Speed by rule", SetSystemValue(system.id, "fan_rpm", Rule())), by_rule))
    if fan.point.from_stall < LEAST_FROM_STALL:
        yield Finding("stall", "Fan", "system", system.id, f"Only {fan.point.from_stall:.0%} from stall",
                      f"{LEAST_FROM_STALL:.0%} of the flow is wanted as distance.", "bad", (by_rule,))
    short = fan.point.flow_m3s / fan.wanted_m3s - 1
    if abs(short) > 0.05:
        yield Finding("fan-flow", "Fan", "system", system.id,
                      f"The fan gives {fan.point.flow_m3s:.2f} m³/s",
                      f"{fan.wanted_m3s:.2f} m³/s are wanted: every room gets {short:+.0%}.".replace("-", "−"), "watch",
                      (Mend("Speed by rule", SetSystemValue(system.id, "fan_rpm", Rule())),))


