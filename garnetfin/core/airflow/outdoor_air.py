"""Outdoor air of rooms (EN 16798-1:2019, method 1: perceived air quality)."""

import numpy as np
from numpy.typing import ArrayLike, NDArray

LEAST_PERSON_M3S = 0.004


def perceived_quality(people: ArrayLike, area_m2: ArrayLike, person_m3s: ArrayLike,
                      area_m3s_m2: ArrayLike) -> NDArray[np.float64]:
    """[m3/s] for people and for the building, never below 4 L/s a person."""
    people = np.asarray(people, float)
    wanted = people * np.asarray(person_m3s, float) + np.asarray(area_m2, float) * np.asarray(area_m3s_m2, float)
    return np.maximum(wanted, people * LEAST_PERSON_M3S)
