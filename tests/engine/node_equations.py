"""An air system written as equations at its nodes, and solved all at once by least squares.

Independent of the march through the parts: states of every node, of every room and of the coil's surface are unknowns
beside each other. Moist air: Hyland and Wexler's saturation with one factor for real gas, enthalpy of ASHRAE
Fundamentals. Taken over from the engine: loads, design flows, figures of parts, and what switches (a coil that is on,
the share of a recovery, outdoor air of an economiser); each switch is judged afterwards.
"""

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares

from garnetfin.core.systems.parts import Part
from garnetfin.engine.results import TrainResult

Array = NDArray[np.float64]
ENHANCED = 1.0045  # saturated air over pure vapour near sea level, ASHRAE Fundamentals; 1.004 to 1.005 there


def saturated_w(t: float, p: float) -> float:
    k = t + 273.15
    if t >= 0:
        a = (-5.8002206e3, 1.3914993, -4.8640239e-2, 4.1764768e-5, -1.4452093e-8, 0.0, 6.5459673)
    else:
        a = (-5.6745359e3, 6.3925247, -9.677843e-3, 6.2215701e-7, 2.0747825e-9, -9.484024e-13, 4.1635019)
    ln = a[0] / k + a[1] + a[2] * k + a[3] * k**2 + a[4] * k**3 + a[5] * k**4 + a[6] * np.log(k)
    pw = ENHANCED * np.exp(ln)
    return float(0.621945 * pw / (p - pw))


def enthalpy(t, w):
    return 1006.0 * t + w * (2.501e6 + 1860.0 * t)


def cp(w):
    return 1006.0 + 1860.0 * w


