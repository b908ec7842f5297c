"""Cooling load of many rooms through twelve design days, by cause."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.layers import DAILY
from garnetfin.core.loads.balance import RoomResponse, Surfaces, day_hours, day_spectrum, respond, sum_by

CAUSES = ("glass sun", "glass conduction", "walls and roofs", "ground", "unheated beside", "infiltration",
          "people", "lights", "equipment")
CAUSE = {name: i for i, name in enumerate(CAUSES)}


@dataclass(frozen=True, slots=True, eq=False)
class RoomDays:
    """All that drives the rooms; R rooms, S surfaces (sorted by room), W windows.

    surfaces         faces with their periodic response
    behind_c         (S, 12, 24) temperature behind each surface [degC] (sol-air, outdoor, ground, unheated room);
                     rows of adiabatic surfaces are not read
    behind_cause     (S,) number in CAUSES for the heat that comes through, -1 for adiabatic ones
    sun_weight       (S,) share of the room's diffused sun that each surface takes; sums to 1 - lost in each room
    floor_weight     (S,) share of transmitted beam that the floor takes at once (0 elsewhere)
    window_surface   (W,) surface number of each window
    window_beam_w    (W, 12, 24) transmitted beam [W]
    window_diffuse_w (W, 12, 24) transmitted sky and ground light [W]
    window_glass_w_m2 (W, 12, 24) absorbed heat put on the inside glass face [W/m2]
    convective_w, radiant_w  (3, R, 24) people, lights, equipment, the same every month [W]
    exchange_w_k     (R,) air leakage [W/K]
    outdoor_c        (12, 24);  set_point_c (R,)
    """

    surfaces: Surfaces
    behind_c: NDArray[np.float64]
    behind_cause: NDArray[np.intp]
    sun_weight: NDArray[np.float64]
    floor_weight: NDArray[np.float64]
    window_surface: NDArray[np.intp]
    window_beam_w: NDArray[np.float64]
    window_diffuse_w: NDArray[np.float64]
    window_glass_w_m2: NDArray[np.float64]
    convective_w: NDArray[np.float64]
    radiant_w: NDArray[np.float64]
    exchange_w_k: NDArray[np.float64]
    outdoor_c: NDArray[np.float64]
    set_point_c: NDArray[np.float64]


@dataclass(frozen=True, slots=True, eq=False)
class CoolingLoads:
    """Row r belongs to the r-th room. by_cause_w (causes, rooms, 12, 24); its sum over causes is sensible_w."""

    sensible_w: NDArray[np.float64]
    by_cause_w: NDArray[np.float64]
    instant_gain_w: NDArray[np.float64]

    def __post_init__(self) -> None:
        for array in (self.sensible_w, self.by_cause_w, self.instant_gain_w):
            array.flags.writeable = False


def cooling_loads(days: RoomDays) -> CoolingLoads:
    """Sensible load of rooms held at their set-point all day [W], delays included, split exactly by cause.

    With one set-point all day the load is linear in the causes: every temperature is taken against the
    set-point, and each cause goes through the room's response alone.
    """
    rooms = len(days.set_point_c)
    if rooms == 0 or len(np.unique(days.surfaces.room)) != rooms:
        raise InputError("Every room needs at least one surface", remedy="Give it walls, a floor or a ceiling")
    response = respond(days.surfaces)
    room = days.surfaces.room
    spectra = np.zeros((len(CAUSES), rooms, 12, DAILY), complex)

    through = np.flatnonzero(days.behind_cause >= 0)
    rise = day_spectrum(days.behind_c[through] - days.set_point_c[room[through], None, None])
    heat = rise * response.through[through, None, :]
    keys = days.behind_cause[through] * rooms + room[through]
    spectra += sum_by(keys, len(CAUSES) * rooms, heat).reshape(spectra.shape)

    spectra[CAUSE["glass sun"]] += _sun(days, response, rooms)

    leak = days.exchange_w_k[:, None, None] * (days.outdoor_c - days.set_point_c[:, None, None])
    radiant = day_spectrum(days.radiant_w) * response.star
    gains = day_hours(radiant) + days.convective_w

    by_cause = day_hours(spectra)
    by_cause[CAUSE["infiltration"]] = leak
    first = CAUSE["people"]
    by_cause[first:first + 3] = gains[:, :, None, :]

    instant = by_cause.copy()
    instant[CAUSE["glass sun"]] = sum_by(room[days.window_surface], rooms, days.window_beam_w + days.window_diffuse_w)
    instant[first:first + 3] = (days.convective_w + days.radiant_w)[:, :, None, :]
    return CoolingLoads(by_cause.sum(axis=0), by_cause, instant)


def _sun(days: RoomDays, response: RoomResponse, rooms: int) -> NDArray[np.complex128]:
    """Spectrum (rooms, 12, 13) of the load from sun through glass: transmitted and absorbed."""
    surfaces = days.surfaces
    per_watt = response.per_flux / surfaces.area_m2[:, None]
    to_diffuse = sum_by(surfaces.room, rooms, days.sun_weight[:, None] * per_watt)
    to_floor = sum_by(surfaces.room, rooms, days.floor_weight[:, None] * per_watt)
    on_floor = sum_by(surfaces.room, rooms, days.floor_weight)
    window_room = surfaces.room[days.window_surface]
    beam = day_spectrum(sum_by(window_room, rooms, days.window_beam_w))
    diffuse = day_spectrum(sum_by(window_room, rooms, days.window_diffuse_w))
    total = beam * to_floor[:, None] + (diffuse + beam * (1 - on_floor)[:, None, None]) * to_diffuse[:, None]
    absorbed = day_spectrum(days.window_glass_w_m2) * response.per_flux[days.window_surface, None, :]
    return total + sum_by(window_room, rooms, absorbed)
