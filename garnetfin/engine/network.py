"""A system as one network: arcs of unit parts, ducts, junctions, terminals, doors, leaks and fans between nodes, made
from results.
"""

from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts import network as nw
from garnetfin.core.ducts.balance import component_loss
from garnetfin.core.ducts.fittings.dampers import SHUT_K
from garnetfin.core.ducts.friction import ROUGHNESS_M
from garnetfin.core.fans.curve import Curve
from garnetfin.core.fans.ranking import rank
from garnetfin.core.tables import TerminalModel
from garnetfin.core.terminals import pressure
from garnetfin.engine.flow_results import WhatIf
from garnetfin.engine.resolve import assumption, part_figure
from garnetfin.engine.results import AirResult, DuctResult, FanResult, Missing, RoomResult, TerminalResult
from garnetfin.engine.stages.fan import DUCT_EXPONENT, at_rated, fan_table, leaving_parts, lifted_parts
from garnetfin.engine.stages.terminals import models
from garnetfin.project.lookup import find
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project

OPEN_DOOR_M2, OPEN_DOOR_K = 1.6, 1.5
DOOR_GAP_M2, DOOR_GAP_K = 0.008, 2.37  # 0.8 m wide, 10 mm high; discharge 0.65
LEAK_PA, LEAK_EXPONENT = 4.0, 1 / 0.65  # infiltration of a room stands at this pressure
LEAK_CLASS = {"A": 27e-6, "B": 9e-6, "C": 3e-6, "D": 1e-6}  # m3/(s m2 Pa^0.65), EN 12237, EN 1507
PRESSED = 30.0  # flexible ducts pressed together [%]
CATALOGUE_EXPONENT = (1.0, 2.2)


@dataclass(frozen=True, slots=True)
class Steady:
    """Stands for a fan that is not chosen yet: falls gently through the duty that is wanted."""

    flow_m3s: float
    pressure_pa: float
    stall_m3s: float = 0.0
    speed: float = 1.0

    @property
    def greatest_m3s(self) -> float:
        return 2.5 * self.flow_m3s * self.speed

    def pressure(self, q) -> NDArray[np.float64]:
        return (
            self.pressure_pa * self.speed**2 * (1.2 - 0.2 * (np.asarray(q, float) / (self.flow_m3s * self.speed)) ** 2)
        )


@dataclass(frozen=True, slots=True, eq=False)
class Case:
    """What a network is built from: one system of one set of results."""

    project: Project
    system: AirSystem
    air: AirResult
    ducts: DuctResult
    fan: FanResult | None
    leaving: dict[str, DuctResult]  # return, extract, outdoor, those that are drawn
    rooms: dict[str, RoomResult]


def case_of(project: Project, system: AirSystem, air, ducts, fan, leaving: dict, rooms: dict) -> Case | Missing:
    for before in (air, ducts):
        if isinstance(before, Missing):
            return before
    if ducts.flow_m3s <= 0:
        return Missing("no flow", "Give a room a load or outdoor air")
    return Case(
        project,
        system,
        air,
        ducts,
        fan if isinstance(fan, FanResult) else None,
        {w: d for w, d in leaving.items() if isinstance(d, DuctResult) and d.flow_m3s > 0},
        {i: r for i, r in rooms.items() if isinstance(r, RoomResult)},
    )


def case_in(results, system_id: str) -> Case | Missing:
    """The case of a system in results."""
    system = find(results.project.air_systems, system_id)
    if system is None:
        return Missing("no system", "Add an air system")
    return case_of(
        results.project,
        system,
        results.air[system_id],
        results.ducts[system_id],
        results.fans[system_id],
        {way: results.network(system_id, way) for way in ("return", "extract", "outdoor")},
        results.rooms,
    )


@dataclass(slots=True, eq=False)
class _Arcs:
    """Arcs in the making; names say what each is, for the one that fits worst."""

    rows: list[dict] = field(default_factory=list)
    names: list[str] = field(default_factory=list)
    start: list[float] = field(default_factory=list)
    nodes: int = 1

    def node(self) -> int:
        self.nodes += 1
        return self.nodes - 1

    def add(self, name: str, a: int, b: int, flow: float, **row) -> int:
        self.rows.append({"start": a, "end": b, **row})
        self.names.append(name)
        self.start.append(flow)
        return len(self.rows) - 1


