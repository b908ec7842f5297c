"""By rule, pinned or imported: one figure with its origin. The only place where rules give figures."""

from dataclasses import dataclass
from math import hypot

from garnetfin.core.adjacency import LARGEST_GAP_M, anticlockwise, inset_area
from garnetfin.core.airflow.outdoor_air import perceived_quality
from garnetfin.core.outlines import area_of
from garnetfin.core.tables import RoomUse, room_use
from garnetfin.project.site import Site
from garnetfin.project.spaces import Room, Wall
from garnetfin.project.systems import AirSystem, Zone
from garnetfin.project.values import Imported, Pinned, Rule, Value


@dataclass(frozen=True, slots=True)
class Figure:
    """A resolved value: the figure in force, its origin, what the rule would give and where that comes from."""

    figure: float
    origin: str                      # "rule", "pinned", "imported"
    by_rule: float
    source: str


def resolve(value: Value, by_rule: float, source: str) -> Figure:
    if isinstance(value, Pinned):
        return Figure(value.value, "pinned", by_rule, value.note or "pinned by the engineer")
    if isinstance(value, Imported):
        return Figure(value.value, "imported", by_rule, value.source or "imported")
    return Figure(by_rule, "rule", by_rule, source)


# Infiltration of rooms with an outside wall, and least air change of uses that need one; project defaults.
INFILTRATION_1H = 0.2
LEAST_AIR_CHANGE_1H = {"laboratory": 6.0, "locker": 3.0}
USUAL_AIR_CHANGE_1H = 1.0


@dataclass(frozen=True, slots=True)
class RoomFigures:
    """Every designable figure of a room in SI, resolved once."""

    use: RoomUse
    area_m2: Figure
    cooling_c: Figure
    heating_c: Figure
    people: Figure
    lights_w_m2: Figure
    equipment_w_m2: Figure
    infiltration_1h: Figure
    air_change_1h: Figure
    outdoor_m3s: Figure
    centre_m2: float                 # measured on wall centre lines
    net_m2: float                    # measured between walls
    supply_c: Figure | None          # the zone's own supply temperature, if it has one
    humidity: float                  # relative humidity the room is held at when it is cooled [-]

    @property
    def pinned(self) -> int:
        return sum(getattr(self, name).origin == "pinned" for name in ROOM_FIGURES)


ROOM_FIGURES = ("area_m2", "cooling_c", "heating_c", "people", "lights_w_m2", "equipment_w_m2", "infiltration_1h",
                "air_change_1h", "outdoor_m3s")


ROOM_HUMIDITY = 0.5                  # relative humidity of rooms without limits; project default
BASES = {"centre": "outline on wall centre lines", "net": "outline less half of each wall"}


def net_area(room: Room, walls: tuple[Wall, ...]) -> float:
    """Floor area between the walls [m2]; a side with several walls moves by their mean half thickness."""
    outline = anticlockwise(room.outline)
    insets = []
    for (x0, y0), (x1, y1) in zip(outline, (*outline[1:], outline[0])):
        side = hypot(x1 - x0, y1 - y0)
        ux, uy = (x1 - x0) / side, (y1 - y0) / side
        taken = 0.0
        for w in walls:
            if w.level_id != room.level_id:
                continue
            mx, my = (w.start[0] + w.end[0]) / 2 - x0, (w.start[1] + w.end[1]) / 2 - y0
            dx, dy = w.end[0] - w.start[0], w.end[1] - w.start[1]
            if (
                abs(mx * uy - my * ux) < LARGEST_GAP_M
                and abs(dx * uy - dy * ux) < 0.1 * w.length_m
                and -0.1 < mx * ux + my * uy < side + 0.1
            ):
                taken += w.length_m * w.thickness_m / 2
        insets.append(min(taken / side, 1.0))
    return inset_area(outline, insets)


