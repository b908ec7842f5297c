"""The air system as a chain of parts, solved for many hours at once with all its feedbacks.

A train is an ordered list of parts: what the outdoor air passes on its way to the rooms, the rooms, what their air passes on its
way back. Nothing is assumed of the order but what the list says. Five figures are torn (supply temperature and humidity, the
fan's rise, return temperature and humidity); a sweep marches rooms, return, handler, and Newton closes the loop for all hours
together. Methods: Air, section e. t degC, w kg/kg, m kg dry air/s, W.
"""

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.psychro import processes as do
from garnetfin.core.psychro import properties as air

Array = NDArray[np.float64]
SUPPLY_KINDS = ("intake", "filter", "recovery", "preheat", "precool", "mixing", "cooling", "heating", "humidifier", "supply_fan",
                "attenuator", "duct", "terminals")
RETURN_KINDS = ("plenum", "return_fan", "attenuator", "relief")
ONCE = ("intake", "recovery", "mixing", "supply_fan", "duct", "terminals", "rooms", "plenum", "return_fan", "relief")
FIRST_SWEEPS, MOST_STEPS, FRESH_EVERY, DAMPED_SWEEPS = 2, 60, 10, 200
FEW = 400                             # hours
STEP = np.array([1e-4, 1e-7, 1e-4, 1e-4, 1e-7])
LIMIT = np.array([10.0, 0.005, 10.0, 10.0, 0.005])
SETTLED = np.array([1e-6, 1e-10, 1e-6, 1e-6, 1e-10])      # some milliwatts in a large system
START = np.array([16.0, 0.008, 1.0, 24.0, 0.009])
WATER_J_KG = 4186.0 * 10.0           # of a spray's water at 10 degC
SMALLEST = 1e-9                      # kg/s below which nothing flows


@dataclass(frozen=True, slots=True)
class Part:
    """A part of a train: figures by name in SI, and what is chosen."""

    id: str
    kind: str
    figures: dict[str, float] = field(default_factory=dict)
    choice: str = ""

    def get(self, name: str, usual: float = 0.0) -> float:
        return self.figures.get(name, usual)


@dataclass(frozen=True, slots=True, eq=False)
class Rooms:
    """Rooms of a system (R,). Flows in kg/s; moves (transfers, 2) rooms air leaves and enters, with `transfer_kg_s`.

    set_c, sensible_w, latent_w (R, H): set-point and loads; sensible below 0 is heating. humid_high (R,): relative humidity limit.
    """

    design_kg_s: Array
    least_kg_s: Array
    extract_kg_s: Array
    offset_share: Array
    moves: NDArray[np.intp]
    transfer_kg_s: Array
    set_c: Array
    sensible_w: Array
    latent_w: Array
    humid_high: Array
    units: NDArray[np.bool_]         # rooms that a unit or heater serves, where the system has such
    heaters: NDArray[np.bool_]       # rooms with a heater of their own in any system


@dataclass(frozen=True, slots=True, eq=False)
class Hours:
    """Conditions of the hours (H,). plenum_w is heat to the return air above ceilings."""

    outdoor_c: Array
    outdoor_w: Array
    pressure_pa: float
    on: NDArray[np.bool_]
    cooling: NDArray[np.bool_]
    heating: NDArray[np.bool_]
    plenum_w: Array


@dataclass(frozen=True, slots=True)
class Control:
    """How the system answers. flow: fixed, load. supply: held (at the rooms), coil (held leaving the coil), room (what the rooms
    need together), neediest (of the room that needs it coldest). rest: none, reheat, unit, heater - what else serves a room."""

    flow: str = "fixed"
    supply: str = "held"
    rest: str = "none"
    supply_c: float = 14.0
    warm_limit_k: float = 11.0
    outdoor_kg_s: float = 0.0        # least outdoor air; ignored without mixing


@dataclass(frozen=True, slots=True, eq=False)
class Node:
    """The air behind a part, or at a named place: t, w, m (H,)."""

    id: str
    t: Array
    w: Array
    m: Array