@dataclass(frozen=True, slots=True, eq=False)
class Built:
    """A network with what its arcs stand for."""

    net: nw.Network
    start_m3s: NDArray
    names: tuple[str, ...]
    terminal: dict[str, int]  # terminal -> arc
    segment: dict[str, int]
    end_node: dict[str, int]  # segment -> node at its end as the fan pushes it
    room_node: dict[str, int]
    fan_arcs: dict[str, int]  # supply, return, extract
    wanted: dict[str, float]  # terminals held by boxes -> flow
    box_pa: dict[str, float]  # loss of a box's terminal at that flow
    into: dict[str, tuple[int, int]]  # of boxes: node of the duct, node of the room
    root: int  # node where supply ducts begin
    unit: tuple[int, ...]  # arcs of the unit's parts


KIND_OF_LEG = {
    "tee-div-90": (nw.SQUARE, 1.0),
    "cross-div-90": (nw.SQUARE, 1.0),
    "takeoff-straight": (nw.SQUARE, 1.0),
    "tee-div-90-full": (nw.SQUARE, 0.3),
    "tee-div-bullhead": (nw.SQUARE, 0.3),
    "takeoff-conical": (nw.CONICAL, 0.0),
    "takeoff-shoe-45": (nw.SHOE, 0.0),
    "tee-conv-90": (nw.CONV_BRANCH, 0.0),
    "tee-conv-bullhead": (nw.CONV_BULLHEAD, 0.0),
}


def build(
    at: Case,
    what: WhatIf = WhatIf(),
    sections: dict | None = None,
    added_k: dict[str, float] | None = None,
    box_open: frozenset[str] = frozenset(),
) -> Built:
    """The network of a case. sections: other sizes by duct id; added_k: of dampers by duct id instead of what is set;
    box_open: boxes that control no more.
    """
    arcs, density, viscosity = _Arcs(), at.air.density_kg_m3, at.air.viscosity_pa_s
    if what.air_c is not None:
        density *= 293.15 / (273.15 + what.air_c)
    fans: dict[int, object] = {}
    fan_arcs, terminal, segment, end_node = {}, {}, {}, {}
    flow = at.ducts.flow_m3s
    # -- the unit: outside, fan, parts, ducts
    node = arcs.node()
    fan_arcs["supply"] = arcs.add("the supply fan", 0, node, flow)
    fans[fan_arcs["supply"]] = supply_curve(at, what, density)
    thin = density / at.air.density_kg_m3
    unit = []
    for name, pa, grows in unit_parts(at, what):
        after = arcs.node()
        unit.append(len(arcs.rows))
        arcs.add(
            name, node, after, flow, power_pa=pa * thin ** (grows - 1), power_m3s=at.system.rated_m3s, exponent=grows
        )
        node = after
    if at.fan is not None and at.fan.allowance_pa > 0:
        after = arcs.node()
        arcs.add(
            "the margin on pressure",
            node,
            after,
            flow,
            power_pa=at.fan.allowance_pa,
            power_m3s=flow,
            exponent=min(max(at.fan.exponent, 1.0), 2.2),
        )
        node = after
    rooms = {
        t.room_id
        for n in (at.ducts, *(at.leaving[w] for w in ("return", "extract") if w in at.leaving))
        for t in n.terminals
    }
    room_node = {i: arcs.node() for i in sorted(rooms)}
    tees = _TeeRows()
    boxed = box_flows(at, what)
    boxed = {i: q for i, q in boxed.items() if i not in box_open}
    into = _tree(
        at, what, at.ducts, arcs, node, room_node, terminal, segment, end_node, tees, sections or {}, added_k, boxed
    )
    # -- what leaves through ducts of its own
    drawn: dict[str, set[str]] = {"return": set(), "extract": set()}
    for way in ("return", "extract"):
        if way not in at.leaving:
            continue
        net = at.leaving[way]
        end = arcs.node()
        _tree(at, what, net, arcs, end, room_node, terminal, segment, end_node, tees, sections or {}, added_k, {})
        drawn[way] = {t.room_id for t in net.terminals}
        fan_arcs[way], _behind = _leaving_fan(at, way, net, arcs, end, fans, density)
    demand = np.zeros(arcs.nodes)
    _rooms(at, what, arcs, room_node, drawn, demand)
    for i, q in boxed.items():
        if i in into:
            demand[into[i][0]] += q
            demand[into[i][1]] -= q
    net = nw.arcs(
        arcs.rows,
        nodes=arcs.nodes,
        fixed={0: 0.0},
        density=density,
        viscosity=viscosity,
        fans=fans,
        tees=tees.made(),
        demand_m3s=demand,
    )
    loss = {
        t.terminal_id: t.point.pressure_pa * (boxed[t.terminal_id] / max(t.flow_m3s, 1e-9)) ** 2
        for t in at.ducts.terminals
        if t.terminal_id in into
    }
    return Built(
        net,
        np.array(arcs.start),
        tuple(arcs.names),
        terminal,
        segment,
        end_node,
        room_node,
        fan_arcs,
        {i: boxed[i] for i in into},
        loss,
        into,
        node,
        tuple(unit),
    )


