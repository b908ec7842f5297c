"""Moisture in the air of rooms through a day: what the plant must take out or put in to keep the limits."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.loads.plant import Plan, air_matrix, run_plant

HEAT_OF_VAPOUR = 2.5e6  # J/kg


@dataclass(frozen=True, slots=True, eq=False)
class MoistureDays:
    """ratio (R, M, 24) [kg/kg]; latent_w (R, M, 24) > 0 = moisture to remove, < 0 = to add."""

    ratio: NDArray[np.float64]
    latent_w: NDArray[np.float64]


def moisture_days(
    sources_kg_s: NDArray,
    exchange_kg_s: NDArray,
    outdoor_ratio: NDArray,
    stored_kg: NDArray,
    on: NDArray,
    low_ratio: NDArray,
    high_ratio: NDArray,
) -> MoistureDays:
    """Humidity of R rooms through M days.

    sources_kg_s (R, M, 24)  moisture of people and processes
    exchange_kg_s (R,)       dry air that leaks in; outdoor_ratio (M, 24) [kg/kg]
    stored_kg (R,)           dry air in the room, times the buffering factor (1 = none, user up to 15)
    on (R, 24)               hours in which the limits are kept
    low_ratio, high_ratio (R,) limits [kg/kg]; 0 and inf for none

    The balance has the form of the room's heat: exchange, storage, and plant that steps in at a limit, so the
    same solver settles its states. Sensible heat of vapour is left out.
    """
    rooms = len(stored_kg)
    exchange = np.maximum(exchange_kg_s, 1e-9)
    g = air_matrix(np.zeros((rooms, 24)), exchange, stored_kg)
    force = sources_kg_s + exchange[:, None, None] * outdoor_ratio
    endless = np.full(rooms, np.inf)
    high = np.minimum(high_ratio, 10.0)
    # The solver's tolerances are for kelvin and watts; in grams and milligrams per second moisture has their size.
    plan = Plan(
        on,
        np.repeat(low_ratio[:, None], 24, 1) * 1e3,
        np.repeat(high[:, None], 24, 1) * 1e3,
        endless,
        endless,
        np.zeros(rooms, bool),
    )
    found = run_plant(g * 1e3, force * 1e6, plan)
    return MoistureDays(found.air_c * 1e-3, -found.heat_w * 1e-6 * HEAT_OF_VAPOUR)
