"""Outdoor air of an air system: least flows of boxes, what the unit takes in, what arrives in rooms."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.airflow.fresh_air import (
    RoomStreams,
    arriving,
    least_flows,
    least_intake,
    shares_to_try,
    zone_intake,
)
from garnetfin.core.airflow.outdoor_air import SystemVentilation, multiple_zones, simplified_efficiency
from garnetfin.core.psychro import properties as air
from garnetfin.display import amount, told
from garnetfin.engine.resolve import Figure, RoomFigures, resolve
from garnetfin.engine.results import Climate, FreshAir
from garnetfin.project.book import Book
from garnetfin.project.systems import AirSystem

Array = NDArray[np.float64]
CANDIDATES = 5  # rooms at their least flow that may ask for the most outdoor air
SHARES, HUMID_RETURN = 16, 0.5
SIMPLE_LEAST = 1.5  # times the outdoor air of a zone, ASHRAE 62.1 simplified


@dataclass(frozen=True, slots=True, eq=False)
class Boxes:
    """Rooms of a system (R,) by what bounds their flows [m3/s] and what their loads ask for through the hours
    (R, 288).

    low, high       least flow for all but outdoor air, and design flow
    wanted          outdoor air over the effectiveness of the room's air distribution
    room_c, hold_c  set-points when cooled and when heated; supply_c what reaches the room [degC]
    fall_w_k        by how much loads fall as rooms get warmer
    """

    low: Array
    high: Array
    wanted: Array
    hours: Array
    load_w: Array
    room_c: Array
    hold_c: Array
    supply_c: Array
    fall_w_k: Array
    heat_j_m3k: float

    def flows(self, least: Array) -> Array:
        return np.clip(self.hours, least[:, None], self.high[:, None])

    def reheat_w(self, flows: Array, least: Array) -> Array:
        """Through the hours (288,): what holds rooms at their heating set-points under least flow."""
        load = self.load_w + (self.fall_w_k * (self.room_c - self.hold_c))[:, None]
        cold = self.heat_j_m3k * flows * (self.hold_c - self.supply_c)[:, None] - load
        return np.asarray(np.where(flows <= least[:, None] + 1e-12, np.maximum(cold, 0.0), 0.0).sum(axis=0))


def least_of_boxes(boxes: Boxes, book: Book, mixes: bool, uncorrected: float, climate: Climate) -> Array:
    """Least flows (R,) of boxes that follow the load. Where air recirculates, boxes share one greatest share of outdoor
    air: searched for the least heat and cold of the design days, or for the least intake.
    """
    if book.outdoor_method == "people and area, simplified":
        return np.minimum(np.maximum(boxes.low, SIMPLE_LEAST * boxes.wanted), boxes.high)
    if not mixes:
        return np.minimum(np.maximum(boxes.low, boxes.wanted), boxes.high)
    shares = shares_to_try(boxes.wanted, boxes.low, boxes.high, SHARES)
    if not len(shares):
        return np.minimum(boxes.low, boxes.high)
    tried = least_flows(boxes.wanted, boxes.low, boxes.high, shares)
    if book.least_flows == "intake":
        return np.asarray(tried[0])
    costs = [_heat_and_cold(boxes, least, uncorrected, climate) for least in tried]
    return np.asarray(tried[int(np.argmin(costs))])


def _heat_and_cold(boxes: Boxes, least: Array, uncorrected: float, climate: Climate) -> float:
    """Outdoor air's load, heat below it and reheat, summed over the design days and the winter hour [W]."""
    flows = boxes.flows(least)
    total = np.maximum(flows.sum(axis=0), 1e-9)
    intake = np.minimum(zone_intake(boxes.wanted, least, uncorrected, float(total.max())), total)
    weight = boxes.high / max(float(boxes.high.sum()), 1e-9)
    room_c, supply_c, hold_c = (float((weight * v).sum()) for v in (boxes.room_c, boxes.supply_c, boxes.hold_c))
    days, density = climate.days, boxes.heat_j_m3k / 1010.0
    inside = float(air.enthalpy(room_c, air.humidity_ratio(room_c, HUMID_RETURN, climate.pressure_pa)))
    outside = air.enthalpy(days.dry_bulb_c, days.humidity_ratio).reshape(288)
    cold = density * intake * np.maximum(outside - inside, 0.0)
    mixed = room_c + intake / total * (days.dry_bulb_c.reshape(288) - room_c)
    warm = boxes.heat_j_m3k * total * np.maximum(supply_c - mixed, 0.0)
    at_least = float(least.sum())
    share = min(1.0, float(intake.max()) / max(at_least, 1e-9))
    winter = hold_c + share * (climate.figures.winter_c.figure - hold_c)
    winter_w = boxes.heat_j_m3k * at_least * max(hold_c - winter, 0.0)
    return float((cold + warm + boxes.reheat_w(flows, least)).sum() + winter_w)


@dataclass(frozen=True, slots=True, eq=False)
class Rooms:
    """Rooms of a system (R,) with the air that flows in them [m3/s].

    streams     supply flows -> what else flows then
    wanted, warm_wanted  outdoor air over effectiveness when cooled, and when heated by air
    least       of variable flow, else the flow itself; block the flows of the greatest hour; winter those of winter
    """

    ids: tuple[str, ...]
    figures: Sequence[RoomFigures]
    wanted: Array
    warm_wanted: Array
    flow: Array
    least: Array
    block: Array
    winter: Array
    total: float
    variable: bool
    streams: Callable[[Array], RoomStreams]


