"""A system put together as one network: the unit, ducts and terminals of every air, rooms with doors and leaks."""

from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts import network as nw
from garnetfin.core.ducts.fittings.catalogue import leg_at
from garnetfin.core.ducts.fittings.dampers import SHUT_K
from garnetfin.core.ducts.fittings.laws.law import number
from garnetfin.core.ducts.friction import ROUGHNESS_M
from garnetfin.core.ducts.leakage import leak_coefficient
from garnetfin.core.ducts.sizes import Section
from garnetfin.core.tables import TerminalModel
from garnetfin.core.terminals import pressure
from garnetfin.engine.flows.flow_results import WhatIf
from garnetfin.engine.flows.network import (
    Case,
    box_flows,
    leaving_curve,
    supply_curve,
    thinner,
    unit_parts,
    with_filter,
)
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import BOX_LOSS, INLINE_LOSS, DuctResult, FittingLoss, SegmentResult, TerminalResult
from garnetfin.engine.stages.fan_duty import LEAST_M3S, Drop
from garnetfin.engine.stages.terminals import models
from garnetfin.project.lookup import find

OPEN_DOOR_M2, OPEN_DOOR_K = 1.6, 1.5
DOOR_GAP_M2, DOOR_GAP_K = 0.008, 2.37  # 0.8 m wide, 10 mm high; discharge 0.65
WORSE, LEAST_LEAK_PA = 3.0, 0.5  # times that ducts leak which are a class worse
LEAK_PA, LEAK_EXPONENT = 4.0, 1 / 0.65  # infiltration of a room stands at this pressure
PRESSED = 30.0  # flexible ducts pressed together [%]
CATALOGUE_EXPONENT = (1.0, 2.2)
OPEN = {"area_m2": 4.0, "k": 0.01}  # joins two nodes of the unit; some thousandths of a pascal


@dataclass(frozen=True, slots=True, eq=False)
class Built:
    """A network with what its arcs stand for."""

    net: nw.Network
    start_m3s: NDArray[Any]
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


def build(
    at: Case,
    what: WhatIf = WhatIf(),
    sections: dict[str, Any] | None = None,
    added_k: dict[str, float] | None = None,
    box_open: frozenset[str] = frozenset(),
) -> Built:
    """The network of a case. sections: other sizes by duct id; added_k: of dampers by duct id instead of what is set;
    box_open: boxes that control no more.
    """
    boxed = {i: q for i, q in box_flows(at, what).items() if i not in box_open}
    made = _Builder(at, what, sections or {}, added_k, boxed)
    made.unit()
    made.rooms_with_terminals()
    made.ducts(at.ducts, made.root, boxed)
    for way in ("return", "extract"):
        if way in at.leaving:
            end = made.arcs.node()
            made.ducts(at.leaving[way], end, {})
            if way == "return":
                made.back(end)
            else:
                made.out(end)
    made.doors_and_leaks()
    return made.built()


@dataclass(slots=True, eq=False)
class _Arcs:
    """Arcs in the making; names say what each is, for the one that fits worst."""

    rows: list[dict[str, float]] = field(default_factory=list)
    names: list[str] = field(default_factory=list)
    start: list[float] = field(default_factory=list)
    nodes: int = 1

    def node(self) -> int:
        self.nodes += 1
        return self.nodes - 1

    def add(self, name: str, a: int, b: int, flow: float, **row: float) -> int:
        self.rows.append({"start": a, "end": b, **row})
        self.names.append(name)
        self.start.append(flow)
        return len(self.rows) - 1