def unit_parts(at: Case, what: WhatIf = WhatIf()) -> list[tuple[str, float, float]]:
    """(name, Pa at the rated flow, exponent) of what the supply fan lifts in the unit, with the filter as loaded as
    `what` says.
    """
    drops = []
    for part in lifted_parts(at.system):
        pa = at_rated(at.system, part, at.ducts.flow_m3s)
        if part.kind == "filter" and what.filter:
            pa *= part_figure(part, what.filter).figure
        drops.append((part.title, pa, part.grows))
    if "outdoor" in at.leaving:
        drops.append(
            (
                "Outdoor-air ducts",
                at.leaving["outdoor"].runs.fan_pa * (at.system.rated_m3s / at.ducts.flow_m3s) ** DUCT_EXPONENT,
                DUCT_EXPONENT,
            )
        )
    if at.fan is not None and at.fan.effect_pa > 0:
        drops.append(
            ("System effect at the fan", at.fan.effect_pa * (at.system.rated_m3s / at.ducts.flow_m3s) ** 2, 2.0)
        )
    return drops


def supply_curve(at: Case, what: WhatIf, density: float):
    """The chosen fan as it turns, or what stands for it."""
    if at.fan is None or at.fan.curve is None:
        wanted = (
            at.fan.wanted_pa
            if at.fan is not None
            else at.ducts.runs.fan_pa
            + sum(component_loss(at.ducts.flow_m3s, at.system.rated_m3s, pa, n) for _, pa, n in unit_parts(at))
        )
        return Steady(at.ducts.flow_m3s, wanted, speed=what.speed)
    return at.fan.curve.at(at.fan.curve.speed_rpm * what.speed, density)


def _leaving_fan(
    at: Case, way: str, net: DuctResult, arcs: _Arcs, end: int, fans: dict, density: float
) -> tuple[int, float]:
    """The fan that draws air out, by rule the best of the catalogue for what its ducts and parts lose."""
    flow, node, lifted = net.flow_m3s, end, net.runs.fan_pa
    if way == "return":
        for part, pa in leaving_parts(at.system):
            after = arcs.node()
            arcs.add(
                f"{part.title}, air that leaves", node, after, flow, power_pa=pa, power_m3s=flow, exponent=part.grows
            )
            node, lifted = after, lifted + pa
    best = leaving_fan(at, flow, lifted)
    arc = arcs.add(f"the {way} fan", node, 0, flow)
    fans[arc] = Curve(best[0], best[1], density) if best is not None else Steady(flow, lifted)
    return arc, lifted