@dataclass(frozen=True, slots=True, eq=False)
class Solved:
    """A train at H hours; rooms (R, H). heat_w: heat into the air by part; coils take it out, so theirs is below 0."""

    nodes: dict[str, Node]
    heat_w: dict[str, Array]
    water_kg_s: dict[str, Array]     # into the air by part; condensate below 0
    coils: dict[str, do.Coil]
    supply_kg_s: Array               # (R, H)
    supply_c: Array                  # (R, H) behind the terminals
    reheat_w: Array
    unit_w: Array                    # cooling of room units > 0, heating < 0
    room_c: Array
    room_w: Array
    handler_kg_s: Array
    outdoor_kg_s: Array
    relief_kg_s: Array
    return_kg_s: Array
    leak_kg_s: Array
    raised_kg_s: Array               # outdoor air beyond what is wanted, because too little air returns
    recovery_share: Array
    frost: NDArray[np.bool_]
    free: NDArray[np.bool_]          # outdoor air beyond the least, by choice
    fog_kg_s: Array
    humid_short: NDArray[np.bool_]
    target_c: Array                  # supply temperature wanted at the terminals
    residual: Array                  # largest of the torn figures, in units of SETTLED
    steps: int
    energy: dict[str, Array]         # closing of every node [W]
    water: dict[str, Array]          # [kg/s]

    @property
    def solved(self) -> NDArray[np.bool_]:
        return self.residual <= 1e3

    @property
    def cooling_w(self) -> Array:
        """All that is taken out by coils of the handler."""
        return sum((c.total_w for c in self.coils.values()), np.zeros(len(self.handler_kg_s)))

    @property
    def sensible_w(self) -> Array:
        return sum((c.sensible_w for c in self.coils.values()), np.zeros(len(self.handler_kg_s)))


def check_order(parts: tuple[Part, ...]) -> None:
    """Raise InputError where a train cannot be: parts twice, on the wrong side, or behind what they feed."""
    kinds = [p.kind for p in parts]
    for kind in ONCE:
        if kinds.count(kind) > 1:
            raise InputError(f"A train has one {kind.replace('_', ' ')}, not {kinds.count(kind)}", remedy="Take one out")
    for kind in ("rooms", "terminals"):
        if kind not in kinds:
            raise InputError(f"A train needs {kind}", remedy=f"Put the {kind} in")
    at = kinds.index("rooms")
    for i, kind in enumerate(kinds):
        if kind == "rooms":
            continue
        if i < at and kind not in SUPPLY_KINDS or i > at and kind not in RETURN_KINDS:
            raise InputError(f"The {kind.replace('_', ' ')} is on the wrong side of the rooms", remedy="Drag it to the other duct")
    if kinds.index("terminals") != at - 1:
        raise InputError("Terminals come last before the rooms", remedy="Move what is behind them in front of them")
    if "duct" in kinds and kinds.index("duct") != at - 2:
        raise InputError("The supply duct comes right before the terminals", remedy="Move what is behind it in front of it")
    if "intake" in kinds and kinds[0] != "intake":
        raise InputError("The intake comes first", remedy="Move it to the front")
    if "recovery" in kinds and "mixing" in kinds and kinds.index("recovery") > kinds.index("mixing"):
        raise InputError("A heat recovery stands before the mixing", remedy="Move it in front of the mixing")
    if "relief" in kinds and kinds[-1] != "relief":
        raise InputError("The relief comes last", remedy="Move it to the end")


def solve(parts: tuple[Part, ...], rooms: Rooms, hours: Hours, control: Control, start: Array | None = None) -> Solved:
    """The train at every hour. Hours that do not converge keep their best state, with the residual that is left.

    start (5, H) may hold torn figures of a like problem. Raises InputError for a train that cannot be.
    """
    check_order(parts)
    sweep = _Sweep(parts, rooms, hours, control)
    count = len(hours.outdoor_c)
    x = np.repeat(START[:, None], count, axis=1) if start is None else start.copy()
    active, residual = np.flatnonzero(hours.on), np.zeros(count)
    steps = 0
    if len(active):
        for _ in range(FIRST_SWEEPS):
            x[:, active] = sweep.torn(x[:, active], active)
        x[:, active], residual[active], steps = _settle(sweep, x[:, active], active)
        left = np.flatnonzero(residual > 1.0)
        if len(left):
            x[:, left], residual[left] = _damped(sweep, x[:, left], left)
    return sweep.record(x, residual, steps)


def _size(r: Array) -> Array:
    return np.nan_to_num(np.abs(r / SETTLED[:, None]).max(axis=0), nan=np.inf)


