"""By rule, pinned or imported: one figure with its origin. The only place where rules give figures."""

from dataclasses import dataclass, replace
from functools import lru_cache
from math import hypot

import numpy as np

from garnetfin.core.adjacency import LARGEST_GAP_M, anticlockwise, inset_area
from garnetfin.core.airflow.outdoor_air import CO2_PERSON_M3S, RISE_PPM, dilution, people_and_area, perceived_quality
from garnetfin.core.equipment.casings import RATED_M_S, filter_drop
from garnetfin.core.outlines import area_of
from garnetfin.core.tables import (
    MONTH_COLUMNS,
    RoomUse,
    people_heat,
    places,
    profiles,
    room_use,
    ventilation_categories,
)
from garnetfin.project.book import ASSUMPTIONS, POLLUTION, Book
from garnetfin.project.lookup import Same
from garnetfin.project.parts import KINDS, Part
from garnetfin.project.site import SUMMER_PERCENTS, WINTER_PERCENTS, Site
from garnetfin.project.spaces import Room, Wall
from garnetfin.project.systems import AirSystem, Operation, Zone
from garnetfin.project.values import Derived, Imported, Pinned, Rule, Value


@dataclass(frozen=True, slots=True)
class Figure:
    """A resolved value: the figure in force, its origin, what the rule would give and where that comes from."""

    figure: float
    origin: str  # "rule", "pinned", "imported"
    by_rule: float
    source: str


def resolve(value: Value, by_rule: float, source: str) -> Figure:
    if isinstance(value, Derived):
        return Figure(value.value, "rule", value.value, value.source)
    if isinstance(value, Pinned):
        return Figure(value.value, "pinned", by_rule, value.note or "pinned by the engineer")
    if isinstance(value, Imported):
        return Figure(value.value, "imported", by_rule, value.source or "imported")
    return Figure(by_rule, "rule", by_rule, source)


# Least air change of uses that need one; project defaults.
LEAST_AIR_CHANGE_1H = {"laboratory": 6.0, "locker": 3.0}
USUAL_AIR_CHANGE_1H = 1.0


def assumption(book: Book, name: str) -> Figure:
    """An assumption of the office standards."""
    return resolve(getattr(book, name), ASSUMPTIONS[name][0], "office standards, as it ships")


@dataclass(frozen=True, slots=True, eq=False)
class DayProfiles:
    """Shares of use (24,) on a working day, another day, the summer and the winter design day."""

    name: str
    working: np.ndarray
    other: np.ndarray
    summer: np.ndarray
    winter: np.ndarray
    own: bool


def use_in_force(book: Book, use_id: str) -> RoomUse:
    """A room use as the office has it."""
    return _uses(Same(book)).get(use_id) or room_use(use_id)


@lru_cache(maxsize=32)
def _uses(book: Same) -> dict[str, RoomUse]:
    found: dict[str, RoomUse] = {}
    for change in book.item.uses:
        found[change.use_id] = replace(
            found.get(change.use_id) or room_use(change.use_id), **{change.field: change.value}
        )
    for change in book.item.use_profiles:
        found[change.use_id] = replace(found.get(change.use_id) or room_use(change.use_id), profile=change.profile_id)
    return found


def day_profiles(book: Book, profile_id: str) -> DayProfiles:
    """A profile by id, the office's own before those that ship; an unknown one counts as always."""
    return _profiles(Same(book)).get(profile_id) or _profiles(Same(book))["always"]


@lru_cache(maxsize=32)
def _profiles(book: Same) -> dict[str, DayProfiles]:
    none = np.zeros(24)
    found = {
        key: DayProfiles(key, hours, hours * 0.1 if key in ("day", "meeting", "school") else hours, hours, none, False)
        for key, hours in profiles().items()
    }
    for own in book.item.profiles:
        working = np.array(own.working)
        found[own.id] = DayProfiles(
            own.name,
            working,
            np.array(own.other or own.working),
            np.array(own.summer_design or own.working),
            np.array(own.winter_design or none),
            True,
        )
    return found