def leaving_fan(at: Case, flow_m3s: float, pressure_pa: float):
    """(model, rpm, duty) of the best fan for air that leaves, None where none can do it."""
    known = fan_table(at.project.book)
    first = next(
        iter(rank(known.values(), flow_m3s, pressure_pa, at.air.density_kg_m3, at.air.figures.motor_efficiency.figure)),
        None,
    )
    return None if first is None or first.point is None else (known[first.fan_id], first.speed_rpm, first.point)


def box_flows(at: Case, what: WhatIf) -> dict[str, float]:
    """Flow that each variable-volume box holds; none in a system of constant flow."""
    if at.system.flow != "load":
        return {}
    row = {r.room_id: i for i, r in enumerate(at.air.rooms)}
    held = {}
    for t in at.ducts.terminals:
        i = row.get(t.room_id)
        if i is None or at.air.rooms[i].flow_m3s <= 0:
            continue
        share = t.flow_m3s / at.air.rooms[i].flow_m3s
        whole = (
            at.air.rooms[i].least_m3s
            if what.turned_down
            else float(at.air.flow_hours[i, at.air.block_hour])
            if at.air.block_at
            else at.air.rooms[i].flow_m3s
        )
        held[t.terminal_id] = max(share * whole, 1e-6)
    return held


@dataclass(slots=True)
class _TeeRows:
    rows: list[tuple[int, int, int, float, float]] = field(default_factory=list)

    def take(self, legs: list[tuple]) -> None:
        """Legs with their law and their share, area ratio and coefficient at design.

        Where the law does not give that coefficient it stands fixed.
        """
        if not legs:
            return
        leg, whole, kind, figure, ratio, share, designed, k = (np.array(x) for x in zip(*legs))
        given = nw.Tees(leg, whole, kind, designed, figure).coefficient(share)
        off = np.abs(given - k) > 1e-6 * np.maximum(1.0, np.abs(k))
        self.rows += zip(leg, whole, np.where(off, nw.FIXED, kind), ratio, np.where(off, k, figure))

    def made(self) -> nw.Tees | None:
        if not self.rows:
            return None
        leg, whole, kind, ratio, figure = zip(*self.rows)
        return nw.Tees(np.array(leg), np.array(whole), np.array(kind), np.array(ratio), np.array(figure))


