"""One march through an air system for many hours at once: rooms, return, handler, from torn figures to torn figures.

Nothing is assumed of the order of parts but what their list says. Methods: Air, section e. t degC, w kg/kg, m kg dry
air/s, W.

Source: tearing of recycle streams.
"""

from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.psychro import processes as do
from garnetfin.core.psychro import properties as air
from garnetfin.core.systems.closing import closing
from garnetfin.core.systems.handler import Stream, Trace, fan_work, reset_share, through, water_j_kg
from garnetfin.core.systems.parts import ROOM_UNITS, SMALLEST, Array, Control, Hours, Node, Part, Rooms, Solved

DRIER = 5e-4  # kg/kg by which supply air is drier than a room at least, for it to be dried by more of it
LEAST_APART_K = 1.0  # of supply air and what is around ducts, for the one to be warmed by the other
FOG_K = 1e-6  # by which a mix without fog may miss its goal


def economiser_share(goal_c: Array, tr: Array, wr: Array, to: Array, wo: Array) -> Array:
    """Share of outdoor air [-] whose mix with return air has a temperature, from the balances of heat and water.

    Not clipped: beyond 0..1 no mix has it. Linear in temperature alone it would miss by up to .005.
    """
    hr, ho, hv = air.enthalpy(tr, wr), air.enthalpy(to, wo), air.enthalpy(goal_c, 1.0) - air.enthalpy(goal_c, 0.0)
    falls = (hr - ho) - (wr - wo) * hv
    apart = np.abs(falls) > 1e-9
    return np.where(apart, (hr - air.enthalpy(goal_c, 0.0) - wr * hv) / np.where(apart, falls, 1.0), 1.0)


