"""The year of hours: rooms through the 8,760 hours of a weather file, run on demand and set beside the design days."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.glazing import angle_factor
from garnetfin.core.fabric.shading import lit_past
from garnetfin.core.loads.balance import radiant_films
from garnetfin.core.loads.year import YearDrive, YearFaces, YearPlan, run_year
from garnetfin.core.sun import YEAR, beyond_the_air, julian_day, sun_position
from garnetfin.core.weather.hourly import HOURS, MONTH_DAYS, Year, complete, from_csv
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import Climate, Results, RoomResult, there
from garnetfin.engine.stages.boundary_conditions import (
    Row,
    by_clock,
    casting,
    floor_weights,
    glass_sun,
    obstacles,
    plan_of,
    plant_hours,
    shape_of,
    sun_weights,
)
from garnetfin.engine.stages.climate import EMITTANCE, OUTER_FILM, SKY_LOSS_W_M2
from garnetfin.engine.stages.faces import Surface, set_points
from garnetfin.engine.stages.loads import row_of
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project

AT_ONCE = 100  # rooms in one run; their modes stay in cache
SUN_SAMPLES = 6  # of an hour
MONTH_STARTS = np.concatenate([[0], np.cumsum(MONTH_DAYS)])


@dataclass(frozen=True, slots=True, eq=False)
class SunYear:
    """Sun at the middle of the lit part of each hour: arrays (8760,), radians; beam is 0 with the sun below 1
    degree.
    """

    elevation: NDArray[np.float64]
    azimuth: NDArray[np.float64]
    beam: NDArray[np.float64]
    diffuse: NDArray[np.float64]
    e0: NDArray[np.float64]


@dataclass(frozen=True, slots=True, eq=False)
class YearResult:
    """Rooms through the year: cooling and heating (R, 8760) [W], air (R, 8760) [degC]; and set beside the design
    days.
    """

    room_ids: tuple[str, ...]
    cooling_w: NDArray[np.float32]
    heating_w: NDArray[np.float32]
    air_c: NDArray[np.float32]
    design_w: float  # of the rooms together, from the design days
    dry_c: NDArray[np.float64]

    @property
    def total_w(self) -> NDArray[np.float64]:
        return np.asarray(self.cooling_w.sum(axis=0, dtype=float))

    @property
    def peak(self) -> tuple[float, int]:
        """(W, hour of the year)."""
        total = self.total_w
        return float(total.max()), int(total.argmax())

    @property
    def beyond(self) -> int:
        """Hours in which the design days' capacity would not do."""
        return int((self.total_w > self.design_w * 1.0001).sum())


def hours_of(data: bytes) -> Year:
    """The hours that lie beside a project, small holes bridged. Raises InputError when they are damaged."""
    return complete(from_csv(data))


def hours_beyond(hours: Year, dry_c: float, hotter: bool = True) -> int:
    """Hours of the file that are hotter (or colder) than a design value."""
    return int((hours.dry_c > dry_c).sum() if hotter else (hours.dry_c < dry_c).sum())


def date_of(hour: int) -> tuple[int, int, int]:
    """(month 0..11, day 1..31, hour 0..23) of an hour of the year."""
    day = hour // 24
    month = int(np.searchsorted(MONTH_STARTS, day, side="right")) - 1
    return month, day - int(MONTH_STARTS[month]) + 1, hour % 24


def sun_year(year: Year, latitude_deg: float, longitude_deg: float, utc_offset_h: float) -> SunYear:
    """Sun positions with the file's beam and diffuse radiation."""
    minutes = (np.arange(HOURS * SUN_SAMPLES) + 0.5) * (60 / SUN_SAMPLES) - 60 * utc_offset_h
    elevation, azimuth = sun_position(julian_day(YEAR, 1, 1) + minutes / 1440, latitude_deg, longitude_deg)
    up = np.maximum(elevation.reshape(HOURS, SUN_SAMPLES), 0.0)
    azimuth = azimuth.reshape(HOURS, SUN_SAMPLES)
    weight = np.sin(up) + 1e-12
    # The middle by what the sun gives: it lies in the lit part of the hours of sunrise and sunset.
    total = weight.sum(axis=1)
    b = (up * weight).sum(axis=1) / total
    a = np.arctan2((np.sin(azimuth) * weight).sum(axis=1), (np.cos(azimuth) * weight).sum(axis=1)) % (2 * np.pi)
    e0 = beyond_the_air(np.repeat(np.arange(1, 366), 24))
    low = b < np.radians(1.0)
    return SunYear(b, a, np.where(low, 0.0, year.beam_w_m2), year.diffuse_w_m2, e0)