def operation_in_force(zone: Zone | None, of_system: Operation | None) -> Operation:
    """When the plant of rooms runs: as their zone says, else as their air system does."""
    if zone is not None and zone.operation is not None:
        return zone.operation
    return of_system if of_system is not None else Operation()


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
    people_area_m2: Figure  # floor for each person
    moisture_w: Figure
    cooling_limit_w: Figure  # inf without a limit
    heating_limit_w: Figure
    profile: DayProfiles
    operation: Operation
    centre_m2: float  # measured on wall centre lines
    net_m2: float  # measured between walls
    supply_c: Figure | None  # the zone's own supply temperature, if it has one
    humidity: float  # relative humidity the room is held at when it is cooled [-]
    extract_m3s: Figure
    air_person_m3s: float  # rates of outdoor air in force, with the method of the office book
    air_area_m3s_m2: float

    @property
    def pinned(self) -> int:
        return sum(getattr(self, name).origin == "pinned" for name in ROOM_FIGURES)


ROOM_FIGURES = (
    "area_m2",
    "cooling_c",
    "heating_c",
    "people",
    "lights_w_m2",
    "equipment_w_m2",
    "infiltration_1h",
    "air_change_1h",
    "outdoor_m3s",
    "people_area_m2",
    "moisture_w",
    "cooling_limit_w",
    "heating_limit_w",
    "extract_m3s",
)


ROOM_HUMIDITY = 0.5  # relative humidity of rooms without limits; project default
BASES = {"centre": "outline on wall centre lines", "net": "outline less half of each wall"}


def net_area(room: Room, walls: tuple[Wall, ...]) -> float:
    """Floor area between the walls [m2]; a side with several walls moves by their mean half thickness."""
    outline = anticlockwise(room.outline)
    # a corner that stands twice is no side
    outline = tuple(p for p, before in zip(outline, (outline[-1], *outline[:-1])) if p != before)
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


def room_figures(
    room: Room,
    walls: tuple[Wall, ...],
    zone: Zone | None = None,
    basis: str = "centre",
    book: Book = Book(),
    system: AirSystem | None = None,
) -> RoomFigures:
    use = use_in_force(book, room.use_id)
    if room.activity in people_heat():
        sensible, latent, radiant = people_heat()[room.activity]
        use = replace(use, sensible_w=sensible, latent_w=latent, people_radiant=radiant)
    name = f"office standards, {use.name}"
    centre = area_of(room.outline)
    net = centre if room.sketched else net_area(room, walls)
    area = resolve(room.area_m2, net if basis == "net" else centre, BASES[basis])
    by_use = 1 / use.people_m2 if use.people_m2 > 0 else 0.0
    each = resolve(room.people_area_m2, by_use, f"{name}: {use.people_m2 * 100:g} per 100 m²")
    people = resolve(
        room.people,
        area.figure / each.figure if each.figure else 0.0,
        f"{name}: {use.people_m2 * 100:g} per 100 m²" if each.origin == "rule" else "floor for each person",
    )
    exposed = any(w.outside for w in walls)
    outdoor, outdoor_source, rates = outdoor_air(book, use, people.figure, area.figure)
    exhaust, exhaust_source = _extract(book, use, area.figure)
    leak = assumption(book, "infiltration_1h")
    return RoomFigures(
        use,
        area,
        _by_zone(room.cooling_c, zone, "cooling_c", use.cooling_c, name),
        _by_zone(room.heating_c, zone, "heating_c", use.heating_c, name),
        people,
        resolve(room.lights_w_m2, use.lights_w_m2, name),
        resolve(room.equipment_w_m2, use.equipment_w_m2, name),
        resolve(
            room.infiltration_1h,
            leak.figure if exposed else 0.0,
            f"office standards: {leak.figure:g} 1/h with an outside wall"
            if exposed
            else "office standards: no outside wall",
        ),
        resolve(
            room.air_change_1h,
            0.0 if not use.air_area_m3s_m2 else LEAST_AIR_CHANGE_1H.get(use.id, USUAL_AIR_CHANGE_1H),
            f"office standards, least air change of {use.name}",
        ),
        resolve(room.outdoor_m3s, outdoor, outdoor_source),
        each,
        resolve(room.moisture_w, 0.0, "office standards: people alone"),
        resolve(room.cooling_limit_w, np.inf, "no limit: the plant is sized for the load"),
        resolve(room.heating_limit_w, np.inf, "no limit: the plant is sized for the load"),
        day_profiles(book, room.profile_id or use.profile),
        operation_in_force(zone, system.operation if system is not None else None),
        centre,
        net,
        resolve(zone.supply_c, 0.0, "") if zone is not None and not isinstance(zone.supply_c, Rule) else None,
        _humidity(zone),
        resolve(room.extract_m3s, exhaust, exhaust_source),
        *rates,
    )