def _slopes(sweep: "_Sweep", x: Array, r: Array, at: NDArray) -> Array:
    """Of the residuals by finite differences (h, 5, 5), scaled so that kelvins and grams weigh alike."""
    hours = x.shape[1]
    slope = np.empty((hours, 5, 5))
    # A few hours are moved five ways in one sweep; many are not, since their arrays would leave the cache.
    together = 5 if hours <= FEW else 1
    for first in range(0, 5, together):
        moved = np.tile(x, together)
        for k in range(together):
            moved[first + k, k * hours:(k + 1) * hours] += STEP[first + k]
        change = sweep.torn(moved, np.tile(at, together)) - moved - np.tile(r, together)
        for k in range(together):
            slope[:, :, first + k] = (change[:, k * hours:(k + 1) * hours] / STEP[:, None]).T
    bad = ~np.isfinite(slope).all(axis=(1, 2))
    bad |= np.abs(np.linalg.det(np.where(bad[:, None, None], 0.0, slope))) < 1e-9
    slope[bad] = -np.eye(5)
    return slope


def _settle(sweep: "_Sweep", x: Array, at: NDArray) -> tuple[Array, Array, int]:
    """Newton with slopes kept up to date by Broyden's rule; hour by hour a step that does not help is halved.

    Hours leave as they settle. The best state found comes back with its residual.
    """
    best, best_size = x.copy(), np.full(x.shape[1], np.inf)
    live = np.arange(x.shape[1])
    now, slope = x, np.empty(0)
    r = sweep.torn(now, at) - now
    step = np.zeros_like(now)
    for count in range(MOST_STEPS):
        size = _size(r)
        better = size < best_size[live]
        best[:, live[better]], best_size[live[better]] = now[:, better], size[better]
        going = size > 1.0
        if not going.any():
            return best, best_size, count
        if not going.all():
            live, now, r, size, step = live[going], now[:, going], r[:, going], size[going], step[:, going]
            slope = slope[going] if len(slope) else slope
        if count % FRESH_EVERY == 0:
            slope = _slopes(sweep, now, r, at[live])
        full = np.linalg.solve(slope, -(r / STEP[:, None]).T[:, :, None])[:, :, 0].T * STEP[:, None]
        step = np.clip(full, -LIMIT[:, None], LIMIT[:, None])
        new = now + step
        new_r = sweep.torn(new, at[live]) - new
        worse = _size(new_r) > 4 * size
        if worse.any():
            step = np.where(worse, 0.25 * step, step)
            new = now + step
            new_r = sweep.torn(new, at[live]) - new
        s, y = (step / STEP[:, None]).T, ((new_r - r) / STEP[:, None]).T
        moved = np.maximum((s * s).sum(axis=1), 1e-30)
        slope = slope + ((y - np.einsum("hij,hj->hi", slope, s)) / moved[:, None])[:, :, None] * s[:, None, :]
        flat = ~(np.abs(np.linalg.det(np.nan_to_num(slope))) > 1e-9)
        slope[flat] = -np.eye(5)
        now, r = new, np.nan_to_num(new_r, nan=1e9)
    return best, best_size, MOST_STEPS


def _damped(sweep: "_Sweep", x: Array, at: NDArray) -> tuple[Array, Array]:
    """Half steps of plain substitution, for hours on an edge between two ways of running."""
    best, best_size, now = x.copy(), np.full(x.shape[1], np.inf), x
    for _ in range(DAMPED_SWEEPS):
        r = sweep.torn(now, at) - now
        size = _size(r)
        better = size < best_size
        best, best_size = np.where(better, now, best), np.where(better, size, best_size)
        if (best_size <= 1.0).all():
            break
        now = now + 0.5 * np.nan_to_num(r)
    return best, best_size


@dataclass(slots=True)
class _Trace:
    """What one sweep found; parts add to it on their way."""

    nodes: dict[str, Node] = field(default_factory=dict)
    heat: dict[str, Array] = field(default_factory=dict)
    water: dict[str, Array] = field(default_factory=dict)
    coils: dict[str, do.Coil] = field(default_factory=dict)
    extra: dict[str, Array] = field(default_factory=dict)


