"""Plant that runs by the hour: which heat each hour takes, and where the air drifts when it is off.

The room's day is G th = f + q: (24, 24) response G of the air, heat f that reaches the air held at the reference
temperature, plant heat q (> 0 heats). Each hour is free, at a set-point, or at a limit; the states follow from the
signs.

Source: own method: complementarity of plant and drift in periodic days.
"""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError

FREE, AT_HEAT, AT_COOL, HEAT_LIMIT, COOL_LIMIT = range(5)
MOST_PASSES = 60
_BLOCK = 1500  # room-months solved at once; their matrices stay in cache


@dataclass(frozen=True, slots=True, eq=False)
class Plan:
    """When the plant runs and what it holds; R rooms.

    on bool, heat_c <= cool_c [degC], each (R, M, 24) for M days, or (R, 24) for days alike
    heat_limit_w, cool_limit_w (R,) >= 0, inf without a limit
    held (R,) rooms that are kept at cool_c all day, whichever way the heat goes
    """

    on: NDArray[np.bool_]
    heat_c: NDArray[np.float64]
    cool_c: NDArray[np.float64]
    heat_limit_w: NDArray[np.float64]
    cool_limit_w: NDArray[np.float64]
    held: NDArray[np.bool_]

    def __post_init__(self) -> None:
        crossed = (self.heat_c > self.cool_c + 1e-9).reshape(len(self.held), -1).any(axis=1) & ~self.held
        if crossed.any():
            r = int(np.argmax(crossed))
            raise InputError(
                "The heating set-point is above the cooling set-point",
                where=f"room {r}",
                remedy="Lower the one or raise the other",
            )
        if not (np.all(self.heat_limit_w >= 0) and np.all(self.cool_limit_w >= 0)):
            raise InputError("A limit of the plant must be 0 W or more")

    def rows(self, which) -> "Plan":
        """The plan of some of the rooms."""
        return Plan(
            self.on[which],
            self.heat_c[which],
            self.cool_c[which],
            self.heat_limit_w[which],
            self.cool_limit_w[which],
            self.held[which],
        )

    def through(self, days: int) -> "Plan":
        """The plan with its hours and set-points by day, (R, days, 24)."""
        if self.on.ndim == 3:
            return self
        heat, cool = (np.repeat(x[:, None], days, axis=1) for x in (self.heat_c, self.cool_c))
        return replace(self, on=np.repeat(self.on[:, None], days, axis=1), heat_c=heat, cool_c=cool)

    def of_day(self, day: NDArray[np.intp]) -> "Plan":
        """The plan of one day (R,) for each room, (R, 24)."""
        if self.on.ndim == 2:
            return self
        rows = np.arange(len(self.held))
        return replace(self, on=self.on[rows, day], heat_c=self.heat_c[rows, day], cool_c=self.cool_c[rows, day])

    def unlimited(self) -> "Plan":
        """The same plan with plant as strong as is asked of it."""
        endless = np.full(len(self.held), np.inf)
        return Plan(self.on, self.heat_c, self.cool_c, endless, endless, self.held)


@dataclass(frozen=True, slots=True, eq=False)
class PlantDays:
    """air_c and heat_w (R, M, 24), heat > 0 heats; state (R, M, 24); unsolved (R, M) where no set of states was
    found.
    """

    air_c: NDArray[np.float64]
    heat_w: NDArray[np.float64]
    state: NDArray[np.int8]
    unsolved: NDArray[np.bool_]


def held_all_day(set_point_c: NDArray[Any]) -> Plan:
    """The plan of rooms kept at one temperature (R,) around the clock."""
    level = np.repeat(np.asarray(set_point_c, float)[:, None], 24, axis=1)
    endless = np.full(len(level), np.inf)
    return Plan(np.ones(level.shape, bool), level, level, endless, endless, np.ones(len(level), bool))


def air_matrix(air_hours: NDArray[Any], exchange_w_k: NDArray[Any], capacity_j_k: NDArray[Any]) -> NDArray[np.float64]:
    """G (R, 24, 24) [W/K] from the air's folded response in hours (R, 24), exchange (R,) or (R, 24) and capacity (R,).

    Row = hour of the heat, column = hour of the air temperature. The air's own storage is a backward difference
    over an hour: monotone, so that nothing rings when the plant switches.
    """
    hour = np.arange(24)
    g = air_hours[:, (hour[:, None] - hour[None, :]) % 24]
    stored = capacity_j_k[:, None] / 3600
    exchange = exchange_w_k[:, None] if exchange_w_k.ndim == 1 else exchange_w_k
    g[:, hour, hour] += exchange + stored
    g[:, hour, hour - 1] -= stored
    return g