def outdoor_air(book: Book, use: RoomUse, people: float, area_m2: float) -> tuple[float, str, tuple[float, float]]:
    """Outdoor air of a room [m3/s] by the office's method, where it comes from, and the rates per person and per m2."""
    if book.outdoor_method.startswith("people and area"):
        rates = (use.rate_person_m3s, use.rate_area_m3s_m2)
        return (
            float(people_and_area(people, area_m2, *rates)),
            f"{use.source_rate}: people and area" if any(rates) else f"ASHRAE 62.1 gives no rate for {use.name}",
            rates,
        )
    category = ventilation_categories()[book.category]
    person, area = use.air_person_m3s, use.air_area_m3s_m2
    usual = ventilation_categories()["II"]
    if book.category != "II" and person:
        person = person * category["person"] / usual["person"]
    if book.pollution != "use" and area:
        area = category[book.pollution]
    elif book.category != "II" and area:
        # The use's own class of building, in the category chosen.
        kind = min(("very low", "low", "not low"), key=lambda k: abs(usual[k] - use.air_area_m3s_m2))
        area = category[kind]
    source = (
        use.source_air
        if (book.category, book.pollution) == ("II", "use")
        else f"EN 16798-1:2019 annex B, category {book.category}, {POLLUTION[book.pollution]}"
    )
    quality = float(perceived_quality(people, area_m2, person, area))
    if book.outdoor_method == "quality":
        return quality, source, (person, area)
    substance = float(dilution(people * CO2_PERSON_M3S, RISE_PPM[book.category]))
    if book.outdoor_method == "substance" or substance > quality:
        return (
            substance,
            f"EN 16798-1:2019: CO2 at most {RISE_PPM[book.category]:.0f} ppm above outdoors, 20 L/h a person",
            (person, area),
        )
    return quality, source, (person, area)


def _extract(book: Book, use: RoomUse, area_m2: float) -> tuple[float, str]:
    """Extract by the use: per floor, or per fixture with the office standards' floor per fixture."""
    if use.extract_fixture_m3s:
        each = assumption(book, "fixture_m2").figure
        count = max(1, round(area_m2 / each))
        return (
            count * use.extract_fixture_m3s,
            f"{count} fixtures at 25 L/s, {use.name}; office standards: {each:g} m² each",
        )
    if use.extract_m3s_m2:
        return use.extract_m3s_m2 * area_m2, f"{use.source_extract or use.name}: {use.extract_m3s_m2 * 1000:g} L/s m²"
    return 0.0, f"{use.name} needs no extract"


def humidity_limit(zone: Zone | None, of_system: Figure) -> Figure:
    """Relative humidity that a room is not to pass: its zone's, else its air system's."""
    if zone is not None and not isinstance(zone.humidity_high, Rule):
        return Figure(zone.humidity_high.value, "pinned", of_system.figure, f"zone {zone.name}")
    return of_system


def use_figures(book: Book, use_id: str, area_m2: float = 1000.0) -> RoomFigures:
    """A use as the office has it, on a floor of some area."""
    side = area_m2**0.5
    room = Room(
        id="use",
        number="",
        name="",
        level_id="",
        outline=((0.0, 0.0), (side, 0.0), (side, side), (0.0, side)),
        use_id=use_id,
        ceiling_m=3.0,
        sketched=True,
    )
    return room_figures(room, (), None, "centre", book)


def _by_zone(value: Value, zone: Zone | None, field: str, by_use: float, book: str) -> Figure:
    """A room's own figure, else its zone's, else its use's."""
    given = getattr(zone, field) if zone is not None else Rule()
    if isinstance(given, Rule):
        return resolve(value, by_use, book)
    return resolve(value, given.value, f"zone {zone.name}")


def _humidity(zone: Zone | None) -> float:
    """The usual humidity, moved to within the limits of the zone."""
    low, high = (zone.humidity_low, zone.humidity_high) if zone is not None else (Rule(), Rule())
    held = max(ROOM_HUMIDITY, low.value) if not isinstance(low, Rule) else ROOM_HUMIDITY
    return min(held, high.value) if not isinstance(high, Rule) else held


WINTER_HUMIDITY, GROUND_REFLECTANCE, WIND_M_S = 0.8, 0.2, 4.0


@dataclass(frozen=True, slots=True)
class SiteFigures:
    """months: twelve rows of figures in the order of MONTH_COLUMNS."""

    winter_c: Figure
    winter_humidity: Figure
    annual_mean_c: Figure
    ground_reflectance: Figure
    wind_m_s: Figure
    months: tuple[tuple[Figure, ...], ...]

    def column(self, name: str) -> np.ndarray:
        return np.array([row[MONTH_COLUMNS.index(name)].figure for row in self.months])