@dataclass(slots=True)
class _TeeRows:
    """Legs of junctions in the making."""

    rows: list[tuple[int, int, int, float, float]] = field(default_factory=list)

    def take(self, legs: list[tuple[Any, ...]]) -> None:
        """Legs with their law and their share, area ratio and coefficient at design.

        Where the law does not give that coefficient it stands fixed.
        """
        if not legs:
            return
        leg, whole, kind, figure, ratio, share, designed, k = (np.array(x) for x in zip(*legs))
        given = nw.Tees(leg, whole, kind, designed, figure).coefficient(share)
        off = np.abs(given - k) > 1e-6 * np.maximum(1.0, np.abs(k))
        self.rows += zip(leg, whole, np.where(off, number("fixed"), kind), ratio, np.where(off, k, figure))

    def made(self) -> nw.Tees | None:
        if not self.rows:
            return None
        leg, whole, kind, ratio, figure = zip(*self.rows)
        return nw.Tees(np.array(leg), np.array(whole), np.array(kind), np.array(ratio), np.array(figure))


class _Builder:
    """Puts a network together piece by piece, from the outside through the unit to the rooms."""

    def __init__(
        self,
        at: Case,
        what: WhatIf,
        sections: dict[str, Any],
        added_k: dict[str, float] | None,
        boxed: dict[str, float],
    ) -> None:
        self.at, self.what, self.sections, self.added_k, self.boxed = at, what, sections, added_k, boxed
        self.density = at.air.density_kg_m3
        if what.air_c is not None:
            self.density *= 293.15 / (273.15 + what.air_c)
        self.arcs, self.tees = _Arcs(), _TeeRows()
        self.fans: dict[int, Any] = {}
        self.fan_arcs: dict[str, int] = {}
        self.terminal: dict[str, int] = {}
        self.segment: dict[str, int] = {}
        self.end_node: dict[str, int] = {}
        self.room_node: dict[str, int] = {}
        self.into: dict[str, tuple[int, int]] = {}
        self.drawn: dict[str, set[str]] = {"return": set(), "extract": set()}
        self.unit_arcs: list[int] = []
        self.root = self.mixing = self.building = 0
        if abs(at.unit.booked.rooms) > 1e-9:
            self.building = self.arcs.node()

    # -- pieces ----------------------------------------------------------------------------------------------------
    def unit(self) -> None:
        """Outside, fan and parts, up to where supply ducts begin. Where return ducts are drawn to a unit that
        recirculates, air comes together in its mixing box, whose pressure follows.
        """
        at, arcs, unit = self.at, self.arcs, self.at.unit
        flow = unit.supply_m3s
        outside = [with_filter(at, d, self.what) for d in unit.outside]
        outside += [Drop("the outdoor damper", unit.booked.outdoor_damper, 2.0)]
        inside = unit_parts(at, self.what)[len(unit.outside) :]
        if at.fan is not None and at.fan.allowance_pa > 0:
            inside.append(Drop("the margin on pressure", at.fan.allowance_pa, min(max(at.fan.exponent, 1.0), 2.2)))
        meets = self._recirculates
        node = self._drops(outside, 0, unit.outdoor_m3s if meets else flow, self.unit_arcs)
        if meets:
            self.mixing = node = node or arcs.node()
        after = arcs.node()
        self.fan_arcs["supply"] = arcs.add("the supply fan", node, after, flow)
        self.fans[self.fan_arcs["supply"]] = supply_curve(at, self.what, self.density)
        self.root = self._drops(inside, after, flow, self.unit_arcs)

    @property
    def _recirculates(self) -> bool:
        return "return" in self.at.leaving and self.at.unit.recirculated_m3s > LEAST_M3S

    def _drops(self, drops: list[Drop], node: int, flow: float, kept: list[int] | None = None) -> int:
        """Pieces of the unit one behind the other from a node; the node behind them."""
        thin = self.density / self.at.air.density_kg_m3
        for d in drops:
            if d.pressure_pa <= 0:
                continue
            after = self.arcs.node()
            if kept is not None and d.name != "the margin on pressure":
                kept.append(len(self.arcs.rows))
            self.arcs.add(
                d.name,
                node,
                after,
                flow,
                power_pa=d.pressure_pa * thin ** (d.exponent - 1),
                power_m3s=flow,
                exponent=d.exponent,
            )
            node = after
        return node

    def rooms_with_terminals(self) -> None:
        """A node for each room that ducts reach."""
        nets = (self.at.ducts, *(self.at.leaving[w] for w in ("return", "extract") if w in self.at.leaving))
        self.room_node = {i: self.arcs.node() for i in sorted({t.room_id for n in nets for t in n.terminals})}

    def ducts(self, net: DuctResult, root: int, boxed: dict[str, float]) -> None:
        """Ducts and terminals of one air, from the unit outward; terminals that boxes hold are left out."""
        ids, legs = net.segment_ids, []
        for s in net.tree.order:
            parent = int(net.tree.parent[s])
            before = self.end_node[ids[parent]] if parent >= 0 else root
            self._duct(net, ids[s], before)
            if parent >= 0:
                r = net.segments[ids[s]]
                legs += [(ids[s], ids[parent], f) for f in r.fittings if f.reference == "common"]
        self._junctions(net, legs)
        self._rings(net, root)
        self._terminals(net, boxed)
        if net.air in self.drawn:
            self.drawn[net.air] = {t.room_id for t in net.terminals}

    def _duct(self, net: DuctResult, segment_id: str, before: int) -> None:
        """One duct, the flexible piece at its end, and what leaks out of it."""
        at, what, arcs, supply = self.at, self.what, self.arcs, net.air == "supply"
        r = net.segments[segment_id]
        after = self.end_node[segment_id] = arcs.node()
        section = self.sections.get(segment_id, r.section)
        self._leaks(net, r, before, after, section)
        soft = find(at.project.segments, segment_id).flexible_m
        inline = [f for f in r.fittings if f.reference == INLINE_LOSS]
        behind = self._inline(net, r, inline, after) if inline else after
        middle = arcs.node() if soft > 0 else behind
        self.segment[segment_id] = arcs.add(
            f"duct {segment_id}",
            *((before, middle) if supply else (middle, before)),
            r.flow_m3s,
            length_m=r.straight_m,
            area_m2=section.area_m2,
            hydraulic_m=section.hydraulic_m,
            roughness_m=r.make.roughness_m,
            compression=r.make.compression,
            k=self._own_k(net, r, section),
        )
        if soft > 0:
            pressed = PRESSED if what.pressed else assumption(at.project.book, "flexible_share").figure * 100
            arcs.add(
                f"flexible duct {segment_id}",
                *((middle, behind) if supply else (behind, middle)),
                r.flow_m3s,
                length_m=soft,
                area_m2=section.area_m2,
                hydraulic_m=section.equal_area_m,  # it is round
                roughness_m=ROUGHNESS_M["flexible"],
                compression=pressed,
            )

    def _inline(self, net: DuctResult, r: SegmentResult, parts: list[FittingLoss], end: int) -> int:
        """Parts in a duct as arcs of their own, up to its end; the node where they begin."""
        supply, thin = net.air == "supply", self.density / self.at.air.density_kg_m3
        flow = r.flow_m3s * self._half_way(net, r)
        node = end
        for f in reversed(parts):
            before = self.arcs.node()
            self.arcs.add(
                f"{f.name} in {r.segment_id}",
                *((before, node) if supply else (node, before)),
                flow,
                power_pa=f.pressure_pa * thin ** (f.exponent - 1),
                power_m3s=max(flow, 1e-6),
                exponent=f.exponent,
            )
            node = before
        return node

    @staticmethod
    def _half_way(net: DuctResult, r: SegmentResult) -> float:
        """Flow half way along a duct over that at its end towards the unit, as it leaks at design [-]."""
        more = r.leak_m3s if net.air == "supply" else -r.leak_m3s
        return 1 - more / 2 / max(r.flow_m3s, 1e-12)

    def _leaks(self, net: DuctResult, r: SegmentResult, before: int, after: int, section: Section) -> None:
        """What leaks out of a duct, or into one that is sucked: where leaks are computed, half at either end, as much
        as at design under the pressure there; else under a what-if, as its class lets out at its end.
        """
        at, what, supply = self.at, self.what, net.air == "supply"
        name, times = f"leaks of {r.segment_id}", WORSE if what.leaking else 1.0
        if at.system.leakage == "computed":
            parent = net.before(r.segment_id)
            start = net.runs.fan_pa if parent is None else parent.end_pa
            for node, pressure in ((before, start), (after, r.end_pa)):
                if (r.leak_m3s if supply else -r.leak_m3s) > LEAST_M3S and pressure > LEAST_LEAK_PA:
                    self.arcs.add(
                        name,
                        *((node, self.building) if supply else (self.building, node)),
                        abs(r.leak_m3s) / 2,
                        power_pa=pressure,
                        power_m3s=times * abs(r.leak_m3s) / 2,
                        exponent=LEAK_EXPONENT,
                    )
        elif what.leaking and r.flow_m3s > 0:
            # One pascal through what its class lets out; the total pressure at its end stands for the static one along
            # it.
            self.arcs.add(
                name,
                *((after, 0) if supply else (0, after)),
                0.0,
                power_pa=1.0,
                power_m3s=leak_coefficient(r.tightness) * section.perimeter_m * r.length_m,
                exponent=LEAK_EXPONENT,
            )

    def _own_k(self, net: DuctResult, r: SegmentResult, section: Section) -> float:
        """On the duct's own velocity half way along: its fittings, its damper, and whether it is shut. A flow box loses
        what it does whatever size its duct has.
        """
        pv = self.at.air.density_kg_m3 * (r.velocity_m_s * self._half_way(net, r)) ** 2 / 2
        k = (
            sum(f.pressure_pa for f in r.fittings if f.reference not in ("common", BOX_LOSS, INLINE_LOSS)) / pv
            if pv > 1e-9
            else sum(f.k for f in r.fittings if f.reference == "duct")
        )
        if pv > 1e-9:
            scale = (section.area_m2 / r.section.area_m2) ** 2 / pv
            k += scale * sum(f.pressure_pa for f in r.fittings if f.reference == BOX_LOSS)
        k += self._damper_k(r)
        return k + SHUT_K if r.segment_id in self.what.shut else k

    def _damper_k(self, r: SegmentResult) -> float:
        """What a duct's damper adds to its open coefficient; a pinned blade stands among the fittings already."""
        what = self.what
        if r.damper is None or (self.at.system.flow == "load" and not r.damper_pinned):
            return 0.0  # where boxes hold the flow they are the dampers
        # a shut blade stands among the fittings as if it were open
        if r.damper_pinned and r.damper.added_k >= SHUT_K:
            return 0.0 if what.dampers_open else SHUT_K
        if r.damper.free is not None:
            return r.damper.added_k  # a plate cannot be opened
        if what.dampers_open:
            return -r.damper.added_k if r.damper_pinned else 0.0
        if self.added_k is not None and r.segment_id in self.added_k:
            return self.added_k[r.segment_id] - (r.damper.added_k if r.damper_pinned else 0.0)
        return 0.0 if r.damper_pinned else r.damper.added_k if r.damper.angle_deg is not None else 0.0

    def _junctions(self, net: DuctResult, legs: list[tuple[str, str, Any]]) -> None:
        """Legs whose loss counts on the whole flow, each by the law of its fitting."""
        made = []
        for leg, whole, f in legs:
            a, b = net.segments[leg], net.segments[whole]
            share, designed = a.flow_m3s / max(b.flow_m3s, 1e-12), a.section.area_m2 / b.section.area_m2
            ratio = self.sections.get(leg, a.section).area_m2 / self.sections.get(whole, b.section).area_m2
            kind, figure = leg_at(f.name, f.k, share, designed)
            made.append((self.segment[leg], self.segment[whole], kind, figure, ratio, share, designed, f.k))
        self.tees.take(made)

    def _rings(self, net: DuctResult, root: int) -> None:
        """Ducts that close a ring: left out of the tree that sizes, they carry what pressures make them carry.

        Their flow counts from a to b as drawn.
        """
        tree, ids = net.tree, net.segment_ids
        at_point = {int(tree.leaving[s]): self.end_node[ids[s]] for s in tree.order}
        at_point |= {int(tree.entering[s]): root for s in tree.order if tree.parent[s] < 0}
        for i in net.looped:
            a, b = (at_point.get(int(p)) for p in net.ends[ids.index(i)])
            if a is None or b is None or a == b:
                continue
            r = net.segments[i]
            section = self.sections.get(i, r.section)
            self.segment[i] = self.arcs.add(
                f"duct {i}",
                a,
                b,
                0.0,
                length_m=max(r.length_m, 0.1),
                area_m2=section.area_m2,
                hydraulic_m=section.hydraulic_m,
                roughness_m=r.make.roughness_m,
                compression=r.make.compression,
                k=SHUT_K if i in self.what.shut else 0.0,
            )

    def _terminals(self, net: DuctResult, boxed: dict[str, float]) -> None:
        supply = net.air == "supply"
        for t in net.terminals:
            duct, room = self.end_node[t.segment_id], self.room_node[t.room_id]
            if t.terminal_id in boxed:
                self.into[t.terminal_id] = (duct, room)
                continue
            pa = t.point.pressure_pa
            throttled = t.neck and not self.what.dampers_open and t.damper.angle_deg is not None
            self.terminal[t.terminal_id] = self.arcs.add(
                f"terminal {t.label}",
                *((duct, room) if supply else (room, duct)),
                t.flow_m3s,
                power_pa=pa * (thinner(self.what) if pa else 1.0),
                power_m3s=max(t.flow_m3s, 1e-6),
                exponent=self._exponent(t),
                area_m2=np.pi * t.point.neck_m**2 / 4 if throttled else 1.0,
                k=t.damper.added_k if throttled else 0.0 if pa > 0 else 1.0,
            )

    def _exponent(self, t: TerminalResult) -> float:
        """How a terminal's loss grows with flow around its design, from its catalogue points."""
        model = models(self.at.project.book).get(t.point.model)
        return 2.0 if model is None or t.flow_m3s <= 0 else _growth(model, t.flow_m3s)

    def back(self, end: int) -> None:
        """From the end of the return ducts through the return fan to the box behind it, and on to the mixing box and
        outdoors.
        """
        unit, arcs = self.at.unit, self.arcs
        node = self._drops([*unit.back, self._margin("return")], end, unit.back_m3s)
        node = self._fan("return", node, unit.back_m3s)
        if self._recirculates:
            way = [d for d in unit.outside if d.part_id == self._mixing_part]
            last = self._drops(
                [*way, Drop("the recirculation damper", unit.booked.recirculation_damper, 2.0)],
                node,
                unit.recirculated_m3s,
            )
            arcs.add("recirculated air", last, self.mixing, unit.recirculated_m3s, **OPEN)
        if unit.relieved_m3s <= LEAST_M3S:
            return
        node = self._fan("exhaust", node, unit.relieved_m3s)
        damper = Drop("the relief damper", unit.booked.relief_damper, 2.0)
        node = self._drops([*unit.relief, damper], node, unit.relieved_m3s)
        arcs.add("air that leaves", node, 0, unit.relieved_m3s, **OPEN)

    def out(self, end: int) -> None:
        """From the end of the extract ducts through their fan to the outside."""
        flow = self.at.leaving["extract"].flow_m3s
        node = self._fan("extract", self._drops([self._margin("extract")], end, flow), flow)
        self.arcs.add("extracted air", node, 0, flow, **OPEN)

    @property
    def _mixing_part(self) -> str:
        return next((p.id for p in self.at.system.parts if p.kind == "mixing"), "none")

    def _margin(self, way: str) -> Drop:
        load = self.at.unit.ways.get(way)
        return Drop(f"the margin of the {way} ducts", load.allowance_pa if load is not None else 0.0, 2.0)

    def _fan(self, way: str, node: int, flow: float) -> int:
        """The node behind the fan of a way; the same where there is none."""
        curve = leaving_curve(self.at, way, self.density)
        if curve is None:
            return node
        after = self.arcs.node()
        self.fan_arcs[way] = self.arcs.add(f"the {way} fan", node, after, flow)
        self.fans[self.fan_arcs[way]] = curve
        return after

    def doors_and_leaks(self) -> None:
        """Doors and leaks of rooms."""
        for room_id, node in self.room_node.items():
            room, known = find(self.at.project.rooms, room_id), self.at.rooms.get(room_id)
            label, shut = room.number if room is not None else room_id, room_id in self.what.doors
            self.arcs.add(
                f"the door of {label}",
                node,
                self.building,
                0.0,
                area_m2=DOOR_GAP_M2 if shut else OPEN_DOOR_M2,
                k=DOOR_GAP_K if shut else OPEN_DOOR_K,
            )
            leak = known.volume_m3 * known.figures.infiltration_1h.figure / 3600 if known is not None else 0.0
            if leak > 0:
                self.arcs.add(
                    f"the leaks of {label}", node, 0, 0.0, power_pa=LEAK_PA, power_m3s=leak, exponent=LEAK_EXPONENT
                )

    def _demand(self) -> NDArray[np.float64]:
        """Flow taken out at nodes: air that leaves rooms where no duct is drawn for it, and what boxes hold."""
        demand, rows = np.zeros(self.arcs.nodes), {r.room_id: r for r in self.at.air.rooms}
        for room_id, node in self.room_node.items():
            row = rows.get(room_id)
            if row is not None:
                demand[node] += (0.0 if room_id in self.drawn["return"] else row.return_m3s) + (
                    0.0 if room_id in self.drawn["extract"] else row.extract_m3s
                )
        for i, (duct, room) in self.into.items():
            demand[duct] += self.boxed[i]
            demand[room] -= self.boxed[i]
        return demand

    def built(self) -> Built:
        at, arcs, boxed, into = self.at, self.arcs, self.boxed, self.into
        net = nw.arcs(
            arcs.rows,
            nodes=arcs.nodes,
            fixed={0: 0.0, self.building: at.unit.booked.rooms if self.building else 0.0},
            density=self.density,
            viscosity=at.air.viscosity_pa_s,
            fans=self.fans,
            tees=self.tees.made(),
            demand_m3s=self._demand(),
        )
        loss = {
            t.terminal_id: t.point.pressure_pa * (boxed[t.terminal_id] / max(t.flow_m3s, 1e-9)) ** 2
            for t in at.ducts.terminals
            if t.terminal_id in into
        }
        return Built(
            net=net,
            start_m3s=np.array(arcs.start),
            names=tuple(arcs.names),
            terminal=self.terminal,
            segment=self.segment,
            end_node=self.end_node,
            room_node=self.room_node,
            fan_arcs=self.fan_arcs,
            wanted={i: boxed[i] for i in into},
            box_pa=loss,
            into=into,
            root=self.root,
            unit=tuple(self.unit_arcs),
        )


@lru_cache(maxsize=16_384)
def _growth(model: TerminalModel, flow_m3s: float) -> float:
    low, high = pressure(model, flow_m3s * 0.9), pressure(model, flow_m3s * 1.1)
    return (
        float(np.clip(np.log(high / low) / np.log(1.1 / 0.9), *CATALOGUE_EXPONENT)) if low > 0 and high > low else 2.0
    )