class _Sweep:
    """One march through rooms, return and handler from torn figures to torn figures."""

    def __init__(self, parts: tuple[Part, ...], rooms: Rooms, hours: Hours, control: Control) -> None:
        at = [p.kind for p in parts].index("rooms")
        self.supply, self.back, self.rooms_id = parts[:at], parts[at + 1:], parts[at].id
        self.rooms, self.hours, self.control = rooms, hours, control
        self.p = hours.pressure_pa
        self.duct = next((p for p in self.supply if p.kind == "duct"), None)
        self.leak = self.duct.get("leakage") if self.duct else 0.0
        self.fan = next((p for p in self.supply if p.kind == "supply_fan"), None)
        self.recovery = next((p for p in self.supply if p.kind == "recovery"), None)
        self.mixing = next((p for p in self.supply if p.kind == "mixing"), None)
        self.moisture = rooms.latent_w / air.vapour_enthalpy(rooms.set_c)
        self.into = np.bincount(rooms.moves[:, 1], rooms.transfer_kg_s, len(rooms.design_kg_s)) if len(rooms.moves) else 0.0 * rooms.design_kg_s
        self.out = np.bincount(rooms.moves[:, 0], rooms.transfer_kg_s, len(rooms.design_kg_s)) if len(rooms.moves) else 0.0 * rooms.design_kg_s
        self.fed = np.flatnonzero(self.into > 0)
        self.flowing = [(ab, flow) for ab, flow in zip(rooms.moves, rooms.transfer_kg_s) if flow > 0]

    def torn(self, x: Array, at: NDArray) -> Array:
        return self._march(x, at, _Trace())[0]

    # -- rooms -----------------------------------------------------------------------------------------------------
    def _rooms(self, ts: Array, ws: Array, at: NDArray) -> dict[str, Array]:
        """Flows, what serves each room beside the air, and where its air ends up; all (R, h)."""
        rooms, control = self.rooms, self.control
        set_c, q = rooms.set_c[:, at], rooms.sensible_w[:, at]
        cp = air.specific_heat(ws)
        net = q
        if len(rooms.moves):
            a, b = rooms.moves.T
            net = q.copy()
            np.subtract.at(net, b, rooms.transfer_kg_s[:, None] * cp * (set_c[b] - set_c[a]))
        design = rooms.design_kg_s[:, None]
        if control.flow == "load":
            fall = set_c - ts
            cold = np.where((net > 0) & (fall > 0.1), net / (cp * np.maximum(fall, 0.1)), 0.0)
            warm = np.where(net < 0, -net / (cp * control.warm_limit_k), 0.0)
            m = np.clip(np.maximum(cold, warm), np.minimum(rooms.least_kg_s, rooms.design_kg_s)[:, None], design)
        else:
            m = design + np.zeros_like(set_c)
        flowing = m > SMALLEST
        need = np.where(flowing, set_c - net / (np.where(flowing, m, 1.0) * cp), set_c)
        heating, cooling = self.hours.heating[at], self.hours.cooling[at]
        behind, unit = np.broadcast_to(ts, set_c.shape), np.zeros_like(set_c)
        if control.rest == "reheat":
            most = set_c + control.warm_limit_k
            behind = np.where(heating & flowing, np.maximum(ts, np.minimum(need, most)), ts)
        elif control.rest in ("unit", "heater"):
            left = net - m * cp * (set_c - ts)
            unit = np.where(left > 0, left * cooling, left * heating) if control.rest == "unit" else np.where(left < 0, left * heating, 0.0)
            unit = unit * rooms.units[:, None]
        if rooms.heaters.any():
            left = net - m * cp * (set_c - ts)
            unit = np.where(rooms.heaters[:, None] & (left < 0), left * heating, unit)
        w = np.where(flowing, ws + self.moisture[:, at] / np.where(flowing, m, 1.0), ws)
        carried, heat = m * cp, q - unit + m * cp * behind
        t = np.where(flowing, heat / np.where(flowing, carried, 1.0), set_c)
        if len(self.fed):
            w, t = self._transfers(m, w, t, ws, carried, heat, at)
        return {"m": m, "need": need, "behind": behind, "unit": unit, "reheat": m * cp * (behind - ts), "t": t, "w": w}

    def _transfers(self, m: Array, w: Array, t: Array, ws: Array, carried: Array, heat: Array, at: NDArray) -> tuple[Array, Array]:
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
    def _march(self, x: Array, at: NDArray, trace: _Trace) -> tuple[Array, _Trace]:
        ts, ws, rise, tr, wr = x
        found = self._rooms(ts, ws, at)
        m = found["m"]
        supplied = m.sum(axis=0)
        handler = supplied / (1 - self.leak)
        back, offset = self._leaving(m)
        leak = self.leak * handler
        leak_t, leak_w = tr, wr
        # What leaks out of the duct leaves behind the fan; before the first sweep it is taken as supply air.
        if self.duct is not None and self.leak > 0:
            leak_t, leak_w = do.duct_before(ts, ws, supplied, self.duct.get("around_c", 24.0), self.duct.get("ua_w_k")), ws
        target = self._target(found, at)
        new_back = self._return(found, back, leak, leak_t, leak_w, at, trace)
        returned = new_back[2]
        supply = self._handler(x, handler, supplied, returned, target, at, found, trace)
        if trace.extra is not None:
            trace.extra.update(found | {"back": back, "offset": offset, "handler": handler, "returned": returned, "leak": leak,
                                        "target": target, "leak_t": leak_t, "leak_w": leak_w, "supplied": supplied})
        ts2, ws2, rise2 = supply
        return np.array([ts2, ws2, rise2, new_back[0], new_back[1]]), trace

    def _target(self, found: dict[str, Array], at: NDArray) -> Array:
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

    def _return(self, found: dict[str, Array], back: Array, leak: Array, leak_t: Array, leak_w: Array, at: NDArray,
                trace: _Trace) -> tuple[Array, Array, Array]:
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
                heat = np.where(some, total * part.get("to_air", 1.0) * do.fan_work(t, wr, self.p, part.get("pressure_pa"), part.get("efficiency", 0.6)), 0.0)
            else:
                heat = 0.0 * total
            trace.heat[part.id] = heat
            hr = hr + heat / np.where(some, total, 1.0)
            trace.nodes[part.id] = Node(part.id, air.temperature(hr, wr), wr, total)
        tr = air.temperature(hr, wr)
        trace.nodes["return"] = Node("return", tr, wr, total)
        return tr, wr, total

    def _pull(self, i: int, target: Array, w_now: Array, w_goal: Array, rise: Array, supplied: Array) -> Array:
        """Temperature wanted behind part i for `target` at the terminals (behind the coil for a coil that is held)."""
        t, w_out = target, np.where(w_goal > w_now, w_goal, w_now)
        for part in reversed(self.supply[i + 1:]):
            if part.kind == "duct":
                t = do.duct_before(t, w_out, supplied, part.get("around_c", 24.0), part.get("ua_w_k"))
            elif part.kind == "supply_fan":
                t = t - rise
            elif part.kind == "humidifier":
                water = np.maximum(w_out - w_now, 0.0)
                enthalpy = do.STEAM_J_KG if part.choice != "spray" else WATER_J_KG
                t = air.temperature(air.enthalpy(t, w_out) - water * enthalpy, w_now)
                w_out = w_now
        return t

    def _humid_goal(self, found: dict[str, Array], at: NDArray) -> Array:
        """Humidity ratio of the supply air that keeps the rooms, taken together, at the humidifier's set-point."""
        part = next((p for p in self.supply if p.kind == "humidifier"), None)
        m = found["m"].sum(axis=0)
        if part is None or part.get("humidity") <= 0:
            return np.zeros_like(m)
        some = np.maximum(m, SMALLEST)
        set_c = (found["m"] * self.rooms.set_c[:, at]).sum(axis=0) / some
        return np.where(m > SMALLEST, air.humidity_ratio(set_c, part.get("humidity"), self.p) - self.moisture[:, at].sum(axis=0) / some, 0.0)

    def _driest(self, found: dict[str, Array], at: NDArray) -> Array:
        """Supply humidity at which the dampest room just keeps its limit."""
        limit = air.humidity_ratio(self.rooms.set_c[:, at], self.rooms.humid_high[:, None], self.p)
        m = found["m"]
        return np.where(m > SMALLEST, limit - self.moisture[:, at] / np.maximum(m, SMALLEST), np.inf).min(axis=0)

    def _handler(self, x: Array, handler: Array, supplied: Array, returned: Array, target: Array, at: NDArray,
                 found: dict[str, Array], trace: _Trace) -> tuple[Array, Array, Array]:
        _, ws, rise, tr, wr = x
        p, to, wo = self.p, self.hours.outdoor_c[at], self.hours.outdoor_w[at]
        goal = self._humid_goal(found, at)
        cooling, heating = self.hours.cooling[at], self.hours.heating[at]
        held = self.control.supply == "coil"

        def wanted(i: int, w_now: Array) -> Array:
            """Behind part i; a coil that is held keeps its own leaving temperature."""
            if held:
                last = max(k for k, q in enumerate(self.supply) if q.kind in ("cooling", "heating")) if any(
                    q.kind in ("cooling", "heating") for q in self.supply) else len(self.supply) - 1
                return target if i <= last else self._pull(i, target, w_now, goal, rise, supplied)
            return self._pull(i, target, w_now, goal, rise, supplied)

        outdoor, raised, free = self._outdoor(handler, returned, target, wanted, tr, wr, to, wo, at)
        relief = np.maximum(returned - (handler - outdoor), 0.0)
        t, w, m = to, wo, outdoor if self.mixing is not None else handler
        share, frost, fog, short = np.zeros_like(t), np.zeros(t.shape, bool), np.zeros_like(t), np.zeros(t.shape, bool)
        exhaust = (tr, wr)
        new_rise = np.zeros_like(t)
        trace.nodes["outdoor"] = Node("outdoor", to, wo, m)
        for i, part in enumerate(self.supply):
            heat, water = np.zeros_like(t), np.zeros_like(t)
            before = air.enthalpy(t, w)
            if part.kind == "recovery":
                share, frost = self._share(part, i, wanted, t, w, m, tr, wr, relief, handler, outdoor, free, at)
                got = do.recover(t, w, m, tr, wr, relief, part.get("sensible"), part.get("latent"), p, share)
                heat, water = got.heat_w, m * (got.w - w)
                t, w, exhaust = got.t, got.w, (got.out_t, got.out_w)
                trace.extra["exhaust_fog"] = got.condensate_kg_s
            elif part.kind == "mixing":
                recirc = np.maximum(handler - outdoor, 0.0)
                total = np.maximum(handler, SMALLEST)
                air_mix = do.settle((outdoor * air.enthalpy(t, w) + recirc * air.enthalpy(tr, wr)) / total,
                                    (outdoor * w + recirc * wr) / total, p)
                t, w, m, fog = air_mix.t, air_mix.w, handler, air_mix.fog_kg * handler
            elif part.kind in ("preheat", "heating"):
                to_c = part.get("set_c", 5.0) if part.kind == "preheat" else wanted(i, w)
                heat = np.where(heating & (to_c > t), m * air.specific_heat(w) * (to_c - t), 0.0)
                t = np.where(heating & (to_c > t), to_c, t)
            elif part.kind in ("cooling", "precool"):
                t, w, heat, water = self._cool(part, i, t, w, m, wanted, found, cooling, at, trace)
            elif part.kind == "humidifier":
                t, w, heat, water, short = self._moisten(part, t, w, m, goal)
            elif part.kind == "supply_fan":
                work = part.get("to_air", 1.0) * do.fan_work(t, w, p, part.get("pressure_pa"), part.get("efficiency", 0.6))
                heat = work * m
                new_t = air.temperature(before + work, w)
                new_rise, t = new_t - t, new_t
            elif part.kind == "duct":
                trace.nodes["before duct"] = Node("before duct", t, w, m)
                m = supplied
                new_t = do.duct_gain(t, w, m, part.get("around_c", 24.0), part.get("ua_w_k"))
                heat = m * air.specific_heat(w) * (new_t - t)
                t = new_t
            trace.heat[part.id], trace.water[part.id] = heat, water
            trace.nodes[part.id] = Node(part.id, t, w, m)
        trace.nodes["supply"] = Node("supply", t, w, supplied)
        trace.nodes["exhaust"] = Node("exhaust", *exhaust, relief)
        trace.extra.update(outdoor=outdoor, relief=relief, raised=raised, free=free, share=share, frost=frost, fog=fog, short=short)
        return t, w, new_rise

    def _outdoor(self, handler, returned, target, wanted, tr, wr, to, wo, at) -> tuple[Array, Array, Array]:
        """Outdoor air, what of it is beyond the wanted because too little returns, and where more is taken to cool for nothing."""
        if self.mixing is None:
            return handler, np.zeros_like(handler), np.zeros(handler.shape, bool)
        least = np.minimum(self.control.outdoor_kg_s, handler)
        closing = np.clip(handler - returned, least, handler)
        raised = closing - least
        i = self.supply.index(self.mixing)
        goal = wanted(i, wr)
        mixed = tr + closing / np.maximum(handler, SMALLEST) * (to - tr)
        match self.mixing.choice:
            case "dry bulb":
                open_ = to < np.minimum(self.mixing.get("changeover_c", 99.0), tr)
            case "enthalpy":
                open_ = (air.enthalpy(to, wo) < air.enthalpy(tr, wr)) & (to < tr)
            case _:
                open_ = np.zeros(to.shape, bool)
        free = open_ & (mixed > goal + 1e-9)
        share = np.where(to < tr - 1e-9, (tr - goal) / np.where(to < tr - 1e-9, tr - to, 1.0), 1.0)
        outdoor = np.where(free, np.clip(share * handler, closing, handler), closing)
        return outdoor, raised, free & (outdoor > closing + 1e-9)

    def _share(self, part: Part, i: int, wanted, t, w, m, tr, wr, relief, handler, outdoor, free, at) -> tuple[Array, NDArray]:
        """How much of the recovery is used: none where it would only have to be cooled away, less where the exhaust would freeze."""
        p = self.p
        full = do.recover(t, w, m, tr, wr, relief, part.get("sensible"), part.get("latent"), p)
        k = np.ones_like(t)
        if self.mixing is not None:
            j = self.supply.index(self.mixing)
            goal = (handler * wanted(j, wr) - (handler - outdoor) * tr) / np.maximum(outdoor, SMALLEST)
        else:
            goal = wanted(i, w)
        warms = full.t > t + 1e-9
        over = warms & (full.t > goal)
        k = np.where(over, np.clip((goal - t) / np.where(warms, full.t - t, 1.0), 0.0, 1.0), k)
        # Recovery that warms is of use only to that goal; one that cools only where cooling is wanted.
        k = np.where((full.t < t - 1e-9) & (goal > t), 0.0, k)
        k = np.where(free & warms, 0.0, k)
        frost_c = part.get("frost_c", -np.inf)
        if not np.isfinite(frost_c):
            return k, np.zeros(t.shape, bool)
        limit = do.frost_share(t, w, m, tr, wr, relief, part.get("sensible"), part.get("latent"), p, frost_c, full)
        return np.minimum(k, limit), limit < k

    def _cool(self, part: Part, i: int, t, w, m, wanted, found, cooling, at, trace) -> tuple[Array, Array, Array, Array]:
        to_c = part.get("set_c", 18.0) if part.kind == "precool" else wanted(i, w)
        coil = do.cool_to(t, w, np.where(cooling, to_c, t + 1.0), part.get("bypass", 0.1), self.p, m)
        if part.kind == "cooling" and part.choice == "dry air":
            most = self._driest(found, at)
            damp = cooling & (coil.w > most + 1e-9) & np.isfinite(most)
            if damp.any():
                drier = do.dry_to(t, w, np.where(damp, most, coil.w), part.get("bypass", 0.1), self.p, m)
                use = damp & np.isfinite(drier.t)
                coil = do.Coil(*(np.where(use, getattr(drier, n), getattr(coil, n))
                                 for n in ("t", "w", "adp_c", "total_w", "sensible_w", "condensate_kg_s")))
        trace.coils[part.id] = coil
        return coil.t, coil.w, -coil.total_w, -coil.condensate_kg_s

    def _moisten(self, part: Part, t, w, m, goal) -> tuple[Array, Array, Array, Array, NDArray]:
        water = np.maximum(goal - w, 0.0)
        enthalpy = do.STEAM_J_KG if part.choice != "spray" else WATER_J_KG
        got = do.add_water(t, w, water, enthalpy, self.p)
        short = got.w > got.most_w
        if short.any():
            # The most that still evaporates: a fixed point in two steps, since the limit hardly moves with the water.
            for _ in range(4):
                water = np.where(short, np.maximum(np.minimum(water, got.most_w - w), 0.0), water)
                got = do.add_water(t, w, water, enthalpy, self.p)
        return got.t, got.w, m * water * enthalpy, m * water, short

    # -- record ----------------------------------------------------------------------------------------------------
    def record(self, x: Array, residual: Array, steps: int) -> Solved:
        everything = np.arange(x.shape[1])
        _, trace = self._march(x, everything, _Trace())
        e, on = trace.extra, self.hours.on
        energy, water = self._closing(trace)
        keep = on.astype(float)

        def off(values: Array) -> Array:
            return values * keep
        nodes = {k: Node(k, n.t, n.w, off(n.m)) for k, n in trace.nodes.items()}
        coils = {k: do.Coil(c.t, c.w, np.where(on, c.adp_c, np.nan), off(c.total_w), off(c.sensible_w), off(c.condensate_kg_s))
                 for k, c in trace.coils.items()}
        return Solved(
            nodes, {k: off(v) for k, v in trace.heat.items()}, {k: off(v) for k, v in trace.water.items()}, coils, off(e["m"]),
            e["behind"], off(e["reheat"]), off(e["unit"]), e["t"], e["w"], off(e["handler"]), off(e["outdoor"]), off(e["relief"]),
            off(e["returned"]), off(e["leak"]), off(e["raised"]), e["share"] * keep, e["frost"] & on, e["free"] & on, off(e["fog"]),
            e["short"] & on, e["target"], np.where(on, residual, 0.0), steps, {k: off(v) for k, v in energy.items()},
            {k: off(v) for k, v in water.items()})

    def _closing(self, trace: _Trace) -> tuple[dict[str, Array], dict[str, Array]]:
        """What comes into every node less what leaves it: energy [W] and water [kg/s]."""
        e, rooms = trace.extra, self.rooms
        h = {k: air.enthalpy(n.t, n.w) for k, n in trace.nodes.items()}
        n, energy, water = trace.nodes, {}, {}
        at = "outdoor"
        for part in self.supply:
            mass = n[part.id].m
            if part.kind == "mixing":
                recirc = e["handler"] - e["outdoor"]
                energy[part.id] = (n[at].m * h[at] + recirc * h["return"] - mass * h[part.id]
                                   - e["fog"] * air.water_enthalpy(n[part.id].t))
                water[part.id] = n[at].m * n[at].w + recirc * n["return"].w - mass * n[part.id].w - e["fog"]
            else:
                lost = np.where(trace.water[part.id] < 0, trace.water[part.id], 0.0) * air.water_enthalpy(n[part.id].t)
                energy[part.id] = mass * (h[at] - h[part.id]) + trace.heat[part.id] + (lost if part.kind != "recovery" else 0.0)
                water[part.id] = mass * (n[at].w - n[part.id].w) + trace.water[part.id]
            at = part.id
        room_h = air.enthalpy(e["t"], e["w"])
        goes = e["back"] + rooms.extract_kg_s[:, None] + np.maximum(e["offset"], 0) + self.out[:, None]
        leaks_in = np.maximum(-e["offset"], 0)
        vapour = self.moisture * air.vapour_enthalpy(e["t"])
        brought, wet = np.zeros_like(room_h), np.zeros_like(room_h)
        if len(rooms.moves):
            a, b = rooms.moves.T
            np.add.at(brought, b, rooms.transfer_kg_s[:, None] * room_h[a])
            np.add.at(wet, b, rooms.transfer_kg_s[:, None] * e["w"][a])
        served = (e["m"] + self.into[:, None]) > SMALLEST
        supply_h = air.enthalpy(e["behind"], n["supply"].w)
        energy["rooms"] = (served * (e["m"] * supply_h + brought + leaks_in * room_h + rooms.sensible_w - e["unit"] + vapour
                                     - goes * room_h)).sum(axis=0)
        water["rooms"] = (served * (e["m"] * n["supply"].w + wet + leaks_in * e["w"] + self.moisture - goes * e["w"])).sum(axis=0)
        if self.recovery is not None:
            energy["exhaust"] = (e["relief"] * (h["return"] - h["exhaust"]) - trace.heat[self.recovery.id]
                                 - e["exhaust_fog"] * air.water_enthalpy(n["exhaust"].t))
            water["exhaust"] = e["relief"] * (n["return"].w - n["exhaust"].w) - trace.water[self.recovery.id] - e["exhaust_fog"]
        energy["whole"], water["whole"] = self._whole(trace, h, room_h, vapour, served)
        return energy, water

    def _whole(self, trace: _Trace, h: dict[str, Array], room_h: Array, vapour: Array, served: NDArray) -> tuple[Array, Array]:
        """The balance of the whole system, by what crosses its border alone."""
        e, n, rooms = trace.extra, trace.nodes, self.rooms
        first = n["outdoor"].m
        leaves = rooms.extract_kg_s[:, None] + e["offset"]
        gains = served * (rooms.sensible_w - e["unit"] + vapour)
        energy = first * h["outdoor"] + gains.sum(axis=0) + e["reheat"].sum(axis=0) - (served * leaves * room_h).sum(axis=0)
        water = first * n["outdoor"].w + (served * (self.moisture - leaves * e["w"])).sum(axis=0)
        for part in (*self.supply, *self.back):
            heat, drops = trace.heat.get(part.id, 0.0), trace.water.get(part.id, 0.0)
            if part.kind == "recovery":
                continue
            energy = energy + heat + (np.where(drops < 0, drops, 0.0) * air.water_enthalpy(n[part.id].t))
            water = water + drops
        energy = energy - e["relief"] * h["exhaust"] - e["fog"] * (air.water_enthalpy(n[self.mixing.id].t) if self.mixing else 0.0)
        water = water - e["relief"] * n["exhaust"].w - e["fog"]
        if self.recovery is not None:
            energy = energy - e["exhaust_fog"] * air.water_enthalpy(n["exhaust"].t)
            water = water - e["exhaust_fog"]
        if self.duct is not None and self.duct.choice == "outside":
            energy = energy - e["leak"] * h["before duct"]
            water = water - e["leak"] * n["before duct"].w
        # Return air that is neither taken again nor let out makes up for intake that was raised.
        spare = e["returned"] - (e["handler"] - e["outdoor"]) - e["relief"]
        return energy - spare * h["return"], water - spare * n["return"].w