class Sweep:
    """One march through rooms, return and handler from torn figures to torn figures."""

    def __init__(self, parts: tuple[Part, ...], rooms: Rooms, hours: Hours, control: Control) -> None:
        at = [p.kind for p in parts].index("rooms")
        self.supply, self.back = parts[:at], parts[at + 1 :]
        self.rooms, self.hours, self.control = rooms, hours, control
        self.p = hours.pressure_pa
        self.duct = next((p for p in self.supply if p.kind == "duct"), None)
        self.leak = self.duct.get("leakage") if self.duct else 0.0
        self.fan = next((p for p in self.supply if p.kind == "supply_fan"), None)
        self.recovery = next((p for p in self.supply if p.kind == "recovery"), None)
        self.mixing = next((p for p in self.supply if p.kind == "mixing"), None)
        self.hold_c = rooms.set_c if rooms.hold_c is None else np.minimum(rooms.hold_c, rooms.set_c)
        self.fall_w_k = np.zeros(len(rooms.design_kg_s)) if rooms.fall_w_k is None else rooms.fall_w_k
        self.own_c = (
            np.full(len(rooms.design_kg_s), -np.inf) if rooms.own_c is None else np.nan_to_num(rooms.own_c, nan=-np.inf)
        )
        self.warm_k = np.zeros(len(rooms.design_kg_s)) if rooms.warm_k is None else rooms.warm_k
        rest = np.array(rooms.rest or (control.rest,) * len(rooms.design_kg_s))
        self.reheats = (rest == "reheat")[:, None]
        in_rooms = np.isin(rest, ROOM_UNITS)
        self.units = (in_rooms & rooms.units)[:, None]
        self.heaters = ((rest == "heater") & rooms.units | rooms.heaters)[:, None]
        self.dries = ~in_rooms & any(p.kind == "cooling" for p in parts)
        self.limit_w = air.humidity_ratio(rooms.set_c, rooms.humid_high[:, None], hours.pressure_pa)
        self.moisture = rooms.latent_w / air.vapour_enthalpy(rooms.set_c)
        self.into = (
            np.bincount(rooms.moves[:, 1], rooms.transfer_kg_s, len(rooms.design_kg_s))
            if len(rooms.moves)
            else 0.0 * rooms.design_kg_s
        )
        self.out = (
            np.bincount(rooms.moves[:, 0], rooms.transfer_kg_s, len(rooms.design_kg_s))
            if len(rooms.moves)
            else 0.0 * rooms.design_kg_s
        )
        self.fed = np.flatnonzero(self.into > 0)
        self.flowing = [(ab, flow) for ab, flow in zip(rooms.moves, rooms.transfer_kg_s) if flow > 0]

    def torn(self, x: Array, at: NDArray[Any]) -> Array:
        """The torn figures (5, hours) [degC, kg/kg, K, degC, kg/kg] that follow from assumed ones at some hours."""
        return self._march(x, at, Trace())[0]

    # -- rooms -----------------------------------------------------------------------------------------------------
    def _rooms(self, ts: Array, ws: Array, at: NDArray[Any]) -> dict[str, Array]:
        """Flows, what serves each room beside the air, and where its air ends up; all (R, h)."""
        rooms, control = self.rooms, self.control
        set_c, q, hold_c = rooms.set_c[:, at], rooms.sensible_w[:, at], self.hold_c[:, at]
        cp, fall_w_k = air.specific_heat(ws), self.fall_w_k[:, None]
        heating, cooling = self.hours.heating[at], self.hours.cooling[at]
        net = q
        if len(rooms.moves):
            a, b = rooms.moves.T
            net = q.copy()
            np.subtract.at(net, b, rooms.transfer_kg_s[:, None] * cp * (set_c[b] - set_c[a]))
        # What arrives at the rooms, and behind the heater of a zone that has a supply temperature of its own.
        supply_c, (system_c, m) = ts, self._arriving(ts, ws, net, at)
        ts = np.where(heating, np.maximum(system_c, self.own_c[:, None]), system_c)
        flowing = m > SMALLEST
        # of the air where it leaves the ducts, for it to arrive as the room needs it
        need = np.where(flowing, set_c - net / (np.where(flowing, m, 1.0) * cp), set_c) - (system_c - supply_c)
        behind, unit = ts, np.zeros_like(set_c)
        if self.reheats.any():
            # Down to the heating set-point the room floats; there its load is larger by what it then loses less.
            held = np.where(
                flowing, hold_c - (net + fall_w_k * (set_c - hold_c)) / (np.where(flowing, m, 1.0) * cp), ts
            )
            most = hold_c + control.warm_limit_k
            warmed = heating & flowing & self.reheats
            behind = np.where(warmed, np.maximum(ts, np.minimum(held, most)), ts)
        if self.units.any() or self.heaters.any():
            left = net - m * cp * (set_c - ts)
            unit = np.where(self.units, np.where(left > 0, left * cooling, left * heating), 0.0)
            unit = np.where(self.heaters & (left < 0), left * heating, unit)
        w = np.where(flowing, ws + self.moisture[:, at] / np.where(flowing, m, 1.0), ws)
        carried, heat = m * cp + fall_w_k, q - unit + m * cp * behind + fall_w_k * set_c
        t = np.where(flowing, heat / np.where(flowing, carried, 1.0), set_c)
        if len(self.fed):
            w, t = self._transfers(m, w, t, ws, carried, heat, at)
        return {
            "m": m,
            "need": need,
            "behind": behind,
            "unit": unit,
            "reheat": m * cp * (behind - system_c),
            "zone": m * cp * (ts - system_c),
            "load": q + np.where(flowing | (self.into > 0)[:, None], fall_w_k * (set_c - t), 0.0),
            "t": t,
            "w": w,
        }

    def _arriving(self, ts: Array, ws: Array, net: Array, at: NDArray[Any]) -> tuple[Array, Array]:
        """(air as it arrives at each room (R, h) [degC], flows (R, h) [kg/s]): together what leaves the ducts."""
        heating = self.hours.heating[at]
        plain = np.broadcast_to(ts, net.shape)

        def flows(arriving: Array) -> Array:
            return self._flows(np.where(heating, np.maximum(arriving, self.own_c[:, None]), arriving), ws, net, at)

        m = flows(plain)
        if not self.warm_k.any() or self.duct is None:
            return plain, m
        around = self.duct.get("around_c", 24.0)
        apart = around - self.control.supply_c
        warmer = self.warm_k[:, None] * (around - ts) / (apart if abs(apart) > LEAST_APART_K else LEAST_APART_K)

        def arriving(m: Array) -> Array:
            return np.asarray(plain + warmer - (m * warmer).sum(axis=0) / np.maximum(m.sum(axis=0), SMALLEST))

        m = flows(arriving(m))
        return arriving(m), m

    def _flows(self, ts: Array, ws: Array, net: Array, at: NDArray[Any]) -> Array:
        """Flow of every room (R, h) [kg/s] for what is left to do by air that arrives at ts (R, h)."""
        rooms, control = self.rooms, self.control
        design = rooms.design_kg_s[:, None]
        if control.flow != "load":
            return np.asarray(design + np.zeros_like(net))
        cp, fall = air.specific_heat(ws), rooms.set_c[:, at] - ts
        cold = np.where((net > 0) & (fall > 0.1), net / (cp * np.maximum(fall, 0.1)), 0.0)
        warm = np.where(net < 0, -net / (cp * control.warm_limit_k), 0.0)
        wanted = np.maximum.reduce([cold, warm, self._damp(ws, at)])
        return np.asarray(np.clip(wanted, np.minimum(rooms.least_kg_s, rooms.design_kg_s)[:, None], design))

    def _damp(self, ws: Array, at: NDArray[Any]) -> Array:
        """Flow [kg/s] (R, h) that keeps rooms below their humidity limits, where the air of the system is to do so."""
        drier = self.limit_w[:, at] - ws
        return np.where((drier > DRIER) & self.dries[:, None], self.moisture[:, at] / np.maximum(drier, DRIER), 0.0)

    def _transfers(
        self, m: Array, w: Array, t: Array, ws: Array, carried: Array, heat: Array, at: NDArray[Any]
    ) -> tuple[Array, Array]:
        """Rooms that get air of other rooms: water first, then heat, as two small sets of linear equations."""
        fed = self.fed
        place = {int(r): k for k, r in enumerate(fed)}
        n, h = len(fed), m.shape[1]
        left = np.zeros((h, n, n))
        right = np.zeros((h, n))
        for k, r in enumerate(fed):
            left[:, k, k] = m[r] + self.into[r]
            right[:, k] = m[r] * ws + self.moisture[r, at]
        for (a, b), flow in self.flowing:
            if int(a) in place:
                left[:, place[int(b)], place[int(a)]] -= flow
            else:
                right[:, place[int(b)]] += flow * w[a]
        w = w.copy()
        w[fed] = np.linalg.solve(left, right[:, :, None])[:, :, 0].T
        left, right = np.zeros((h, n, n)), np.zeros((h, n))
        for k, r in enumerate(fed):
            left[:, k, k], right[:, k] = carried[r], heat[r]
        for (a, b), flow in self.flowing:
            k, brought = place[int(b)], flow * air.specific_heat(w[a])
            left[:, k, k] += brought
            if int(a) in place:
                left[:, k, place[int(a)]] -= brought
            else:
                right[:, k] += brought * t[a]
        t = t.copy()
        t[fed] = np.linalg.solve(left, right[:, :, None])[:, :, 0].T
        return w, t

    def _leaving(self, m: Array) -> tuple[Array, Array]:
        """(return, offset) of rooms (R, h); offset > 0 leaks out, < 0 leaks in or is make-up that is missing."""
        rooms = self.rooms
        comes, goes = m + self.into[:, None], (rooms.extract_kg_s + self.out)[:, None]
        wanted = rooms.offset_share[:, None] * np.maximum(comes, goes)
        back = np.maximum(comes - goes - wanted, 0.0)
        return back, comes - goes - back

    # -- the march -------------------------------------------------------------------------------------------------
    def _march(self, x: Array, at: NDArray[Any], trace: Trace) -> tuple[Array, Trace]:
        ts, ws, _rise, tr, wr = x
        found = self._rooms(ts, ws, at)
        m = found["m"]
        supplied = m.sum(axis=0)
        handler = supplied / (1 - self.leak)
        back, offset = self._leaving(m)
        leak = self.leak * handler
        leak_t, leak_w = tr, wr
        # What leaks out of the duct leaves behind the fan; before the first sweep it is taken as supply air.
        if self.duct is not None and self.leak > 0:
            leak_t, leak_w = (
                do.duct_before(ts, ws, supplied, self.duct.get("around_c", 24.0), self.duct.get("ua_w_k")),
                ws,
            )
        target = self._target(found, at)
        new_back = self._return(found, back, leak, leak_t, leak_w, at, trace)
        returned = new_back[2]
        supply = self._handler(x, handler, supplied, returned, target, at, found, trace)
        if trace.extra is not None:
            trace.extra.update(
                found
                | {
                    "back": back,
                    "offset": offset,
                    "handler": handler,
                    "returned": returned,
                    "leak": leak,
                    "target": target,
                    "leak_t": leak_t,
                    "leak_w": leak_w,
                    "supplied": supplied,
                }
            )
        ts2, ws2, rise2 = supply
        return np.array([ts2, ws2, rise2, new_back[0], new_back[1]]), trace

    def _target(self, found: dict[str, Array], at: NDArray[Any]) -> Array:
        control, need, m = self.control, found["need"], found["m"]
        if control.supply in ("held", "coil"):
            return np.full(need.shape[1], control.supply_c)
        total = m.sum(axis=0)
        warm = (m * (self.rooms.set_c[:, at] + control.warm_limit_k)).sum(axis=0) / np.maximum(total, SMALLEST)
        if control.supply == "room":
            wanted = (m * need).sum(axis=0) / np.maximum(total, SMALLEST)
        else:
            wanted = np.where(m > SMALLEST, need, np.inf).min(axis=0)
        wanted = np.where(total > SMALLEST, wanted, control.supply_c)
        return np.clip(wanted, control.supply_c, warm)

    def _return(
        self,
        found: dict[str, Array],
        back: Array,
        leak: Array,
        leak_t: Array,
        leak_w: Array,
        at: NDArray[Any],
        trace: Trace,
    ) -> tuple[Array, Array, Array]:
        """The air that comes back, behind what it passes: (t, w, m)."""
        h, w = air.enthalpy(found["t"], found["w"]), found["w"]
        total = back.sum(axis=0)
        some = total > SMALLEST
        weight = np.where(some, back, np.maximum(found["m"] + self.into[:, None], SMALLEST))
        weight = weight / weight.sum(axis=0)
        hr, wr = (weight * h).sum(axis=0), (weight * w).sum(axis=0)
        trace.nodes["rooms"] = Node("rooms", air.temperature(hr, wr), wr, total)
        inside = self.duct is not None and self.duct.choice != "outside"
        if inside and self.leak > 0:
            # Leaked air comes back with the return air.
            total2 = total + leak
            hr = (total * hr + leak * air.enthalpy(leak_t, leak_w)) / np.maximum(total2, SMALLEST)
            wr = (total * wr + leak * leak_w) / np.maximum(total2, SMALLEST)
            total = total2
        some = total > SMALLEST
        for part in self.back:
            if part.kind == "plenum":
                heat = np.where(some, self.hours.plenum_w[at], 0.0)
            elif part.kind == "return_fan":
                t = air.temperature(hr, wr)
                heat = np.where(
                    some,
                    # return flow follows the supply
                    total
                    * fan_work(
                        part, t, wr, found["m"].sum(axis=0) / (1 - self.leak), self.p, self.control, self._reset(found)
                    ),
                    0.0,
                )
            else:
                heat = 0.0 * total
            trace.heat[part.id] = heat
            hr = hr + heat / np.where(some, total, 1.0)
            trace.nodes[part.id] = Node(part.id, air.temperature(hr, wr), wr, total)
        tr = air.temperature(hr, wr)
        trace.nodes["return"] = Node("return", tr, wr, total)
        return tr, wr, total

    def _reset(self, found: dict[str, Array]) -> Array | float:
        return reset_share(found["m"], self.rooms.design_kg_s) if self.control.fan_reset else 1.0

    def _pull(self, i: int, target: Array, w_now: Array, w_goal: Array, rise: Array, supplied: Array) -> Array:
        """Temperature wanted behind part i for `target` at the terminals (behind the coil for a coil that is held)."""
        t, w_out = target, np.where(w_goal > w_now, w_goal, w_now)
        for part in reversed(self.supply[i + 1 :]):
            if part.kind == "duct":
                t = do.duct_before(t, w_out, supplied, part.get("around_c", 24.0), part.get("ua_w_k"))
            elif part.kind == "supply_fan":
                t = t - rise
            elif part.kind == "humidifier":
                water = np.maximum(w_out - w_now, 0.0)
                t = air.temperature(air.enthalpy(t, w_out) - water * water_j_kg(part), w_now)
                w_out = w_now
        return t

    def _humid_goal(self, found: dict[str, Array], at: NDArray[Any]) -> Array:
        """Humidity ratio of the supply air that keeps the rooms, taken together, at the humidifier's set-point."""
        part = next((p for p in self.supply if p.kind == "humidifier"), None)
        m = found["m"].sum(axis=0)
        if part is None or part.get("humidity") <= 0:
            return np.zeros_like(m)
        some = np.maximum(m, SMALLEST)
        set_c = (found["m"] * self.rooms.set_c[:, at]).sum(axis=0) / some
        return np.where(
            m > SMALLEST,
            air.humidity_ratio(set_c, part.get("humidity"), self.p) - self.moisture[:, at].sum(axis=0) / some,
            0.0,
        )

    def _driest(self, found: dict[str, Array], at: NDArray[Any]) -> Array:
        """Supply humidity at which the dampest room just keeps its limit."""
        t = np.minimum(np.maximum(found["t"], self.hold_c[:, at]), self.rooms.set_c[:, at])
        limit = air.humidity_ratio(t, self.rooms.humid_high[:, None], self.p)
        m = found["m"]
        answer: NDArray[Any] = np.where(
            m > SMALLEST, limit - self.moisture[:, at] / np.maximum(m, SMALLEST), np.inf
        ).min(axis=0)
        return answer

    def _handler(
        self,
        x: Array,
        handler: Array,
        supplied: Array,
        returned: Array,
        target: Array,
        at: NDArray[Any],
        found: dict[str, Array],
        trace: Trace,
    ) -> tuple[Array, Array, Array]:
        _, _ws, rise, tr, wr = x
        to, wo = self.hours.outdoor_c[at], self.hours.outdoor_w[at]
        goal = self._humid_goal(found, at)
        held = self.control.supply == "coil"

        def wanted(i: int, w_now: Array) -> Array:
            """Behind part i; a coil that is held keeps its own leaving temperature."""
            if held:
                last = (
                    max(k for k, q in enumerate(self.supply) if q.kind in ("cooling", "heating"))
                    if any(q.kind in ("cooling", "heating") for q in self.supply)
                    else len(self.supply) - 1
                )
                return target if i <= last else self._pull(i, target, w_now, goal, rise, supplied)
            return self._pull(i, target, w_now, goal, rise, supplied)

        outdoor, raised, free = self._outdoor(handler, returned, wanted, tr, wr, to, wo)
        first = outdoor if self.mixing is not None else handler
        stream = Stream(
            t=to,
            w=wo,
            m=first,
            pressure_pa=self.p,
            handler=handler,
            supplied=supplied,
            outdoor=outdoor,
            relief=np.maximum(returned - (handler - outdoor), 0.0),
            tr=tr,
            wr=wr,
            free=free,
            cooling=self.hours.cooling[at],
            heating=self.hours.heating[at],
            humid_goal=goal,
            driest_w=lambda: self._driest(found, at),
            wanted=wanted,
            mixing=self.supply.index(self.mixing) if self.mixing is not None else None,
            control=self.control,
            reset=self._reset(found),
            trace=trace,
            share=np.zeros_like(to),
            frost=np.zeros(to.shape, bool),
            fog=np.zeros_like(to),
            short=np.zeros(to.shape, bool),
            rise=np.zeros_like(to),
            exhaust=(tr, wr),
        )
        trace.nodes["outdoor"] = Node("outdoor", to, wo, first)
        for i, part in enumerate(self.supply):
            trace.heat[part.id], trace.water[part.id] = through(part, i, stream)
            trace.nodes[part.id] = Node(part.id, stream.t, stream.w, stream.m)
        trace.nodes["supply"] = Node("supply", stream.t, stream.w, supplied)
        trace.nodes["exhaust"] = Node("exhaust", *stream.exhaust, stream.relief)
        trace.extra.update(
            outdoor=outdoor,
            relief=stream.relief,
            raised=raised,
            free=free,
            share=stream.share,
            frost=stream.frost,
            fog=stream.fog,
            short=stream.short,
        )
        return stream.t, stream.w, stream.rise

    def _outdoor(
        self,
        handler: Array,
        returned: Array,
        wanted: Callable[[int, Array], Array],
        tr: Array,
        wr: Array,
        to: Array,
        wo: Array,
    ) -> tuple[Array, Array, NDArray[np.bool_]]:
        """Outdoor air, what of it is beyond the wanted because too little returns, and where more is taken to cool for
        nothing.
        """
        if self.mixing is None:
            return handler, np.zeros_like(handler), np.zeros(handler.shape, bool)
        least = np.minimum(self.control.outdoor_kg_s, handler)
        closing = np.clip(handler - returned, least, handler)
        raised = closing - least
        i = self.supply.index(self.mixing)
        goal = wanted(i, wr)
        mixed = self._mixed_c(closing / np.maximum(handler, SMALLEST), tr, wr, to, wo)
        match self.mixing.choice:
            case "dry bulb":
                open_ = to < np.minimum(self.mixing.get("changeover_c", 99.0), tr)
            case "enthalpy":
                open_ = (air.enthalpy(to, wo) < air.enthalpy(tr, wr)) & (to < tr)
            case _:
                open_ = np.zeros(to.shape, bool)
        free = open_ & (mixed > goal + 1e-9)
        share = np.clip(economiser_share(goal, tr, wr, to, wo), 0.0, 1.0)
        foggy = free & (np.abs(self._mixed_c(share, tr, wr, to, wo) - goal) > FOG_K) & (share < 1.0)
        if foggy.any():
            share[foggy] = self._share_in_fog(goal[foggy], *(v[foggy] for v in (tr, wr, to, wo)))
        outdoor = np.where(free, np.clip(share * handler, closing, handler), closing)
        return outdoor, raised, free & (outdoor > closing + 1e-9)

    def _mixed_c(self, share: Array, tr: Array, wr: Array, to: Array, wo: Array) -> Array:
        """Temperature of return air with a share of outdoor air, fog settled."""
        h = air.enthalpy(tr, wr) + share * (air.enthalpy(to, wo) - air.enthalpy(tr, wr))
        return do.settle(h, wr + share * (wo - wr), self.p).t

    def _share_in_fog(self, goal: Array, tr: Array, wr: Array, to: Array, wo: Array) -> Array:
        """The same where water falls out of the mix, whose temperature falls with the share all the same."""
        low, high = np.zeros_like(goal), np.ones_like(goal)
        for _ in range(40):
            middle = (low + high) / 2
            warm = self._mixed_c(middle, tr, wr, to, wo) > goal
            low, high = np.where(warm, middle, low), np.where(warm, high, middle)
        return (low + high) / 2

    # -- record ----------------------------------------------------------------------------------------------------
    def record(self, x: Array, residual: Array, steps: int) -> Solved:
        """Everything at the figures that close, off where the plant is off."""
        everything = np.arange(x.shape[1])
        _, trace = self._march(x, everything, Trace())
        e, on = trace.extra, self.hours.on
        energy, water = closing(self, trace)
        keep = on.astype(float)

        def off(values: Array) -> Array:
            answer: NDArray[Any] = values * keep
            return answer

        nodes = {k: Node(k, n.t, n.w, off(n.m)) for k, n in trace.nodes.items()}
        coils = {
            k: do.Coil(
                c.t, c.w, np.where(on, c.adp_c, np.nan), off(c.total_w), off(c.sensible_w), off(c.condensate_kg_s)
            )
            for k, c in trace.coils.items()
        }
        return Solved(
            nodes,
            {k: off(v) for k, v in trace.heat.items()},
            {k: off(v) for k, v in trace.water.items()},
            coils,
            off(e["m"]),
            e["behind"],
            off(e["reheat"]),
            off(e["zone"]),
            off(e["unit"]),
            e["load"],
            e["t"],
            e["w"],
            off(e["handler"]),
            off(e["outdoor"]),
            off(e["relief"]),
            off(e["returned"]),
            off(e["leak"]),
            off(e["raised"]),
            e["share"] * keep,
            e["frost"] & on,
            e["free"] & on,
            off(e["fog"]),
            e["short"] & on,
            e["target"],
            np.where(on, residual, 0.0),
            steps,
            {k: off(v) for k, v in energy.items()},
            {k: off(v) for k, v in water.items()},
        )