def all_outdoor(total: float) -> Figure:
    return Figure(total, "rule", total, "no mixing: all supply air is outdoor air")


def intake_of(
    book: Book, system: AirSystem, rooms: Rooms
) -> tuple[Figure, SystemVentilation | None, str, FreshAir | None]:
    """(outdoor air of the unit, the multiple-zone procedure where it counts, critical room, least intake)."""
    fresh, total = _least(rooms), rooms.total
    ventilation, critical = None, fresh.critical_room
    summed = min(fresh.sum_m3s, total)
    by_rule, source = summed, "the sum of its rooms"
    if book.outdoor_method == "people and area" and total > 0:
        ventilation, season, at = _by_zones(system, rooms)
        critical = rooms.ids[at]
        by_rule = min(ventilation.outdoor_m3s, total) if ventilation.possible else total
        source = told(
            f"ASHRAE 62.1, when {season}: {amount('room_flow', ventilation.uncorrected_m3s)} over a system efficiency "
            f"of {ventilation.efficiency:.2f}"
        )
    elif book.outdoor_method == "people and area, simplified" and total > 0:
        uncorrected, diversity = uncorrected_of(system, rooms.figures, rooms.wanted)
        efficiency = simplified_efficiency(diversity)
        by_rule = min(uncorrected / efficiency, total)
        source = told(
            f"ASHRAE 62.1, simplified: {amount('room_flow', uncorrected)} over a system efficiency of {efficiency:.2f}"
        )
    elif book.recirculation == "raise" and fresh.least_m3s > summed:
        by_rule, source = min(fresh.least_m3s, total), "raised until every room gets its share of it"
    elif book.recirculation == "bare":
        asks = rooms.flow > 0
        share = float((rooms.wanted[asks] / rooms.flow[asks]).max()) if asks.any() else 0.0
        by_rule, source = min(share, 1.0) * total, "the greatest share that a room asks of its supply"
    return resolve(system.outdoor_m3s, by_rule, source), ventilation, critical, fresh


def uncorrected_of(system: AirSystem, figures: Sequence[RoomFigures], wanted: Array) -> tuple[float, float]:
    """(what all rooms ask for together with the people that are there at once, their diversity)."""
    people = np.array([x.people.figure for x in figures])
    whole = float(people.sum())
    together = min(resolve(system.people, whole, "all rooms full at once").figure, whole)
    diversity = together / whole if whole > 0 else 1.0
    for_people = np.array([x.people.figure * x.air_person_m3s for x in figures])
    for_area = np.array([x.area_m2.figure * x.air_area_m3s_m2 for x in figures])
    return (
        (diversity * float(for_people.sum()) + float(for_area.sum()), diversity)
        if whole
        else (float(wanted.sum()), 1.0)
    )


def _least(rooms: Rooms) -> FreshAir:
    """The greatest of what rooms at design ask for and, with variable flow, each critical room at its least flow."""
    cases = [rooms.flow]
    if rooms.variable:
        share = np.where(rooms.least > 0, rooms.wanted / np.where(rooms.least > 0, rooms.least, 1.0), 0.0)
        for i in np.argsort(-share, kind="stable")[:CANDIDATES].tolist():
            others = rooms.block.copy()
            others[i] = 0.0
            left = max(rooms.total - rooms.least[i], 0.0)
            others *= min(left / others.sum(), 1.0) if others.sum() > 0 else 0.0
            others[i] = rooms.least[i]
            cases.append(others)
    found = [least_intake(rooms.wanted, rooms.streams(flow)) for flow in cases]
    worst = max(found, key=lambda intake: (not intake.possible, intake.flow))
    return FreshAir(
        min(worst.flow, rooms.total),
        rooms.ids[worst.critical] if worst.critical >= 0 else "",
        float(rooms.wanted.sum()),
        worst.possible,
    )


def _by_zones(system: AirSystem, rooms: Rooms) -> tuple[SystemVentilation, str, int]:
    """(the season that asks for more, its name, the critical room's place)."""
    own = np.flatnonzero(rooms.flow > 0).tolist()
    f = [rooms.figures[i] for i in own]
    people = np.array([x.people.figure for x in f])
    together = resolve(system.people, float(people.sum()), "all rooms full at once")
    for_people = np.array([x.people.figure * x.air_person_m3s for x in f])
    for_area = np.array([x.area_m2.figure * x.air_area_m3s_m2 for x in f])
    asked = for_people + for_area
    seasons = []
    for name, wanted, discharge, primary in (
        ("cooled", rooms.wanted, rooms.least, rooms.total),
        ("heated", rooms.warm_wanted, np.minimum(rooms.least, rooms.winter), float(rooms.winter.sum())),
    ):
        effective = np.where(wanted[own] > 0, asked / np.where(wanted[own] > 0, wanted[own], 1.0), 1.0)
        if primary > 0:
            found = multiple_zones(
                for_people,
                for_area,
                np.where(effective > 0, effective, 1.0),
                np.maximum(discharge[own], 1e-9),
                people,
                min(together.figure, float(people.sum())),
                primary,
            )
            seasons.append((found, name, int(own[found.critical])))
    return max(seasons, key=lambda s: (not s[0].possible, np.nan_to_num(s[0].outdoor_m3s, nan=np.inf)))


def arrives(rooms: Rooms, intake: float, mixes: bool) -> Array:
    """Outdoor air that arrives in rooms (R,) [m3/s] at their design flows."""
    return arriving(rooms.wanted, rooms.streams(rooms.flow), intake if mixes else np.inf).arrives
