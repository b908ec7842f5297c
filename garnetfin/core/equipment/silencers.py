"""Splitter sets in the silencer section of a unit: the shortest that lets through no more than is allowed.

Bands 63 Hz to 8 kHz in dB re 1 pW. Methods: The air handling unit.
"""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from garnetfin.core import noise
from garnetfin.core.equipment.catalogue import Splitter, stacked
from garnetfin.core.errors import InputError

Array = NDArray[np.float64]
NOISE_SHAPE = (-4, -4, -6, -8, -12, -16, -21, -27)
NOISE_M_S = 5.0
AIR_KG_M3 = 1.2


class SilencerChoice(NamedTuple):
    """The set that serves, None where none does; drop [Pa], levels behind it and its own noise [dB] (8,); why each of
    the others was not taken, by model; the band [Hz] that lacks most, and by how much, where none serves.
    """

    model: Splitter | None
    drop_pa: float
    after_db: Array
    own_db: Array
    refused: dict[str, str]
    lacks_hz: float = 0.0
    lacks_db: float = 0.0


def choose(
    models: Sequence[Splitter],
    before_db: Array,
    allowed_db: Array,
    flow_m3s: float,
    face_m: tuple[float, float],
    most_pa: float,
) -> SilencerChoice:
    """The shortest set, then the one of least drop, that keeps levels behind it within what is allowed.

    face   width and height of the section [m]
    Raises InputError without models, air or a face.
    """
    width, height = face_m
    area = width * height
    if not models or not (flow_m3s > 0 and area > 0):
        raise InputError("A silencer needs models, air and a face above 0", where="silencer")
    speed = flow_m3s / area
    drop = stacked(models, "k_face") * 0.5 * AIR_KG_M3 * speed**2
    total = (
        stacked(models, "noise_db") + stacked(models, "noise_slope") * np.log10(speed / NOISE_M_S) + 10 * np.log10(area)
    )
    own = noise.shaped(total, NOISE_SHAPE)
    after = noise.add(np.array([np.asarray(before_db, float) - stacked(models, "loss_db"), own]))
    over = (after - np.asarray(allowed_db, float)).max(axis=1)
    needs = stacked(models, "thickness_m") + stacked(models, "gap_m")
    refused: dict[str, str] = {}
    order = sorted(range(len(models)), key=lambda i: (models[i].length_m, drop[i], models[i].model))
    for i in order:
        why = "width" if width < needs[i] - 1e-9 else "drop" if drop[i] > most_pa else "sound" if over[i] > 1e-9 else ""
        if not why:
            return SilencerChoice(models[i], float(drop[i]), after[i], own[i], refused)
        refused[models[i].model] = why
    best = min(order, key=lambda i: over[i])
    band = int((after[best] - np.asarray(allowed_db, float)).argmax())
    return SilencerChoice(
        None, float(drop[best]), after[best], own[best], refused, float(noise.BANDS_HZ[band]), float(over[best])
    )