def _tree(
    at: Case,
    what: WhatIf,
    net: DuctResult,
    arcs: _Arcs,
    root: int,
    room_node: dict,
    terminal: dict,
    segment: dict,
    end_node: dict,
    tees: _TeeRows,
    sections: dict,
    added_k: dict | None,
    boxed: dict[str, float],
) -> dict[str, tuple[int, int]]:
    """Ducts and terminals of one air, from the unit outward; returns nodes of boxes that are left out."""
    supply, tree, ids = net.air == "supply", net.tree, net.segment_ids
    project_segments = {i: find(at.project.segments, i) for i in ids}
    legs = []
    for s in tree.order:
        r, parent = net.segments[ids[s]], int(tree.parent[s])
        before = end_node[ids[parent]] if parent >= 0 else root
        after = end_node[ids[s]] = arcs.node()
        section = sections.get(ids[s], r.section)
        pv = at.air.density_kg_m3 * r.velocity_m_s**2 / 2
        own = (
            sum(f.pressure_pa for f in r.fittings if f.reference != "common") / pv
            if pv > 1e-9
            else sum(f.k for f in r.fittings if f.reference == "duct")
        )
        own += _damper_k(at, r, what, added_k)
        if ids[s] in what.shut:
            own += SHUT_K
        row = {
            "length_m": r.length_m,
            "area_m2": section.area_m2,
            "hydraulic_m": section.hydraulic_m,
            "roughness_m": r.make.roughness_m,
            "compression": r.make.compression,
            "k": own,
        }
        if what.leaking and r.flow_m3s > 0:
            # One pascal through what its class lets out; the total pressure at its end stands for the static one along
            # it.
            arcs.add(
                f"leaks of {ids[s]}",
                *((after, 0) if supply else (0, after)),
                0.0,
                power_pa=1.0,
                power_m3s=LEAK_CLASS[r.tightness] * section.perimeter_m * r.length_m,
                exponent=LEAK_EXPONENT,
            )
        soft = project_segments[ids[s]].flexible_m
        middle = arcs.node() if soft > 0 else after
        segment[ids[s]] = arcs.add(
            f"duct {ids[s]}", *((before, middle) if supply else (middle, before)), r.flow_m3s, **row
        )
        if soft > 0:
            pressed = PRESSED if what.pressed else assumption(at.project.book, "flexible_share").figure * 100
            arcs.add(
                f"flexible duct {ids[s]}",
                *((middle, after) if supply else (after, middle)),
                r.flow_m3s,
                length_m=soft,
                area_m2=section.area_m2,
                hydraulic_m=section.hydraulic_m,
                roughness_m=ROUGHNESS_M["flexible"],
                compression=pressed,
            )
        for f in r.fittings:
            if f.reference == "common" and parent >= 0:
                legs.append((ids[s], ids[parent], f))
    made = []
    for leg, whole, f in legs:
        a, b = net.segments[leg], net.segments[whole]
        share, designed = a.flow_m3s / max(b.flow_m3s, 1e-12), a.section.area_m2 / b.section.area_m2
        made.append(
            (
                segment[leg],
                segment[whole],
                *_law(f, share, designed),
                sections.get(leg, a.section).area_m2 / sections.get(whole, b.section).area_m2,
                share,
                designed,
                f.k,
            )
        )
    tees.take(made)
    _rings(at, what, net, arcs, root, segment, end_node, sections)
    into = {}
    for t in net.terminals:
        duct, room = end_node[t.segment_id], room_node[t.room_id]
        if t.terminal_id in boxed:
            into[t.terminal_id] = (duct, room)
            continue
        pa = t.point.pressure_pa
        throttled = t.neck and not what.dampers_open and t.damper.angle_deg is not None
        terminal[t.terminal_id] = arcs.add(
            f"terminal {t.label}",
            *((duct, room) if supply else (room, duct)),
            t.flow_m3s,
            power_pa=pa * (thinner(at, what) if pa else 1.0),
            power_m3s=max(t.flow_m3s, 1e-6),
            exponent=_exponent(at, t),
            area_m2=np.pi * t.point.neck_m**2 / 4 if throttled else 1.0,
            k=t.damper.added_k if throttled else 0.0 if pa > 0 else 1.0,
        )
    return into


def _rings(
    at: Case, what: WhatIf, net: DuctResult, arcs: _Arcs, root: int, segment: dict, end_node: dict, sections: dict
) -> None:
    """Ducts that close a ring: left out of the tree that sizes, they carry what pressures make them carry.

    Their flow counts from a to b as drawn.
    """
    tree, ids = net.tree, net.segment_ids
    at_point = {int(tree.leaving[s]): end_node[ids[s]] for s in tree.order}
    at_point |= {int(tree.entering[s]): root for s in tree.order if tree.parent[s] < 0}
    for i in net.looped:
        k = ids.index(i)
        a, b = (at_point.get(int(p)) for p in net.ends[k])
        if a is None or b is None or a == b:
            continue
        r = net.segments[i]
        section = sections.get(i, r.section)
        segment[i] = arcs.add(
            f"duct {i}",
            a,
            b,
            0.0,
            length_m=max(r.length_m, 0.1),
            area_m2=section.area_m2,
            hydraulic_m=section.hydraulic_m,
            roughness_m=r.make.roughness_m,
            compression=r.make.compression,
            k=SHUT_K if i in what.shut else 0.0,
        )


def thinner(at: Case, what: WhatIf) -> float:
    return 1.0 if what.air_c is None else 293.15 / (273.15 + what.air_c)