def room_figures(room: Room, walls: tuple[Wall, ...], zone: Zone | None = None, basis: str = "centre") -> RoomFigures:
    use = room_use(room.use_id)
    book = f"office book, {use.name}"
    centre = area_of(room.outline)
    net = centre if room.sketched else net_area(room, walls)
    area = resolve(room.area_m2, net if basis == "net" else centre, BASES[basis])
    people = resolve(room.people, round(use.people_m2 * area.figure), f"{book}: {use.people_m2 * 100:g} per 100 m²")
    exposed = any(w.outside for w in walls)
    outdoor = float(perceived_quality(people.figure, area.figure, use.air_person_m3s, use.air_area_m3s_m2))
    return RoomFigures(
        use, area,
        _by_zone(room.cooling_c, zone, "cooling_c", use.cooling_c, book),
        _by_zone(room.heating_c, zone, "heating_c", use.heating_c, book), people,
        resolve(room.lights_w_m2, use.lights_w_m2, book), resolve(room.equipment_w_m2, use.equipment_w_m2, book),
        resolve(room.infiltration_1h, INFILTRATION_1H if exposed else 0.0,
                "office book: 0.2 1/h with an outside wall" if exposed else "office book: no outside wall"),
        resolve(room.air_change_1h,
                0.0 if not use.air_area_m3s_m2 else LEAST_AIR_CHANGE_1H.get(use.id, USUAL_AIR_CHANGE_1H),
                f"office book, least air change of {use.name}"),
        resolve(room.outdoor_m3s, outdoor, use.source_air), centre, net,
        resolve(zone.supply_c, 0.0, "") if zone is not None and not isinstance(zone.supply_c, Rule) else None, _humidity(zone))


def _by_zone(value: Value, zone: Zone | None, field: str, by_use: float, book: str) -> Figure:
    """A room's own figure, else its zone's, else its use's."""
    given = getattr(zone, field) if zone is not None else Rule()
    if isinstance(given, Rule):
        return resolve(value, by_use, book)
    return resolve(value, given.value, f"zone {zone.name}")


def _humidity(zone: Zone | None) -> float:
    """The usual humidity, moved to within the limits of the zone."""
    low, high = ((zone.humidity_low, zone.humidity_high) if zone is not None else (Rule(), Rule()))
    held = max(ROOM_HUMIDITY, low.value) if not isinstance(low, Rule) else ROOM_HUMIDITY
    return min(held, high.value) if not isinstance(high, Rule) else held


WINTER_C, WINTER_HUMIDITY, ANNUAL_MEAN_C, GROUND_REFLECTANCE = -10.0, 0.8, 10.0, 0.2


@dataclass(frozen=True, slots=True)
class SiteFigures:
    winter_c: Figure
    winter_humidity: Figure
    annual_mean_c: Figure
    ground_reflectance: Figure


def site_figures(site: Site) -> SiteFigures:
    return SiteFigures(
        resolve(site.winter_c, WINTER_C, "office book: −10 °C until given"),
        resolve(site.winter_humidity, WINTER_HUMIDITY, "office book"),
        resolve(site.annual_mean_c, ANNUAL_MEAN_C, "office book: 10 °C until given"),
        resolve(site.ground_reflectance, GROUND_REFLECTANCE, "office book, bare ground"))


@dataclass(frozen=True, slots=True)
class SystemFigures:
    supply_c: Figure
    warm_limit_k: Figure
    friction_pa_m: Figure
    allowance: Figure
    motor_efficiency: Figure


def system_figures(system: AirSystem) -> SystemFigures:
    return SystemFigures(
        resolve(system.supply_c, 14.0, "office book, mixing outlets"),
        resolve(system.warm_limit_k, 11.0, "office book, ceiling outlets"),
        resolve(system.friction_pa_m, 1.0, "office book, low pressure"),
        resolve(system.allowance, 0.10, "office book"),
        resolve(system.motor_efficiency, 0.86, "office book, motor and speed control"))


# Greatest velocity by role of a duct [m/s]; the last piece to a terminal is the quietest.
VELOCITY_LIMIT = {"trunk": 6.5, "riser": 8.0, "branch": 5.0, "last": 3.5}