def site_figures(site: Site) -> SiteFigures:
    """What is by rule follows the weather file, else the chosen place, else the first place of the office standards."""
    place = places().get(site.place_id) or next(iter(places().values()))
    source = f"{place.name} (invented)" if site.place_id else f"office standards: {place.name} until a place is given"
    winter, mean, wind = place.winter_c, place.annual_mean_c, WIND_M_S
    given = site.months or (None,) * 12
    if site.weather is not None:
        year = site.weather
        source = f"{year.name}, {site.summer_percent} % of the month's hours are hotter"
        winter, mean = year.winter_c[WINTER_PERCENTS.index(float(site.winter_percent))], year.mean_c
        wind = sum(m.wind_m_s for m in year.months) / 12
    at, rows = SUMMER_PERCENTS.index(float(site.summer_percent)), []
    for k, month in enumerate(given):
        by_rule = place.months[k]
        if site.weather is not None:
            m = site.weather.months[k]
            by_rule = (m.dry_bulb_c[at], m.wet_bulb_c[at], m.range_k, m.wet_range_k, m.tau_b, m.tau_d)
        row = [
            resolve(getattr(month, name) if month is not None else Rule(), value, source)
            for name, value in zip(MONTH_COLUMNS, by_rule)
        ]
        if row[1].figure > row[0].figure:  # a colder day pinned above a wet bulb by rule
            row[1] = replace(row[1], figure=row[0].figure, source="no warmer than the dry bulb")
        rows.append(tuple(row))
    cold = (
        f"{site.weather.name}, {site.winter_percent} % of the year's hours are warmer"
        if site.weather is not None
        else source
    )
    return SiteFigures(
        resolve(site.winter_c, winter, cold),
        resolve(site.winter_humidity, WINTER_HUMIDITY, "office standards"),
        resolve(site.annual_mean_c, mean, source),
        resolve(site.ground_reflectance, GROUND_REFLECTANCE, "office standards, bare ground"),
        resolve(site.wind_m_s, wind, source if site.weather is not None else "office standards: 4 m/s until given"),
        tuple(rows),
    )


@dataclass(frozen=True, slots=True)
class SystemFigures:
    supply_c: Figure
    least_share: Figure
    humidity_high: Figure
    warm_limit_k: Figure
    friction_pa_m: Figure
    allowance: Figure


# Supply air where the part that conditions it leaves it: neutral air of outdoor-air units, heated air of ventilation
# alone.
SUPPLY_C = {
    "doas": (18.0, "office standards, outdoor air with room units"),
    "heating_ventilation": (18.0, "office standards, heated outdoor air"),
}


def system_figures(system: AirSystem, book: Book = Book()) -> SystemFigures:
    least, limit = assumption(book, "least_share"), assumption(book, "humidity_high")
    return SystemFigures(
        resolve(system.supply_c, *SUPPLY_C.get(system.pattern, (14.0, "office standards, mixing outlets"))),
        resolve(system.least_share, least.figure, least.source),
        resolve(system.humidity_high, limit.figure, limit.source),
        resolve(system.warm_limit_k, 11.0, "office standards, ceiling outlets"),
        resolve(system.friction_pa_m, 1.0, "office standards, low pressure"),
        resolve(system.allowance, 0.10, "office standards"),
    )


def part_figure(part: Part, name: str, by_rule: float | None = None, source: str = "") -> Figure:
    """A figure of a part; by_rule where its kind leaves it to what is computed. "pressure" is the drop at the rated
    flow.
    """
    if part.kind == "filter" and part.choice and name in ("pressure", "clean", "final"):
        return _of_class(part, name)
    if name == "pressure":
        return resolve(part.pressure_pa, KINDS[part.kind].pressure_pa or 0.0, "office standards, at the rated flow")
    kind = KINDS[part.kind].figures[name]
    rule = kind.by_rule if by_rule is None else by_rule
    return resolve(part.given(name), 0.0 if rule is None else rule, source or kind.source)


def _of_class(part: Part, name: str) -> Figure:
    """Figures of a filter whose class is chosen: clean and loaded at 2 m/s on its face, its drop their mean."""
    clean, final = (float(x) for x in filter_drop(part.choice, RATED_M_S))
    mean = 0.5 * (clean + final)
    source = f"{part.choice} of ISO 16890 at 2 m/s, own estimate"
    if name == "pressure":
        return resolve(part.pressure_pa, mean, source)
    return resolve(part.given(name), (clean if name == "clean" else final) / mean, source)
