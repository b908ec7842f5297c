"""Finned coils: what one does at any air and water, and which is the first that does what is wanted.

Effectiveness and transfer units in eight equal sections in the order of the air, water against it; wet sections by the
enthalpy of saturated air with a Lewis number of 1. Checked against a coil solved cell by cell in real moist air: 0.5 %
of the duty, 1.9 % for two rows at eight transfer units. Air in kg dry air/s, degC, kg/kg; water in kg/s.
Methods: Coils.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.equipment import water
from garnetfin.core.equipment.catalogue import CoilSeries
from garnetfin.core.equipment.exchangers import correction
from garnetfin.core.errors import InputError
from garnetfin.core.psychro import properties as air
from garnetfin.core.psychro.processes import cool_to, rising_root, saturated, settle

Array = NDArray[np.float64]
SECTIONS, WET_ROUNDS, NEWTON_STEPS = 8, 3, 2
CLOSE_K = 1e-7  # of the water that leaves
TURNS_WET = 0.01  # of the air's water: so far below it a surface is wet all over, that nothing jumps
RATED_M_S = 2.5  # on the face, at which series give heat and drop
AIR_KG_M3 = 1.2
FEEDS = (0.25, 1 / 3, 0.5, 2 / 3, 1.0, 1.5, 2.0)  # circuits for each tube of a row
MOST_BYPASS = 0.9
CONDENSATE_J_KGK = 4186.0
REACHED_K = 0.02
VALVE_ROUNDS, VALVE_K, LEAST_VALVE = 12, 1e-4, 0.02


class Air(NamedTuple):
    """Air that enters: dry air [kg/s], degC, kg/kg, pressure [Pa]; figures or arrays."""

    flow: Any
    t: Any
    w: Any
    pressure_pa: Any = air.SEA_LEVEL_PA


class Water(NamedTuple):
    """Water that enters: kg/s, degC, specific heat [J/kgK]."""

    flow: Any
    t: Any
    heat: Any = 4190.0


class Surface(NamedTuple):
    """What a coil passes: air side, water side [W/K], factor on the air side where wet, rows (0: counterflow)."""

    air_w_k: Any
    water_w_k: Any
    wet_factor: Any = 1.0
    rows: Any = 0


@dataclass(frozen=True, slots=True, eq=False)
class Done:
    """What a coil does: heat taken from the air [W] (below 0 where it heats), leaving air and water, condensate [kg/s],
    share of its surface that is wet.
    """

    total_w: Array
    sensible_w: Array
    t: Array
    w: Array
    water_c: Array
    condensate_kg_s: Array
    wet_share: Array


def _mean_decay(x: Array) -> Array:
    """(1 - exp(-x))/x, 1 at 0."""
    small = np.abs(x) < 1e-9
    safe = np.where(small, 1.0, x)
    return np.where(small, 1.0, -np.expm1(-safe) / safe)


class _March:
    """One coil, or many at once, marched in the order of the air from a guess of the water that leaves."""

    def __init__(self, surface: Surface, of: Air, by: Water) -> None:
        broad = np.broadcast_arrays(*(np.asarray(x, float) for x in (*surface, *of, *by)))
        self.ua_air, self.ua_water, self.wet, self.rows, self.m, self.t1, self.w1, self.p, self.g, self.tw1, heat = (
            broad
        )
        self.c = self.g * heat
        self.wet_air = self.wet * self.ua_air
        self.u = 1 / (1 / self.ua_air + 1 / self.ua_water)
        mcp = self.m * air.specific_heat(self.w1)
        self.phi_dry = correction(self.u / mcp, mcp / self.c, self.rows)
        slope = (air.saturation_line(self.tw1 + 6, self.p)[1] - air.saturation_line(self.tw1 + 1, self.p)[1]) / 5
        through = 1 / (air.specific_heat(self.w1) / self.wet_air + slope / self.ua_water)
        self.phi_wet = correction(through / self.m, self.m * slope / self.c, self.rows)
        self.cools = self.tw1 < self.t1

    def run(self, leaving_c: Array) -> tuple[Array, Array, Array, Array, Array]:
        """(air degC, kg/kg, water where it enters [degC], heat to the water [W], share that is wet)."""
        t, w, tw = self.t1.copy(), self.w1.copy(), leaving_c.copy()
        heat, wet_parts = np.zeros_like(t), np.zeros_like(t)
        for _ in range(SECTIONS):
            cp = air.specific_heat(w)
            mcp = self.m * cp
            surface = tw + (t - tw) * self.u / self.ua_water
            under = (w - saturated(surface, self.p)) / (TURNS_WET * np.maximum(w, 1e-9))
            wet = np.where(self.cools, np.clip(under, 0.0, 1.0), 0.0)
            share = self.phi_dry * self.u / SECTIONS
            q = share * (t - tw) * _mean_decay(share * (1 / mcp - 1 / self.c))
            t_next, w_next = t - q / mcp, w
            if wet.any():
                g, dried, film_c = self._wet(t, w, tw, surface, cp)
                w_next = w - wet * (w - dried)
                lost = q + wet * (g - q)
                t_next = np.where(wet > 0, air.temperature(air.enthalpy(t, w) - lost / self.m, w_next), t_next)
                q = lost - self.m * (w - w_next) * CONDENSATE_J_KGK * film_c
            t, w, tw = t_next, w_next, tw - q / self.c
            heat += q
            wet_parts += wet / SECTIONS
        return t, w, tw, heat, wet_parts

    def _wet(self, t: Array, w: Array, tw: Array, surface: Array, cp: Array) -> tuple[Array, ...]:
        """(enthalpy given up [W], kg/kg, surface [degC]) of one wet section, from its dry surface on."""
        p, n = self.p, SECTIONS
        h = air.enthalpy(t, w)
        _, at_water, steep = air.saturation_line(tw, p)
        middle, at_middle, s, g = tw, at_water, surface, np.zeros_like(t)
        for round_ in range(WET_ROUNDS):
            if round_:
                _, at_middle, steep = air.saturation_line(middle, p)
            apart = np.abs(s - middle) >= 1e-3
            rise = air.saturation_line(s, p)[1] - at_middle
            chord = np.where(apart, rise / np.where(apart, s - middle, 1.0), steep)
            share = self.phi_wet / (cp / self.wet_air + chord / self.ua_water) / n
            g = share * (h - at_water) * _mean_decay(share * (1 / self.m - steep / self.c))
            middle = tw - g / (2 * self.c)
            s = middle + g * n / (self.phi_wet * self.ua_water)
        beta = -np.expm1(-self.phi_wet * self.wet_air / (n * self.m * cp))
        wanted = h - g / (self.m * beta)
        for _ in range(NEWTON_STEPS):
            _, here, steep = air.saturation_line(s, p)
            s = s - (here - wanted) / steep
        dried = np.minimum(w, w + beta * (air.saturation_line(s, p)[0] - w))
        return g, dried, s


def perform(surface: Surface, of: Air, by: Water) -> Done:
    """What coils do with air and water that enter, all broadcast.

    Raises InputError for flows or heat passed of 0 or less, or water as warm as the air.
    """
    if not all(np.all(np.asarray(x, float) > 0) for x in (of.flow, by.flow, surface.air_w_k, surface.water_w_k)):
        raise InputError("A coil needs air, water and surface above 0", where="coil")
    march = _March(surface, of, by)
    if not np.all(march.tw1 != march.t1):
        raise InputError("Water as warm as the air passes no heat", where="coil", remedy="Give another temperature")
    low, high = np.minimum(march.t1, march.tw1), np.maximum(march.t1, march.tw1)
    start = march.tw1 + 0.4 * (march.t1 - march.tw1)
    leaving = rising_root(lambda x: march.run(x)[2] - march.tw1, start, low, high, 40, CLOSE_K)
    t, w, _, heat, wet = march.run(leaving)
    fog = w > saturated(t, march.p)
    if fog.any():
        settled = settle(air.enthalpy(t, w), w, march.p)
        t, w = np.where(fog, settled.t, t), np.where(fog, settled.w, w)
    sensible = march.m * air.specific_heat(w) * (march.t1 - t)
    return Done(heat, sensible, t, w, leaving, march.m * (march.w1 - w), wet)


def marched(surface: Surface, of: Air, by: Water, leaving_c: Array) -> tuple[Array, Array, Array, Array]:
    """(leaving air [degC], kg/kg, water where it enters [degC], heat [W]) from the water that leaves."""
    return _March(surface, of, by).run(leaving_c)[:4]


def bypass_of(t1: ArrayLike, w1: ArrayLike, t2: ArrayLike, w2: ArrayLike, pressure_pa: ArrayLike) -> Array:
    """Bypass factor [-] with which `cool_to` returns a leaving state of wet cooling; 0 where it leaves saturated."""
    t1, w1, t2, w2, p = np.broadcast_arrays(*(np.asarray(x, float) for x in (t1, w1, t2, w2, pressure_pa)))
    dry = w2 >= w1 - 1e-9
    found = rising_root(
        lambda b: w2 - np.asarray(cool_to(t1, w1, t2, b, p).w),
        np.full(t1.shape, 0.1),
        np.zeros(t1.shape),
        np.full(t1.shape, MOST_BYPASS),
    )
    return np.where(dry | (saturated(t2, p) <= w2), 0.0, found)


class Face(NamedTuple):
    """Finned face of a coil [m]."""

    width_m: float
    height_m: float

    @property
    def area_m2(self) -> float:
        """[m2]"""
        return self.width_m * self.height_m


@dataclass(frozen=True, slots=True)
class Built:
    """A coil of a series: rows, circuits, its face."""

    series: CoilSeries
    rows: int
    circuits: int
    face: Face

    @property
    def name(self) -> str:
        """Series, rows and circuits in words."""
        return f"{self.series.series}, {self.rows} rows, {self.circuits} circuits"

    @property
    def tubes(self) -> int:
        """In one row."""
        return max(1, int(self.face.height_m / self.series.tube_pitch_m + 1e-9))

    @property
    def bore_m2(self) -> float:
        """Of one tube inside [m2]."""
        return float(np.pi * self.series.tube_inner_m**2 / 4)

    @property
    def bends(self) -> float:
        """Return bends of one circuit [-]."""
        return self.rows * self.tubes / self.circuits - 1

    @property
    def path_m(self) -> float:
        """Tube that water passes from header to header."""
        return self.rows * self.tubes * self.face.width_m / self.circuits

    @property
    def depth_m(self) -> float:
        """Of the finned block in the direction of the air [m]."""
        return self.rows * self.series.row_pitch_m

    @property
    def mass_kg(self) -> float:
        """Without water [kg]."""
        return self.series.mass_kg_m2 * self.face.area_m2 * self.rows

    def water_m_s(self, flow_kg_s: float, of: water.Liquid) -> float:
        """Velocity of its water in the tubes [m/s]."""
        return float(flow_kg_s / (of.density * self.circuits * self.bore_m2))

    def water_pa(self, flow_kg_s: float, of: water.Liquid) -> float:
        """Drop of its water [Pa]."""
        v = self.water_m_s(flow_kg_s, of)
        return float(water.tube_drop(v, self.series.tube_inner_m, self.path_m, self.bends, of))

    def air_pa(self, flow_kg_s: float, wet_share: float = 0.0) -> float:
        """Drop of its air [Pa], more where it is wet."""
        x = flow_kg_s / (AIR_KG_M3 * self.face.area_m2) / RATED_M_S
        dry = self.rows * self.series.drop_pa * x**self.series.drop_exponent
        return float(dry * (1 + (self.series.wet_drop_factor - 1) * wet_share))

    def surface(self, air_kg_s: float, water_kg_s: float, of: water.Liquid) -> Surface:
        """What it passes at an air and a water flow."""
        s, area = self.series, self.face.area_m2 * self.rows
        speed = air_kg_s / (AIR_KG_M3 * self.face.area_m2)
        outside = s.air_w_m2k * (speed / RATED_M_S) ** s.air_exponent * s.outside_m2_m2 * area
        film = float(water.film(self.water_m_s(water_kg_s, of), s.tube_inner_m, of))
        return Surface(outside, film * s.inside_m2_m2 * area, s.wet_factor, self.rows)


def circuitings(series: CoilSeries, rows: int, face: Face) -> tuple[Built, ...]:
    """Ways to feed a coil, fewest circuits first."""
    tubes = max(1, int(face.height_m / series.tube_pitch_m + 1e-9))
    counts = sorted({max(1, int(tubes * feed + 0.5)) for feed in FEEDS})
    return tuple(Built(series, rows, n, face) for n in counts if n <= rows * tubes)


class Wanted(NamedTuple):
    """What a coil is chosen for: air that enters at each governing hour (hours,), what leaves, water in and out [degC].

    dry_w   humidity ratio that is wanted as well; inf: none
    """

    of: Air
    leaving_c: Array
    water_in_c: float
    water_out_c: float
    face: Face
    glycol: float = 0.0
    dry_w: float = np.inf
    air_pa: float = 120.0
    water_pa: float = 30e3


@dataclass(frozen=True, slots=True, eq=False)
class Candidate:
    """A coil against what is wanted; why: "" where it serves, else air velocity, water velocity, water drop, air drop,
    duty, humidity.

    reserve   duty at its design water over what is wanted, less 1
    """

    built: Built
    why: str
    water_kg_s: float
    water_m_s: float
    water_pa: float
    air_pa: float
    total_w: float
    done: Done | None
    reserve: float = 0.0


@dataclass(frozen=True, slots=True, eq=False)
class CoilChoice:
    """The coil that serves first, and all that were looked at; None where none serves."""

    chosen: Candidate | None
    tried: tuple[Candidate, ...]


def _wanted_heat(want: Wanted, surfaces_w_k: Array, wet_factors: Array) -> Array:
    """Heat [W] at the greatest hour, of coils (coils,) that pass so much on the air's side when dry: to take out, or
    below 0 to put in. The leaving air lies on the bypass factor of that surface, of the wet one where it gets wet.
    """
    of, t2 = want.of, want.leaving_c
    if want.water_in_c > float(np.max(of.t)):
        given = np.broadcast_to(of.flow * air.specific_heat(of.w) * (of.t - t2), (len(surfaces_w_k), len(t2)))
    else:
        units = surfaces_w_k[:, None] / (of.flow * air.specific_heat(of.w))
        dry = np.exp(-units)
        wet = np.asarray(cool_to(of.t, of.w, t2, dry, of.pressure_pa).w) < of.w - 1e-9
        line = np.where(wet, np.exp(-wet_factors[:, None] * units), dry)
        given = np.asarray(cool_to(of.t, of.w, t2, line, of.pressure_pa, of.flow).total_w)
    greatest: Array = given[np.arange(len(given)), np.abs(given).argmax(axis=1)]
    return greatest


def _with_water(series: CoilSeries, rows: int, want: Wanted, total_w: float, liquid: water.Liquid) -> Candidate:
    """A row count with the circuits that suit its water, before its duty is looked at."""
    first = Built(series, rows, 1, want.face)
    most = float(np.max(want.of.flow))
    flow = abs(total_w) / (float(liquid.heat) * abs(want.water_out_c - want.water_in_c))

    def found(why: str, built: Built) -> Candidate:
        v, drop = built.water_m_s(flow, liquid), built.water_pa(flow, liquid)
        return Candidate(built, why, flow, v, drop, built.air_pa(most), total_w, None)

    if most / (AIR_KG_M3 * want.face.area_m2) > series.face_m_s * (1 + 1e-9):
        return found("air velocity", first)
    ways = circuitings(series, rows, want.face)
    fit = [b for b in ways if series.water_low_m_s <= b.water_m_s(flow, liquid) <= series.water_high_m_s]
    if not fit:
        near = min(ways, key=lambda b: abs(np.log(max(b.water_m_s(flow, liquid), 1e-9) / series.water_high_m_s)))
        return found("water velocity", near)
    calm = [b for b in fit if b.water_pa(flow, liquid) <= want.water_pa]
    if not calm:
        return found("water drop", fit[-1])
    return found("", max(calm, key=lambda b: b.water_m_s(flow, liquid)))


def choose(series: Sequence[CoilSeries], want: Wanted) -> CoilChoice:
    """The first coil that does what is wanted: by rows, then widest fins, then name.

    Raises InputError for flows of 0 or less, water with one temperature, or hot water colder than the wanted air.
    """
    _check(want)
    liquid = water.liquid(0.5 * (want.water_in_c + want.water_out_c), want.glycol)
    order = sorted(
        ((rows, -s.fin_pitch_m, s.series, s) for s in series for rows in range(int(s.rows_from), int(s.rows_to) + 1)),
        key=lambda x: x[:3],
    )
    if not order:
        raise InputError("There is no coil to choose from", where="catalogue")
    most, firsts = float(np.max(want.of.flow)), [Built(s, rows, 1, want.face) for rows, _, _, s in order]
    outside = np.array([b.surface(most, 1.0, liquid).air_w_k for b in firsts])
    totals = _wanted_heat(want, outside, np.array([b.series.wet_factor for b in firsts]))
    looked = [_with_water(b.series, b.rows, want, float(total), liquid) for b, total in zip(firsts, totals)]
    running = [i for i, c in enumerate(looked) if not c.why]
    done: dict[int, Done] = {}
    if running:
        surfaces = [looked[i].built.surface(most, looked[i].water_kg_s, liquid) for i in running]
        made = perform(
            Surface(*(np.array(column, float)[:, None] for column in zip(*surfaces))),
            Air(*(np.atleast_1d(np.asarray(x, float))[None, :] for x in want.of)),
            Water(np.array([looked[i].water_kg_s for i in running])[:, None], want.water_in_c, float(liquid.heat)),
        )
        for k, i in enumerate(running):
            done[i] = Done(*(np.asarray(getattr(made, n))[k] for n in Done.__slots__))
    tried = tuple(_judged(c, done.get(i), want) for i, c in enumerate(looked))
    return CoilChoice(next((c for c in tried if not c.why), None), tried)


def _check(want: Wanted) -> None:
    flow, t1, t2 = (np.asarray(x, float) for x in (want.of.flow, want.of.t, want.leaving_c))
    if not np.all(flow > 0) or want.face.area_m2 <= 0:
        raise InputError("A coil needs air and a face above 0", where="coil")
    if want.water_in_c == want.water_out_c:
        raise InputError("Water that enters and leaves alike carries no heat", where="coil")
    heats = want.water_in_c > want.water_out_c
    if heats and not np.all(want.water_in_c > t2):
        raise InputError(
            "Hot water is no warmer than the air that is wanted", where="coil", remedy="Raise its temperature"
        )
    if not heats and not np.all(want.water_in_c < t1):
        raise InputError("Cold water is no colder than the air", where="coil", remedy="Lower its temperature")


def _judged(found: Candidate, done: Done | None, want: Wanted) -> Candidate:
    if found.why or done is None:
        return found
    heats = want.water_in_c > want.water_out_c
    at = int(np.argmax(np.abs(done.total_w)))
    drop = found.built.air_pa(float(np.max(want.of.flow)), float(done.wet_share[at]))
    lacks = (want.leaving_c - done.t) if heats else (done.t - want.leaving_c)
    why = ""
    if drop > want.air_pa:
        why = "air drop"
    elif np.any(lacks > REACHED_K):
        why = "duty"
    elif np.any(done.w > want.dry_w + 1e-6):
        why = "humidity"
    reserve = float(np.max(np.abs(done.total_w)) / max(abs(found.total_w), 1e-9) - 1)
    return Candidate(
        found.built, why, found.water_kg_s, found.water_m_s, found.water_pa, drop, found.total_w, done, reserve
    )


def at_valve(built: Built, want: Wanted, hour: int, water_kg_s: float) -> float:
    """Water [kg/s] with which a coil just reaches the wanted air of an hour; what it has where it cannot reach it.

    Newton with differences on the share of the water and the water that leaves, both at once.
    """
    liquid = water.liquid(0.5 * (want.water_in_c + want.water_out_c), want.glycol)
    of = Air(*(float(np.broadcast_to(np.asarray(x, float), np.shape(want.leaving_c))[hour]) for x in want.of))
    design = built.surface(of.flow, water_kg_s, liquid)
    heat, target = float(liquid.heat), float(want.leaving_c[hour])

    def off(share: float, back_c: float) -> Array:
        surface = Surface(design.air_w_k, design.water_w_k * share**0.8, design.wet_factor, design.rows)
        t, _, entering, _ = marched(surface, of, Water(water_kg_s * share, want.water_in_c, heat), np.asarray(back_c))
        return np.array([float(t) - target, float(entering) - want.water_in_c])

    full = perform(Surface(*design), of, Water(water_kg_s, want.water_in_c, heat))
    reaches = float(full.t) >= target if want.water_in_c > target else float(full.t) <= target
    if not reaches:
        return water_kg_s
    x = np.array([1.0, float(full.water_c)])
    for _ in range(VALVE_ROUNDS):
        here = off(*x)
        if np.abs(here).max() < VALVE_K:
            break
        slopes = np.array([(off(x[0] - 1e-3, x[1]) - here) / -1e-3, (off(x[0], x[1] + 1e-3) - here) / 1e-3]).T
        move = np.linalg.solve(slopes, -here)
        x = x + np.clip(move, [-0.25, -3.0], [0.25, 3.0])
        x[0] = min(max(x[0], LEAST_VALVE), 1.0)
    return float(x[0]) * water_kg_s


def valve_kv(flow_m3s: float, drop_pa: float) -> float:
    """kv of a control valve [m3/h at 1 bar] that loses a drop [Pa] at a flow [m3/s]."""
    return 3600 * flow_m3s / float(np.sqrt(drop_pa / 1e5))
