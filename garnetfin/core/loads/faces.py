"""What each single face and window brings to a room's load: the same operator as the causes, one row a face.

Source: own method on the same balance.
"""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.loads.balance import day_hours, day_spectrum, respond
from garnetfin.core.loads.plant import air_matrix, held_all_day, shares
from garnetfin.core.loads.rooms import SHADE_TO_AIR, RoomDays


def face_shares(days: RoomDays, state: NDArray[Any], reference_c: NDArray[Any]) -> tuple[NDArray[Any], NDArray[Any]]:
    """(heat through each face (S, M, 24), sun through each window (W, M, 24)) of one room's load [W], delays included.

    days of a single room; state (1, M, 24) of its plant; reference_c (M,) temperature the day counts from.
    Their sums are the causes of the room's breakdown.
    """
    surfaces, count = days.surfaces, days.behind_c.shape[1]
    response = respond(surfaces)
    faces, windows = len(surfaces.room), len(days.window_surface)
    rows = np.zeros((faces + windows, 1, count, 24))
    open_back = days.behind_cause >= 0
    rise = np.where(open_back[:, None, None], days.behind_c - reference_c[None, :, None], 0.0)
    rows[:faces, 0] = day_hours(day_spectrum(rise) * response.through[:, None, :])
    per_watt = response.per_flux / surfaces.area_m2[:, None]
    to_diffuse = (days.sun_weight[:, None] * per_watt).sum(axis=0)
    to_floor = (days.floor_weight[:, None] * per_watt).sum(axis=0)
    on_floor = days.floor_weight.sum()
    if windows:
        beam, diffuse = day_spectrum(days.window_beam_w), day_spectrum(days.window_diffuse_w)
        sun = beam * to_floor + (diffuse + beam * (1 - on_floor)) * to_diffuse
        sun = sun + day_spectrum(days.window_glass_w_m2) * response.per_flux[days.window_surface, None, :]
        if days.window_shade_w is not None:
            sun = sun + day_spectrum(days.window_shade_w) * (SHADE_TO_AIR + (1 - SHADE_TO_AIR) * response.star[0])
        rows[faces:, 0] = day_hours(sun)
    plan = days.plan or held_all_day(days.set_point_c)
    if not plan.held[0]:
        bridges = np.zeros(1) if days.bridges_w_k is None else days.bridges_w_k
        rows = shares(air_matrix(day_hours(response.air), days.exchange_w_k + bridges, days.stored_j_k), state, rows)
    return rows[:faces, 0], rows[faces:, 0]