@dataclass
class Equations:
    """One hour (place `i` of the results) of a solved system, as unknown states and residuals."""

    found: TrainResult
    i: int
    sensible_w: Array  # (rooms,) loads at set-points
    latent_w: Array
    set_c: Array
    hold_c: Array
    outdoor_c: float
    outdoor_w: float
    plenum_w: float
    cooling: bool
    heating: bool
    names: list[str] = field(default_factory=list)

    def __post_init__(self) -> None:
        at = [p.kind for p in self.found.parts].index("rooms")
        self.supply, self.back = self.found.parts[:at], self.found.parts[at + 1 :]
        self.s, self.rooms, self.p = self.found.solved, self.found.rooms, self.found.pressure_pa
        self.n = len(self.rooms.design_kg_s)
        self.coils_on = {k: float(c.total_w[self.i]) > 1e-6 for k, c in self.s.coils.items()}
        self.heats_on = {p.id: float(self.s.heat_w[p.id][self.i]) > 1e-6 for p in self.supply if p.kind == "heating"}
        self.names = [p.id for p in self.supply] + ["return", "exhaust"]
        self.surfaces = [k for k, on in self.coils_on.items() if on]

    # -- unknowns ----------------------------------------------------------------------------------------------
    def pack(self) -> Array:
        """The engine's own states as a start, far off on purpose."""
        nodes = [(self.s.nodes[k].t[self.i] + 2.0, self.s.nodes[k].w[self.i] * 0.9) for k in self.names]
        rooms = np.column_stack([self.s.room_c[:, self.i] - 1.5, self.s.room_w[:, self.i] * 1.1])
        flow = self.s.supply_kg_s[:, self.i] * 0.95 + 1e-4
        surface = [self.s.coils[k].t[self.i] - 3.0 for k in self.surfaces]
        states = np.concatenate([np.array(nodes), rooms]) * (1.0, 1000.0)
        return np.concatenate([states.ravel(), flow * 10.0, surface])

    def unpack(self, x: Array) -> tuple[dict[str, Array], Array, Array, dict[str, float]]:
        k = len(self.names)
        states = x[: 2 * (k + self.n)].reshape(-1, 2) / (1.0, 1000.0)
        flow = x[2 * (k + self.n) : 2 * (k + self.n) + self.n] / 10.0
        return (
            dict(zip(self.names, states)),
            states[k:],
            flow,
            dict(zip(self.surfaces, x[len(x) - len(self.surfaces) :])),
        )

    # -- residuals -----------------------------------------------------------------------------------------------
    def residuals(self, x: Array) -> Array:
        node, room, flow, surface = self.unpack(x)
        rooms = self.rooms
        ts, ws = node[self.supply[-1].id]
        r: list[float] = []
        leak = next((p.get("leakage") for p in self.supply if p.kind == "duct"), 0.0)
        supplied = flow.sum()
        handler = supplied / (1 - leak)
        # rooms: how much air, behind which terminal, at which temperature
        need, unit_w, behind = self._terminals(ts, ws, flow, r)
        for k in range(self.n):
            t, w = room[k]
            fall = rooms.fall_w_k[k] * (self.set_c[k] - t)
            r.append((flow[k] * cp(ws) * (behind[k] - t) + self.sensible_w[k] + fall - unit_w[k]) / 1000.0)
            vapour = self.latent_w[k] / (2.501e6 + 1860.0 * self.set_c[k])
            r.append((flow[k] * (ws - w) + vapour) * 1e4)
        # return
        back = np.maximum(flow - rooms.extract_kg_s - rooms.offset_share * np.maximum(flow, rooms.extract_kg_s), 0.0)
        duct_at = next((k for k, p in enumerate(self.supply) if p.kind == "duct"), None)
        h = (back * enthalpy(room[:, 0], room[:, 1])).sum()
        water, total = (back * room[:, 1]).sum(), back.sum()
        if duct_at is not None and leak > 0 and self.supply[duct_at].choice != "outside":
            lost = node[self.supply[duct_at - 1].id]
            h, water, total = (
                h + leak * handler * enthalpy(*lost),
                water + leak * handler * lost[1],
                total + leak * handler,
            )
        tr, wr = node["return"]
        for part in self.back:
            if part.kind == "plenum":
                h += self.plenum_w
            elif part.kind == "return_fan":
                # The fan sees air at nearly its leaving temperature.
                h += total * self._fan_j_kg(part, tr, wr, handler)
        r += [(h - total * enthalpy(tr, wr)) / 1000.0, (water - total * wr) * 1e4]
        outdoor = float(self.s.outdoor_kg_s[self.i])
        if not any(p.kind == "mixing" for p in self.supply):
            outdoor = handler
        relief = total - (handler - outdoor)
        target = self._target(need, flow)
        self._parts(r, node, surface, handler, supplied, outdoor, relief, target)
        return np.array(r)

    def _terminals(self, ts, ws, flow, r):
        control, rooms = self.found.control, self.rooms
        own = np.full(self.n, -np.inf) if rooms.own_c is None else np.nan_to_num(rooms.own_c, nan=-np.inf)
        at = np.maximum(ts, own) if self.heating else np.full(self.n, ts)
        q, heat = self.sensible_w, flow * cp(ws)
        if control.flow == "load":
            cold = np.where(q > 0, q / (cp(ws) * np.maximum(self.set_c - at, 0.1)), 0.0)
            warm = np.where(q < 0, -q / (cp(ws) * control.warm_limit_k), 0.0)
            damp = np.zeros(self.n)
            if control.rest != "unit":
                limit = np.array([rh_w(t, rh, self.p) for t, rh in zip(self.set_c, rooms.humid_high)])
                drier = limit - ws
                vapour = self.latent_w / (2.501e6 + 1860.0 * self.set_c)
                damp = np.where(drier > 5e-4, vapour / np.maximum(drier, 5e-4), 0.0)
            least = np.minimum(rooms.least_kg_s, rooms.design_kg_s)
            wanted = np.clip(np.maximum.reduce([cold, warm, damp]), least, rooms.design_kg_s)
        else:
            wanted = rooms.design_kg_s
        r.extend((flow - wanted) * 100.0)
        need = self.set_c - q / heat
        unit, behind = np.zeros(self.n), at.copy()
        if control.rest == "reheat" and self.heating:
            held = self.hold_c - (q + rooms.fall_w_k * (self.set_c - self.hold_c)) / heat
            behind = np.maximum(at, np.minimum(held, self.hold_c + control.warm_limit_k))
        left = q - heat * (self.set_c - at)
        if control.rest == "unit":
            unit = np.where(left > 0, left * self.cooling, left * self.heating)
        elif control.rest == "heater":
            unit = np.where(left < 0, left * self.heating, 0.0)
        return need, unit, behind

    def _target(self, need, flow):
        control = self.found.control
        if control.supply in ("held", "coil"):
            return control.supply_c
        warm = (flow * (self.set_c + control.warm_limit_k)).sum() / flow.sum()
        wanted = (flow * need).sum() / flow.sum() if control.supply == "room" else need.min()
        return float(np.clip(wanted, control.supply_c, warm))

    def _fan_j_kg(self, part: Part, t, w, m) -> float:
        pressure, efficiency = part.get("pressure_pa"), part.get("efficiency", 0.6)
        control = self.found.control
        if control.fan_kg_s > 0:
            x = m / control.fan_kg_s
            held = pressure * (control.fan_base + (1 - control.fan_base) * x**2)
            y = x * held / pressure
            pressure, efficiency = held, efficiency * y * 1.08 / (y + 0.08)
        volume = 287.042 * (t + 273.15) * (1 + 1.607858 * w) / self.p
        return part.get("to_air", 1.0) * volume * pressure / efficiency

    def _parts(self, r, node, surface, handler, supplied, outdoor, relief, target) -> None:
        t, w, m = self.outdoor_c, self.outdoor_w, outdoor
        tr, wr = node["return"]
        exhaust = (tr, wr)
        # What must hold at the rooms takes the place of the last heater or coil that is on.
        control = [p.id for p in self.supply if self.coils_on.get(p.id) or self.heats_on.get(p.id)]
        for part in self.supply:
            t2, w2 = node[part.id]
            if part.kind == "recovery":
                share, es, el = float(self.s.recovery_share[self.i]), part.get("sensible"), part.get("latent")
                cs, ce = m * cp(w), relief * cp(wr)
                gives = share * es * min(cs, ce) * (tr - t)
                wets = share * el * min(m, relief) * (wr - w)
                r += [m * cp(w) * (t2 - t) / 1000.0 - gives / 1000.0, (m * (w2 - w) - wets) * 1e4]
                out_t, out_w = node["exhaust"]
                out_h = relief * enthalpy(tr, wr) - m * (enthalpy(t2, w2) - enthalpy(t, w))
                r += [(relief * enthalpy(out_t, out_w) - out_h) / 1000.0, (relief * (out_w - wr) + m * (w2 - w)) * 1e4]
                exhaust = None
            elif part.kind == "mixing":
                back = handler - outdoor
                h = outdoor * enthalpy(t, w) + back * enthalpy(tr, wr)
                r += [(h - handler * enthalpy(t2, w2)) / 1000.0, (outdoor * w + back * wr - handler * w2) * 1e4]
                m = handler
            elif part.id in surface:
                bypass, dew = part.get("bypass", 0.1), surface[part.id]
                ws = min(w, saturated_w(dew, self.p))
                h = bypass * enthalpy(t, w) + (1 - bypass) * enthalpy(dew, ws)
                r += [(enthalpy(t2, w2) - h) / 1000.0, (bypass * w + (1 - bypass) * ws - w2) * 1e4]
            elif part.kind == "supply_fan":
                r += [(enthalpy(t2, w2) - enthalpy(t, w) - self._fan_j_kg(part, t, w, m)) / 1000.0, (w2 - w) * 1e4]
            elif part.kind == "duct":
                m = supplied
                fall = np.exp(-part.get("ua_w_k") / (m * cp(w)))
                r += [t2 - (part.get("around_c", 24.0) + (t - part.get("around_c", 24.0)) * fall), (w2 - w) * 1e4]
            elif self.heats_on.get(part.id):
                r.append((w2 - w) * 1e4)
            else:
                r += [t2 - t, (w2 - w) * 1e4]
            t, w = t2, w2
        if control:
            r.append(t - target)
        if exhaust is not None:
            r += [node["exhaust"][0] - exhaust[0], (node["exhaust"][1] - exhaust[1]) * 1e4]

    # -- answers -------------------------------------------------------------------------------------------------
    def solve(self) -> tuple[dict[str, Array], Array, Array, float]:
        """(states of nodes, rooms (n, 2), flows (n,), largest residual)."""
        got = least_squares(self.residuals, self.pack(), x_scale="jac", ftol=1e-14, xtol=1e-14, gtol=1e-14)
        node, room, flow, _ = self.unpack(got.x)
        return node, room, flow, float(np.abs(got.fun).max())


def rh_w(t: float, rh: float, p: float) -> float:
    w = saturated_w(t, p)
    pw = rh * w * p / (0.621945 + w)
    return 0.621945 * pw / (p - pw)
