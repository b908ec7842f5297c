"""An air system through the 8,760 hours of a weather file: what coils take, what recovery saves, when outdoor air cools
for nothing.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.psychro import properties as air
from garnetfin.core.systems.parts import Hours, Solved
from garnetfin.core.systems.train import solve
from garnetfin.core.weather.hourly import HOURS, MONTH_DAYS, Year, complete
from garnetfin.engine.results import AirResult, Climate, Results, TrainResult, there
from garnetfin.engine.stages.boundary_conditions import IN_USE, by_clock, plant_hours
from garnetfin.engine.stages.train import rooms_of
from garnetfin.engine.studies.year import YearResult, year_of
from garnetfin.project.lookup import find

AT_ONCE = 1460  # hours in one solution: six in a year, small enough to stay in cache
MONTH_OF = np.repeat(np.arange(12), np.array(MONTH_DAYS) * 24)
FREE_SHARE = 0.005  # of the design load: below it coils count as off


@dataclass(frozen=True, slots=True, eq=False)
class AirYear:
    """Arrays (8760,): heat [W] by what takes or gives it, flows [kg/s], and whether an hour counts as of a kind."""

    system_id: str
    on: NDArray[np.bool_]
    coil_w: NDArray[np.float64]  # cooling coils of the handler
    sensible_w: NDArray[np.float64]
    units_w: NDArray[np.float64]  # cooling by room units
    heat_w: NDArray[np.float64]  # coils of the handler, reheat, room units and heaters
    reheat_w: NDArray[np.float64]  # of these, at terminals
    recovered_w: NDArray[np.float64]  # warmth (> 0) or coolness (< 0) won back
    fans_w: NDArray[np.float64]  # heat of the fans in the air
    water_kg_s: NDArray[np.float64]  # of humidifiers
    free: NDArray[np.bool_]  # outdoor air beyond the least by choice, and no coil
    partial: NDArray[np.bool_]  # the same beside a coil
    frost: NDArray[np.bool_]
    design_w: float  # coils and room units on the design days
    closing_w: float  # largest energy that does not close around the whole system
    estimated: tuple[str, ...]  # rooms left out: early estimates have no hours
    outdoor_c: NDArray[np.float64]
    wet_bulb_c: NDArray[np.float64]
    summer_c: float  # of the warmest design day

    @property
    def cold_w(self) -> NDArray[np.float64]:
        return self.coil_w + self.units_w

    @property
    def beyond(self) -> int:
        """Hours in which what the design days ask for would not do."""
        return int((self.cold_w > self.design_w * 1.0001).sum())

    def by_month(self, values: NDArray[Any]) -> NDArray[np.float64]:
        """Sums of hours (12,): kWh of watts, hours of flags."""
        scale = 1.0 if values.dtype == bool else 1e-3
        return np.bincount(MONTH_OF, values.astype(float), 12) * scale


def air_year(
    results: Results,
    hours: Year,
    system_id: str,
    progress: Callable[[float], None] = lambda share: None,
    rooms: YearResult | None = None,
) -> AirYear:
    """The system through the year. `rooms` may be given when they ran before; `progress` may raise to stop.

    Return air above ceilings is warmed as on the design day of the month. Raises InputError when there is nothing to
    run.
    """
    found, flows, climate = results.trains.get(system_id), results.air.get(system_id), results.climate
    if not isinstance(found, TrainResult) or not isinstance(flows, AirResult) or not isinstance(climate, Climate):
        raise InputError("The air system is not solved", remedy="See what it lacks in Air")
    year = complete(hours)
    known = tuple(i for i in found.room_ids if there(results.room(i)).estimate is None)
    estimated = tuple(i for i in found.room_ids if there(results.room(i)).estimate is not None)
    if not known:
        raise InputError("Early estimates have no hours", remedy="Give the rooms faces first")
    if rooms is None or set(rooms.room_ids) != set(known):
        rooms = year_of(results, year, known, lambda share: progress(0.6 * share))
    set_c, sensible, latent, on = _room_hours(results, found, rooms)
    system = find(results.project.air_systems, system_id)
    month = MONTH_OF + 1
    outside = Hours(
        year.dry_c,
        np.minimum(
            air.humidity_ratio(year.dew_c, 1.0, climate.pressure_pa),
            air.humidity_ratio(year.dry_c, 1.0, climate.pressure_pa),
        ),
        climate.pressure_pa,
        on,
        np.isin(month, system.cooling_months),
        np.isin(month, system.heating_months),
        flows.plenum_w[MONTH_OF * 24 + np.arange(HOURS) % 24] * on,
    )
    parts = []
    for lo in range(0, HOURS, AT_ONCE):
        progress(0.6 + 0.4 * lo / HOURS)
        at = np.arange(lo, min(lo + AT_ONCE, HOURS))
        at = at[on[at]]
        if len(at):
            case = rooms_of(flows, set_c[:, at], sensible[:, at], latent[:, at])
            hours_at = Hours(
                *(
                    v[at] if isinstance(v, np.ndarray) else v
                    for v in (
                        getattr(outside, n)
                        for n in ("outdoor_c", "outdoor_w", "pressure_pa", "on", "cooling", "heating", "plenum_w")
                    )
                )
            )
            parts.append((at, solve(found.parts, case, hours_at, found.control)))
    wet = air.wet_bulb(outside.outdoor_c, outside.outdoor_w, climate.pressure_pa)
    weather = (outside.outdoor_c, wet, float(climate.days.dry_bulb_c.max()))
    return _gathered(found, parts, on, estimated, weather)


def _room_hours(
    results: Results, found: TrainResult, rooms: YearResult
) -> tuple[NDArray[Any], NDArray[Any], NDArray[Any], NDArray[Any]]:
    """(set-point, sensible, latent) (R, 8760) of the rooms of the system, and when it runs."""
    project, at = results.project, {i: k for k, i in enumerate(rooms.room_ids)}
    hour, weekend = np.arange(HOURS) % 24, np.repeat(np.isin((np.arange(365) + 4) % 7, (5, 6)), 24)
    count = len(found.room_ids)
    set_c, sensible, latent, running = (
        np.empty((count, HOURS)),
        np.zeros((count, HOURS)),
        np.zeros((count, HOURS)),
        np.zeros(HOURS, bool),
    )
    for r, room_id in enumerate(found.room_ids):
        result = there(results.room(room_id))
        f, k = result.figures, at.get(room_id)
        set_c[r] = f.cooling_c.figure
        plan = plant_hours(f, result.kept, project.site)
        working, other = (by_clock(p, project.site)[MONTH_OF, hour] for p in (f.profile.working, f.profile.other))
        shares = np.where(weekend, other, working)
        # Without hours of its own the plant runs when rooms are used; on days of no use it stays off.
        used = np.repeat(shares.reshape(365, 24).max(axis=1) > IN_USE, 24)
        running |= plan.months.on[MONTH_OF, hour] & (used | (f.operation.mode == "always"))
        if k is None:
            continue
        cold, warm = rooms.cooling_w[k].astype(float), rooms.heating_w[k].astype(float)
        sensible[r] = cold - warm
        set_c[r] = np.where(cold > 0, f.cooling_c.figure, np.where(warm > 0, f.heating_c.figure, rooms.air_c[k]))
        latent[r] = (f.people.figure * f.use.latent_w + f.moisture_w.figure) * shares
    return set_c, sensible, latent, running


def _gathered(
    found: TrainResult,
    parts: list[tuple[NDArray[Any], Solved]],
    on: NDArray[Any],
    estimated: tuple[str, ...],
    weather: tuple[NDArray[Any], NDArray[Any], float],
) -> AirYear:
    def fill(of: Callable[[Solved], NDArray[Any]], kind: type = float) -> NDArray[Any]:
        whole = np.zeros(HOURS, kind)
        for at, solved in parts:
            whole[at] = of(solved)
        return whole

    def heat(solved: Solved, kinds: tuple[str, ...]) -> NDArray[Any]:
        return sum((solved.heat_w[p.id] for p in found.parts if p.kind in kinds), np.zeros(len(solved.handler_kg_s)))

    def units(solved: Solved) -> NDArray[Any]:
        """Of rooms whose units hang on the plant."""
        return np.asarray(np.where(found.on_plant[:, None], solved.unit_w, 0.0))

    coil = fill(lambda s: s.cooling_w)
    free = fill(lambda s: s.free, bool)
    return AirYear(
        found.system_id,
        on,
        coil,
        fill(lambda s: s.sensible_w),
        fill(lambda s: np.maximum(units(s), 0).sum(axis=0)),
        fill(lambda s: heat(s, ("preheat", "heating")) + s.reheat_w.sum(axis=0) + np.maximum(-units(s), 0).sum(axis=0)),
        fill(lambda s: s.reheat_w.sum(axis=0)),
        fill(lambda s: heat(s, ("recovery",))),
        fill(lambda s: heat(s, ("supply_fan", "return_fan"))),
        fill(
            lambda s: sum(
                (s.water_kg_s[p.id] for p in found.parts if p.kind == "humidifier"), np.zeros(len(s.handler_kg_s))
            )
        ),
        free & (coil < FREE_SHARE * found.coils_peak_w),
        free & (coil >= FREE_SHARE * found.coils_peak_w),
        fill(lambda s: s.frost, bool),
        found.coils_peak_w,
        max((float(np.abs(s.energy["whole"]).max()) for _, s in parts), default=0.0),
        estimated,
        *weather,
    )