def _damper_k(at: Case, r, what: WhatIf, added_k: dict[str, float] | None) -> float:
    """What a duct's damper adds to its open coefficient; a pinned blade stands among the fittings already."""
    if r.damper is None or (at.system.flow == "load" and not r.damper_pinned):
        return 0.0  # where boxes hold the flow they are the dampers
    # a shut blade stands among the fittings as if it were open
    shut = r.damper_pinned and r.damper.added_k >= SHUT_K
    if shut:
        return 0.0 if what.dampers_open else SHUT_K
    if r.damper.free is not None:
        return r.damper.added_k  # a plate cannot be opened
    if what.dampers_open:
        return -r.damper.added_k if r.damper_pinned else 0.0
    if added_k is not None and r.segment_id in added_k:
        return added_k[r.segment_id] - (r.damper.added_k if r.damper_pinned else 0.0)
    return 0.0 if r.damper_pinned else r.damper.added_k if r.damper.angle_deg is not None else 0.0


def _law(f, share: float, designed: float) -> tuple[int, float]:
    """(kind, figure) of the law that a leg of a junction follows, its figure so that the coefficient at design comes
    out.
    """
    s = share / designed
    if f.name == "wye-div" and s > 1e-6:
        blend = 1 - 0.1 * min(max((s - 0.75) / 0.10, 0), 1)
        return nw.WYE, float(np.degrees(np.arccos(np.clip((1 + s * s - f.k / blend) / (2 * s), -1, 1))))
    if f.name == "tee-straight":
        return nw.STRAIGHT, f.k / (s**2 * max(float(nw.grown(s)), 0.1)) if s > 1 else 0.05
    if f.name == "tee-conv-straight":
        return nw.CONV_STRAIGHT, (f.k - 1.55 * (1 - share) + (1 - share) ** 2) / max(s * s, 1e-9)
    if f.name == "wye-conv" and share > 1e-6:
        factor = 1.0 if designed <= 0.35 else max(0.55, 0.9 * (1 - share))
        return nw.CONV_WYE, float(
            np.degrees(
                np.arccos(
                    np.clip(
                        (factor * (1 + s * s - 2 * (1 - share) ** 2) - f.k) / (factor * 2 * share**2 / designed), -1, 1
                    )
                )
            )
        )
    return KIND_OF_LEG.get(f.name, (nw.FIXED, f.k))


def _exponent(at: Case, t: TerminalResult) -> float:
    """How a terminal's loss grows with flow around its design, from its catalogue points."""
    model = models(at.project.book).get(t.point.model)
    return 2.0 if model is None or t.flow_m3s <= 0 else _growth(model, t.flow_m3s)


@lru_cache(maxsize=16_384)
def _growth(model: TerminalModel, flow_m3s: float) -> float:
    low, high = pressure(model, flow_m3s * 0.9), pressure(model, flow_m3s * 1.1)
    return (
        float(np.clip(np.log(high / low) / np.log(1.1 / 0.9), *CATALOGUE_EXPONENT)) if low > 0 and high > low else 2.0
    )


def _rooms(
    at: Case, what: WhatIf, arcs: _Arcs, room_node: dict[str, int], drawn: dict[str, set[str]], demand: NDArray
) -> None:
    """Doors and leaks of rooms, and air that leaves them where no duct is drawn for it: taken as designed."""
    rows = {r.room_id: r for r in at.air.rooms}
    for room_id, node in room_node.items():
        row, known = rows.get(room_id), at.rooms.get(room_id)
        shut = room_id in what.doors
        arcs.add(
            f"the door of {_number(at, room_id)}",
            node,
            0,
            0.0,
            area_m2=DOOR_GAP_M2 if shut else OPEN_DOOR_M2,
            k=DOOR_GAP_K if shut else OPEN_DOOR_K,
        )
        leak = known.volume_m3 * known.figures.infiltration_1h.figure / 3600 if known is not None else 0.0
        if leak > 0:
            arcs.add(
                f"the leaks of {_number(at, room_id)}",
                node,
                0,
                0.0,
                power_pa=LEAK_PA,
                power_m3s=leak,
                exponent=LEAK_EXPONENT,
            )
        if row is not None:
            demand[node] += (0.0 if room_id in drawn["return"] else row.return_m3s) + (
                0.0 if room_id in drawn["extract"] else row.extract_m3s
            )


def _number(at: Case, room_id: str) -> str:
    room = find(at.project.rooms, room_id)
    return room.number if room is not None else room_id