def on_face(
    sun: SunYear, azimuth_deg: float, tilt_deg: float, ground_reflectance: float
) -> tuple[NDArray[Any], NDArray[Any], NDArray[Any]]:
    """(beam, diffuse, cosine of incidence) on a face (8760,) [W/m2]; sky light after Hay and Davies (1980)."""
    facing, tilt = np.radians(azimuth_deg), np.radians(tilt_deg)
    vertical = np.cos(sun.elevation) * np.cos(sun.azimuth - facing)
    cosine = np.maximum(0.0, vertical * np.sin(tilt) + np.sin(sun.elevation) * np.cos(tilt)) * (sun.elevation > 0)
    share = np.clip(sun.beam / sun.e0, 0.0, 1.0)
    around = share * cosine / np.maximum(np.sin(sun.elevation), 0.0872)
    sky = sun.diffuse * ((1 - share) * (1 + np.cos(tilt)) / 2 + around)
    ground = (
        (sun.beam * np.sin(np.maximum(sun.elevation, 0)) + sun.diffuse) * ground_reflectance * (1 - np.cos(tilt)) / 2
    )
    return sun.beam * cosine, sky + ground, cosine


def year_of(
    results: Results, hours: Year, room_ids: tuple[str, ...], progress: Callable[[float], None] = lambda share: None
) -> YearResult:
    """Rooms through every hour with the same balance and plant as on the design days. `progress` may raise to stop.

    A neighbour without plant is taken at its design days' drift of the month; sky loss and profiles likewise as
    designed.
    Raises InputError when none of the rooms has a load.
    """
    project, climate = results.project, results.climate
    asked = [results.room(i) for i in room_ids]
    known = [r for r in asked if r is not None and r.estimate is None]
    if not known or not isinstance(climate, Climate):
        raise InputError("None of these rooms can be run through a year", remedy="Give them faces first")
    year = complete(hours)
    site = there(project.site)
    sun = sun_year(year, site.latitude_deg, site.longitude_deg, site.utc_offset_h)
    faces: dict[tuple[Any, ...], tuple[Any, ...]] = {}

    def face(azimuth: float, tilt: float) -> tuple[Any, ...]:
        if (azimuth, tilt) not in faces:
            faces[azimuth, tilt] = on_face(sun, azimuth, tilt, climate.figures.ground_reflectance.figure)
        return faces[azimuth, tilt]

    parts = []
    for lo in range(0, len(known), AT_ONCE):
        rows = [_row(project, r) for r in known[lo : lo + AT_ONCE]]

        def told(share: float, lo: int = lo, count: int = len(rows)) -> None:
            progress((lo + share * count) / len(known))

        parts.append(_run(project, climate, year, sun, face, rows, told))
    heat, air = (np.concatenate([p[k] for p in parts]) for k in range(2))
    together = sum(r.sensible_w for r in known)
    return YearResult(
        tuple(r.room_id for r in known),
        np.maximum(-heat, 0).astype(np.float32),
        np.maximum(heat, 0).astype(np.float32),
        air.astype(np.float32),
        float(together.max()),
        year.dry_c,
    )


def _row(project: Project, result: RoomResult) -> Row:
    return row_of(project, find(project.rooms, result.room_id), {result.room_id: result})


def _run(
    project: Project,
    climate: Climate,
    year: Year,
    sun: SunYear,
    face: Callable[..., Any],
    rows: list[Row],
    progress: Callable[[float], None],
) -> tuple[NDArray[Any], NDArray[Any]]:
    surfaces = [(r, s) for r, row in enumerate(rows) for s in row.fabric.surfaces]
    room, area = np.array([r for r, _ in surfaces]), np.array([s.face.area_m2 for _, s in surfaces])
    behind, flux = np.empty((len(surfaces), HOURS)), np.zeros((len(surfaces), HOURS))
    blocks, beam_in, diffuse_in = obstacles(project), np.zeros((len(rows), HOURS)), np.zeros((len(rows), HOURS))
    convective, radiant = _gains(project, rows)
    month = np.repeat(np.arange(12), np.array(MONTH_DAYS) * 24)
    for i, (r, s) in enumerate(surfaces):
        behind[i] = _behind(project, climate, year, face, rows[r], s, month)
        o = s.opening
        if s.glazing is not None and o is not None:
            beam, diffuse, cosine = face(s.face.azimuth_deg, 90.0)
            before, _ = casting(s, blocks, project.site.north_deg)
            lit = lit_past(before, sun.elevation, sun.azimuth, s.face.azimuth_deg, shape_of(o), bodies=True)
            entering = beam * lit * angle_factor(cosine, s.glazing.panes, s.glazing.angle_class)
            b, d, absorbed, shade = (
                x.reshape(HOURS)
                for x in glass_sun(
                    s.glazing,
                    o.area_m2,
                    entering.reshape(-1, 24),
                    (diffuse * s.glazing.diffuse_ratio).reshape(-1, 24),
                    (beam + diffuse).reshape(-1, 24),
                )
            )
            flux[i] += absorbed
            beam_in[r] += b
            diffuse_in[r] += d
            convective[r] += 0.6 * shade
            radiant[r] += 0.4 * shade
    _spread(rows, surfaces, room, area, beam_in, diffuse_in, flux)
    heat_m3 = climate.air_heat_j_m3k
    volume = np.array([row.volume_m3 for row in rows])
    leak = np.array([row.figures.infiltration_1h.figure for row in rows]) * volume / 3600 * heat_m3
    bridged = np.array([s.face.area_m2 if s.face.to == "outdoors" else 0.0 for _, s in surfaces])
    leak = leak + np.bincount(room, bridged, len(rows)) * assumption(project.book, "bridges_w_m2k").figure
    plan = plan_of(rows, [plant_hours(row.figures, row.kept, project.site) for row in rows])
    by_day = np.repeat(np.arange(12), MONTH_DAYS)
    # A room held around the clock cools at its cooling set-point and heats at its heating set-point.
    heat_c = np.minimum(
        np.where(plan.held[:, None, None], np.array([[[row.figures.heating_c.figure]] for row in rows]), plan.heat_c),
        plan.cool_c,
    )
    found = run_year(
        YearFaces(
            room,
            area,
            np.array([s.hc for _, s in surfaces]),
            radiant_films(room, area),
            tuple(s.layers if s.layers or s.film is None else () for _, s in surfaces),
            tuple(s.film for _, s in surfaces),
        ),
        YearDrive(
            behind,
            flux,
            radiant,
            convective,
            year.dry_c,
            leak,
            assumption(project.book, "air_capacity").figure * volume * heat_m3,
        ),
        YearPlan(plan.on[:, by_day], heat_c[:, by_day], plan.cool_c[:, by_day], plan.heat_limit_w, plan.cool_limit_w),
        progress,
    )
    return found.heat_w, found.air_c


