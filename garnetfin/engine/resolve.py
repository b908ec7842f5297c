"""By rule, pinned or imported: one figure with its origin. The only place where rules give figures."""

from dataclasses import dataclass

from garnetfin.core.airflow.outdoor_air import perceived_quality
from garnetfin.core.tables import RoomUse, room_use
from garnetfin.project.site import Site
from garnetfin.project.spaces import Room, Wall
from garnetfin.project.systems import AirSystem
from garnetfin.project.values import Imported, Pinned, Value


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


def outline_area(outline: tuple[tuple[float, float], ...]) -> float:
    """Area of a polygon [m2], whichever way round."""
    total = 0.0
    for (x1, y1), (x2, y2) in zip(outline, outline[1:] + outline[:1]):
        total += x1 * y2 - x2 * y1
    return abs(total) / 2


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

    @property
    def pinned(self) -> int:
        return sum(getattr(self, name).origin == "pinned" for name in ROOM_FIGURES)


ROOM_FIGURES = ("area_m2", "cooling_c", "heating_c", "people", "lights_w_m2", "equipment_w_m2", "infiltration_1h",
                "air_change_1h", "outdoor_m3s")


def room_figures(room: Room, walls: tuple[Wall, ...]) -> RoomFigures:
    use = room_use(room.use_id)
    book = f"office book, {use.name}"
    area = resolve(room.area_m2, outline_area(room.outline), "outline on wall centre lines")
    people = resolve(room.people, round(use.people_m2 * area.figure), f"{book}: {use.people_m2 * 100:g} per 100 m²")
    exposed = any(w.outside for w in walls)
    outdoor = float(perceived_quality(people.figure, area.figure, use.air_person_m3s, use.air_area_m3s_m2))
    return RoomFigures(
        use, area,
        resolve(room.cooling_c, use.cooling_c, book), resolve(room.heating_c, use.heating_c, book), people,
        resolve(room.lights_w_m2, use.lights_w_m2, book), resolve(room.equipment_w_m2, use.equipment_w_m2, book),
        resolve(room.infiltration_1h, INFILTRATION_1H if exposed else 0.0,
                "office book: 0.2 1/h with an outside wall" if exposed else "office book: no outside wall"),
        resolve(room.air_change_1h,
                0.0 if not use.air_area_m3s_m2 else LEAST_AIR_CHANGE_1H.get(use.id, USUAL_AIR_CHANGE_1H),
                f"office book, least air change of {use.name}"),
        resolve(room.outdoor_m3s, outdoor, use.source_air))


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