def run_plant(g: NDArray[Any], f: NDArray[Any], plan: Plan) -> PlantDays:
    """States, air temperatures and plant heat of R rooms through M days.

    g (R, 24, 24) [W/K], f (R, M, 24) [W] for temperatures in degC. A linear complementarity problem in every
    room and day; G is an M-matrix but for a trace, so moving each hour to the state its sign demands ends after a few
    passes. Raises InputError for a free room that has nowhere to lose its heat (G singular).
    """
    rooms, days = f.shape[:2]
    plan = plan.through(days)
    air, heat = np.empty_like(f), np.empty_like(f)
    state = np.zeros(f.shape, np.int8)
    unsolved = np.zeros((rooms, days), bool)
    held = plan.held
    if held.any():
        air[held] = plan.cool_c[held]
        heat[held] = np.einsum("rij,rmj->rmi", g[held], plan.cool_c[held]) - f[held]
        state[held] = np.where(heat[held] > 0, AT_HEAT, AT_COOL)
    rest = np.flatnonzero(~held)
    if len(rest):
        loss = g[rest].sum(axis=(1, 2)) / 24
        if np.any((loss < 1e-9) & ~plan.on[rest].any(axis=(1, 2))):
            raise InputError(
                "A room without plant has nowhere for its heat to go",
                where="its surfaces",
                remedy="Give it an outside wall, a roof, a floor on ground or air leakage",
            )
        step = max(1, _BLOCK // days)
        for lo in range(0, len(rest), step):
            part = rest[lo : lo + step]
            air[part], heat[part], state[part], unsolved[part] = _settle(g[part], f[part], plan.rows(part))
    return PlantDays(air, heat, state, unsolved)


def _settle(
    g: NDArray[Any], f: NDArray[Any], plan: Plan
) -> tuple[NDArray[Any], NDArray[Any], NDArray[Any], NDArray[Any]]:
    rooms, days = f.shape[:2]
    room = np.repeat(np.arange(rooms), days)
    force = f.reshape(-1, 24)
    on = plan.on.reshape(-1, 24)
    low, high = (x.reshape(-1, 24) for x in (plan.heat_c, plan.cool_c))
    most_heat, most_cool = plan.heat_limit_w[room][:, None], plan.cool_limit_w[room][:, None]
    one_point = high - low < 1e-9
    # The air alone, everywhere: where it leaves the band while the plant runs, the plant steps in.
    with np.errstate(all="ignore"):
        alone = np.linalg.solve(g + 1e-12 * np.eye(24), f.transpose(0, 2, 1)).transpose(0, 2, 1).reshape(-1, 24)
    state = np.where(on & (alone > high), AT_COOL, np.where(on & (alone < low), AT_HEAT, FREE)).astype(np.int8)
    air, heat = alone.copy(), np.zeros_like(force)
    scale = np.abs(force).max(axis=1, keepdims=True) + 1.0
    open_ = np.flatnonzero((state != FREE).any(axis=1))
    for turn in range(MOST_PASSES):
        if not len(open_):
            break
        air[open_], heat[open_] = _solve(g, force, room, state, low, high, most_heat, most_cool, open_)
        s, th, q, tol = state[open_], air[open_], heat[open_], 1e-9 * scale[open_]
        lo_c, hi_c, runs, same = low[open_], high[open_], on[open_], one_point[open_]
        new = s.copy()
        new[(s == FREE) & runs & (th > hi_c + 1e-9)] = AT_COOL
        new[(s == FREE) & runs & (th < lo_c - 1e-9)] = AT_HEAT
        wrong = (s == AT_COOL) & (q > tol)
        new[wrong] = np.where(same[wrong], AT_HEAT, FREE)
        wrong = (s == AT_HEAT) & (q < -tol)
        new[wrong] = np.where(same[wrong], AT_COOL, FREE)
        new[(s == AT_COOL) & (q < -most_cool[open_] - tol)] = COOL_LIMIT
        new[(s == AT_HEAT) & (q > most_heat[open_] + tol)] = HEAT_LIMIT
        new[(s == COOL_LIMIT) & (th < hi_c - 1e-9)] = AT_COOL
        new[(s == HEAT_LIMIT) & (th > lo_c + 1e-9)] = AT_HEAT
        moved = new != s
        if turn > 25:  # never seen on rooms; one hour at a time cannot go round in circles
            first = np.argmax(moved, axis=1)
            only = np.zeros_like(moved)
            only[np.arange(len(first)), first] = True
            moved &= only
            new = np.where(moved, new, s)
        state[open_] = new
        open_ = open_[moved.any(axis=1)]
    unsolved = np.zeros(len(force), bool)
    unsolved[open_] = True
    shape = (rooms, days, 24)
    return air.reshape(shape), heat.reshape(shape), state.reshape(shape), unsolved.reshape(rooms, days)


def _solve(g, force, room, state, low, high, most_heat, most_cool, which) -> tuple[NDArray[Any], NDArray[Any]]:
    """Air and heat of the problems `which` with their states as they stand; alike matrices are inverted once."""
    s = state[which]
    fixed = (s == AT_HEAT) | (s == AT_COOL)
    known = np.where(s == HEAT_LIMIT, most_heat[which], np.where(s == COOL_LIMIT, -most_cool[which], 0.0))
    right = np.where(fixed, np.where(s == AT_HEAT, low[which], high[which]), force[which] + np.where(fixed, 0.0, known))
    inverse, row, _ = patterns(g, room[which], fixed)
    th = np.einsum("pij,pj->pi", inverse[row], right)
    th = np.where(fixed, right, th)
    q = np.where(fixed, np.einsum("pij,pj->pi", g[room[which]], th) - force[which], known)
    return th, q


def patterns(
    g: NDArray[Any], room: NDArray[Any], fixed: NDArray[Any]
) -> tuple[NDArray[Any], NDArray[Any], NDArray[Any]]:
    """(inverse (U, 24, 24), row (P,), first (U,)): one inverse for every room and set of fixed hours among P
    problems.
    """
    code = room.astype(np.int64) << 24 | (fixed @ (1 << np.arange(24))).astype(np.int64)
    _, first, row = np.unique(code, return_index=True, return_inverse=True)
    matrix = g[room[first]].copy()
    mask = fixed[first]
    matrix[mask] = 0.0
    which, hour = np.nonzero(mask)
    matrix[which, hour, hour] = 1.0
    return np.linalg.inv(matrix), row.reshape(-1), first


def shares(g: NDArray[Any], state: NDArray[Any], causes_w: NDArray[Any]) -> NDArray[np.float64]:
    """Each cause's share of the load (causes, R, M, 24) [W], > 0 = cooling, with the states of a solution fixed.

    state (R, M, 24); causes_w (causes, R, M, 24) heat by cause relative to the set-point of the day.
    In set-point hours a cause gives what it brings then, and what it stored in the hours when the plant was off;
    in free hours nothing. Linear, so the shares sum to the whole.
    """
    _count, rooms, days = causes_w.shape[:3]
    result = np.zeros_like(causes_w)
    fixed_all = (state == AT_HEAT) | (state == AT_COOL)
    there = np.flatnonzero(causes_w.any(axis=(1, 2, 3)))
    step = max(1, _BLOCK // days)
    for lo in range(0, rooms, step):
        part = slice(lo, min(rooms, lo + step))
        fixed = fixed_all[part].reshape(-1, 24)
        room = np.repeat(np.arange(part.stop - lo), days)
        f = causes_w[there, part].reshape(len(there), -1, 24).transpose(1, 2, 0)  # (P, 24, causes)
        inverse, row, first = patterns(g[part], room, fixed)
        # A cause alone: the air is at the set-point (0) while it is held, and drifts where it is not. What it stores
        # meanwhile comes back through `kernel`, one for every room and set of held hours.
        held = fixed[first]
        kernel = np.where(held[:, :, None] & ~held[:, None, :], g[part][room[first]] @ inverse, 0.0)
        share = np.where(fixed[:, :, None], f, 0.0) - kernel[row] @ f
        result[there, part] = share.transpose(2, 0, 1).reshape(len(there), part.stop - lo, days, 24)
    return result