def _behind(
    project: Project, climate: Climate, year: Year, face: Callable[..., Any], row: Row, s: Surface, month: NDArray[Any]
) -> NDArray[Any]:
    match s.behind:
        case "outdoors":
            beam, diffuse, _ = face(s.face.azimuth_deg, s.face.tilt_deg)
            sky = SKY_LOSS_W_M2 * max(0.0, float(np.cos(np.radians(s.face.tilt_deg))))
            return np.asarray(year.dry_c + (s.absorptance * (beam + diffuse) - EMITTANCE * sky) / OUTER_FILM)
        case "ground":
            return np.asarray(climate.ground_c[month, 0])
        case "room":
            other = find(project.rooms, s.other_id)
            felt = row.beside.get(s.other_id)
            if other is not None and other.kept:
                return np.full(HOURS, set_points(other, find(project.zones, other.zone_id), project.book)[0])
            if felt is not None:
                # The drift of the design day, moved by how the hour's outdoor air differs from that day's.
                seen = felt.environment_c(s.far_hc, s.far_absorptance, s.far_is_floor)
                day = np.arange(HOURS) % 24
                return np.asarray(seen[month, day] + (_daily(year.dry_c) - climate.days.dry_bulb_c.mean(axis=1)[month]))
    return year.dry_c


def _daily(values: NDArray[Any]) -> NDArray[Any]:
    return np.repeat(values.reshape(-1, 24).mean(axis=1), 24)


def _spread(
    rows: list[Row],
    surfaces: list[Any],
    room: NDArray[Any],
    area: NDArray[Any],
    beam: NDArray[Any],
    diffuse: NDArray[Any],
    flux: NDArray[Any],
) -> None:
    """Transmitted sun onto the faces: a share of the beam on the floor, the rest diffused."""
    share, floor = sun_weights(room, surfaces), floor_weights(room, surfaces, len(rows))
    on_floor = np.bincount(room, floor, len(rows))
    spread = diffuse + beam * (1 - on_floor)[:, None]
    flux += (share / area)[:, None] * spread[room] + (floor / area)[:, None] * beam[room]


def _gains(project: Project, rows: list[Row]) -> tuple[NDArray[Any], NDArray[Any]]:
    """(convective, radiant) (R, 8760) [W]: working days, with Saturdays and Sundays of a year that begins on a
    Friday.
    """
    weekend = np.repeat(np.isin((np.arange(365) + 4) % 7, (5, 6)), 24)
    convective, radiant = np.zeros((len(rows), HOURS)), np.zeros((len(rows), HOURS))
    month = np.repeat(np.arange(12), np.array(MONTH_DAYS) * 24)
    hour = np.arange(HOURS) % 24
    for r, row in enumerate(rows):
        f, use = row.figures, row.figures.use
        working, other = (by_clock(p, project.site)[month, hour] for p in (f.profile.working, f.profile.other))
        shares = np.where(weekend, other, working)
        for watts, part in (
            (f.people.figure * use.sensible_w, use.people_radiant),
            (f.lights_w_m2.figure * f.area_m2.figure * row.lights_kept, use.lights_radiant),
            (f.equipment_w_m2.figure * f.area_m2.figure, use.equipment_radiant),
        ):
            radiant[r] += watts * part * shares
            convective[r] += watts * (1 - part) * shares
    return convective, radiant
