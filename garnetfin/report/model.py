"""Results as plain parts for files of models: spaces with loads, ducts in the direction of the air, terminals, fans."""

from collections.abc import Mapping

from garnetfin.core.errors import InputError
from garnetfin.core.tables import materials, room_uses
from garnetfin.engine.results import DuctResult, FanResult, InlineRecord, Missing, Results
from garnetfin.engine.stages.faces import core_layers, u_outdoors
from garnetfin.exchange.gbxml_write import RoomLoads
from garnetfin.exchange.ifc_parts import Duct, InDuct, Made, Model, Outlet, SheetLayer, Space, System, UnitPart
from garnetfin.project.ducts import is_flexible
from garnetfin.project.fabric import BuildUp
from garnetfin.project.lookup import find
from garnetfin.project.parts import KINDS, Part
from garnetfin.project.systems import AirSystem

GAP_M = 0.02  # thickness with which an air gap is written


def model(results: Results) -> Model:
    """What an IFC file says beside the building itself."""
    project = results.project
    spaces = {}
    for room in project.rooms:
        found, air = results.room(room.id), results.room_air.get(room.id)
        if found is not None:
            f = found.figures
            spaces[room.id] = Space(
                f.area_m2.figure,
                found.volume_m3,
                found.peak_w if found.kept else None,
                found.heating_w if found.kept else None,
                air.flow_m3s if air is not None else None,
                f.cooling_c.figure,
                f.heating_c.figure,
                f.people.figure,
                f.lights_w_m2.figure,
                f.equipment_w_m2.figure,
                room_uses()[room.use_id].name,
                bool(room.system_id),
            )
    systems, parts = [], {}
    for system in project.air_systems:
        systems += [_system(results, system, n) for n in results.networks(system.id) if system.root_of(n.air)]
        parts[system.id] = tuple(_part(results, system, part) for part in system.parts)
    return Model(spaces, tuple(systems), parts, {b.id: _made(results, b) for b in project.build_ups})


def _part(results: Results, system: AirSystem, part: Part) -> UnitPart:
    """A part of the unit with the pressure it takes, a fan with its duty where one is chosen."""
    name = part.name or KINDS[part.kind].name
    supply = results.fans.get(system.id)
    lost = dict(supply.part_pa) if isinstance(supply, FanResult) else {}
    figures = (("PressureLoss", float(lost[name])),) if name in lost else ()
    way = part.kind.removesuffix("_fan") if part.kind.endswith("_fan") else ""
    found = supply if way == "supply" else results.other_fans.get((system.id, way)) if way else None
    if not isinstance(found, FanResult) or found.point is None or isinstance(found.chosen, Missing):
        return UnitPart(part.id, part.kind, name, figures)
    duty: tuple[tuple[str, float | str], ...] = (
        ("Flow", float(found.point.flow_m3s)),
        ("TotalPressure", float(found.point.pressure_pa)),
        ("ElectricPower", float(found.point.electric_w)),
        ("Speed", float(found.chosen.speed_rpm)),
        ("Model", str(found.chosen.fan_id)),
    )
    return UnitPart(part.id, part.kind, name, figures, duty, str(found.chosen.fan_id))


def _made(results: Results, build_up: BuildUp) -> Made:
    """A build-up with the figures of its layers; without them where a material is not there."""
    try:
        layers = core_layers(build_up, results.project.book)
    except InputError:
        return Made(build_up.name, (), None)
    names = [
        p.name or (materials()[p.material].name if p.material in materials() else p.material) for p in build_up.layers
    ]
    sheets = []
    for name, layer in zip(names, layers):
        if layer.resistance_m2k_w and not layer.thickness_m:
            sheets.append(SheetLayer(name or "air gap", GAP_M, GAP_M / layer.resistance_m2k_w, 1.2, 1005.0))
        else:
            sheets.append(
                SheetLayer(
                    name, layer.thickness_m, layer.conductivity_w_mk, layer.density_kg_m3, layer.specific_heat_j_kgk
                )
            )
    return Made(build_up.name, tuple(sheets), u_outdoors("wall", layers))


def _in_duct(p: InlineRecord, whole_m: float, away: bool) -> InDuct:
    """A part with its place from where the air enters its duct."""
    m = p.model
    return InDuct(
        p.part_id,
        p.tag,
        p.kind,
        m.model if m is not None else "",
        p.near_m if away else whole_m - p.near_m,
        p.length_m,
        p.section,
        p.mass_kg,
        p.resists_min,
        p.shuts_for_smoke,
        (("Flow", p.flow_m3s), ("Velocity", p.velocity_m_s), ("PressureLoss", p.pressure_pa)),
    )


def _system(results: Results, system, network: DuctResult) -> System:
    project, ducts = results.project, []
    # the tree is walked from the unit; the air of the others runs towards it
    away = network.air in ("supply", "outdoor")
    known = _ends(network, project)
    for segment_id, s in network.segments.items():
        near, far = known[segment_id]
        start, end = (near, far) if away else (far, near)
        damper = s.damper is not None and s.damper.added_k > 1e-9
        kind = "" if not damper else "orifice" if s.damper.free is not None else "blade"
        figures = (
            ("Flow", s.flow_m3s),
            ("Velocity", s.velocity_m_s),
            ("Friction", s.friction_pa_m),
            ("PressureLoss", s.loss_pa),
            ("StaticPressure", s.static_pa),
            ("Tightness", s.tightness),
            ("Lining", s.make.lining_m),
            ("Insulation", s.make.insulation_m),
        )
        ducts.append(
            Duct(
                segment_id,
                start,
                end,
                s.section,
                s.thickness_m,
                s.make.material,
                is_flexible(s.make.material),
                s.mass_kg,
                figures,
                kind,
                tuple(_in_duct(p, s.length_m, away) for p in s.inline),
            )
        )
    outlets = tuple(
        Outlet(
            t.terminal_id,
            t.label,
            t.point.model,
            find(project.terminals, t.terminal_id).point_id,
            t.room_id,
            (("Flow", t.flow_m3s), ("Pressure", t.point.pressure_pa), ("Excess pressure", t.surplus_pa)),
        )
        for t in network.terminals
    )
    return System(system.id, system.name, network.air, system.roots_of(network.air), tuple(ducts), outlets)


def _ends(network: DuctResult, project) -> dict[str, tuple[str, str]]:
    """(point nearer to the unit, point farther from it) of every segment, by walking the drawn points from the root."""
    segments = {i: find(project.segments, i) for i in network.segments}
    at: dict[str, list[str]] = {}
    for i, s in segments.items():
        at.setdefault(s.a, []).append(i)
        at.setdefault(s.b, []).append(i)
    system = find(project.air_systems, network.system_id)
    found, waiting = {}, [*system.roots_of(network.air)]
    while waiting:
        point = waiting.pop()
        for i in at.get(point, ()):
            if i not in found:
                s = segments[i]
                found[i] = (point, s.b if s.a == point else s.a)
                waiting.append(found[i][1])
    return {i: found.get(i, (s.a, s.b)) for i, s in segments.items()}


def room_loads(results: Results) -> Mapping[str, RoomLoads]:
    """Loads of every room with plant, for gbXML."""
    found = {}
    for room in results.project.rooms:
        r, air = results.room(room.id), results.room_air.get(room.id)
        if r is not None and r.kept:
            month, _ = r.peak
            found[room.id] = RoomLoads(
                month,
                tuple(float(v) for v in r.sensible_w[month]),
                r.heating_w,
                air.flow_m3s if air is not None else None,
            )
    return found
