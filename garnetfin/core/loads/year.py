"""A year of hours: the same room balance in time, by the modes of all its walls.

Layers become finite volumes; massless faces and the star are eliminated; what is left is a set of decaying modes for
each
room, stepped exactly for inputs that are held through an hour. The plant is decided hour by hour in closed form.

Source: modal reduction of the same walls (ISO 52016-1 states the balance).
"""

import itertools
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.layers import Layer

HOUR = 3600.0
FASTEST = 8.0  # modes that decay by more than this in an hour follow at once


@dataclass(frozen=True, slots=True, eq=False)
class YearFaces:
    """Inside faces of R rooms, sorted by room: layers inside to outside, film None = adiabatic back."""

    room: NDArray[np.intp]
    area_m2: NDArray[np.float64]
    hc_w_m2k: NDArray[np.float64]
    hr_w_m2k: NDArray[np.float64]
    layers: tuple[tuple[Layer, ...], ...]
    film: tuple[float | None, ...]


@dataclass(frozen=True, slots=True, eq=False)
class YearDrive:
    """Hour means of H hours: behind_c, flux_w_m2 (S, H); radiant_w, convective_w (R, H); outdoor_c (H,)."""

    behind_c: NDArray[Any]
    flux_w_m2: NDArray[Any]
    radiant_w: NDArray[Any]
    convective_w: NDArray[Any]
    outdoor_c: NDArray[Any]
    exchange_w_k: NDArray[Any]  # (R,) leakage and bridges
    capacity_j_k: NDArray[Any]  # (R,)


@dataclass(frozen=True, slots=True, eq=False)
class YearPlan:
    """By day and hour (R, D, 24), or (R, 24) for days alike; limits (R,) [W], inf for none."""

    on: NDArray[Any]
    heat_c: NDArray[Any]
    cool_c: NDArray[Any]
    heat_limit_w: NDArray[Any]
    cool_limit_w: NDArray[Any]


@dataclass(frozen=True, slots=True, eq=False)
class YearLoads:
    """heat_w (R, H), > 0 heats, < 0 cools; air_c (R, H)."""

    heat_w: NDArray[np.float64]
    air_c: NDArray[np.float64]


@dataclass(frozen=True, slots=True, eq=False)
class _Modes:
    """Per room, padded to the greatest number of modes K; inputs: air, behind (N), flux (N), radiant."""

    decay: NDArray[Any]  # (R, K) of an hour
    gain: NDArray[Any]  # (R, K) what a held input adds by its end
    mean: NDArray[Any]  # (R, K) share of the start in the hour's mean
    mean_gain: NDArray[Any]  # (R, K) what a held input adds to the mean
    beta_air: NDArray[Any]  # (R, K)
    beta: NDArray[Any]  # (R, K, I)
    out: NDArray[Any]  # (R, K) heat to the air per mode
    direct_air: NDArray[Any]  # (R,)
    direct: NDArray[Any]  # (R, I)
    slot: NDArray[Any]  # (S,) place of a face among its room's


def run_year(
    faces: YearFaces,
    drive: YearDrive,
    plan: YearPlan,
    progress: Callable[[float], None] = lambda share: None,
    warm_days: int = 30,
) -> YearLoads:
    """Loads and air temperatures through all hours; the first day is run `warm_days` times before.

    progress is called with the share done about 25 times and may raise to stop.
    Raises InputError for hours that are no whole days.
    """
    rooms, hours = drive.radiant_w.shape
    if hours % 24:
        raise InputError(f"A run needs whole days, got {hours} hours")
    modes = _modes(faces, rooms)
    heat, air = np.empty((rooms, hours)), np.empty((rooms, hours))
    by_day = (rooms, hours // 24, 24)
    on, heat_c, cool_c = (
        np.broadcast_to(x if x.ndim == 3 else x[:, None], by_day) for x in (plan.on, plan.heat_c, plan.cool_c)
    )
    z, before = np.zeros(modes.decay.shape), cool_c[:, 0, 0].copy()
    stored = drive.capacity_j_k / HOUR
    g = -modes.direct_air - (modes.out * modes.mean_gain * modes.beta_air).sum(axis=1) + drive.exchange_w_k + stored
    out_mean, gain_air = modes.out * modes.mean, modes.gain * modes.beta_air
    low, high = np.where(on, heat_c, -1e9), np.where(on, cool_c, 1e9)
    total = hours // 24
    for turn in range(-warm_days, total):
        day = max(turn, 0)
        pushed, direct = _inputs(faces, drive, modes, day)
        for hour in range(24):
            at = day * 24 + hour
            known = np.einsum("rk,rk->r", out_mean, z) + direct[:, hour] + stored * before
            free = known / g
            wanted = np.minimum(np.maximum(free, low[:, day, hour]), high[:, day, hour])
            q = np.minimum(np.maximum(g * wanted - known, -plan.cool_limit_w), plan.heat_limit_w)
            before = (known + q) / g
            z = modes.decay * z + pushed[:, :, hour] + gain_air * before[:, None]
            if turn >= 0:
                heat[:, at], air[:, at] = q, before
        if turn >= 0 and turn % 15 == 0:
            progress(turn / total)
    return YearLoads(heat, air)


def _inputs(faces: YearFaces, drive: YearDrive, modes: _Modes, day: int) -> tuple[NDArray[Any], NDArray[Any]]:
    """(what a day's inputs add to the modes by each hour's end (R, K, 24), heat they bring the air at once (R, 24))."""
    rooms, most = len(drive.radiant_w), int(modes.slot.max()) + 1
    at = slice(day * 24, day * 24 + 24)
    u = np.zeros((rooms, 2 * most + 1, 24))
    u[faces.room, modes.slot] = drive.behind_c[:, at]
    u[faces.room, most + modes.slot] = drive.flux_w_m2[:, at]
    u[:, -1] = drive.radiant_w[:, at]
    push = modes.beta @ u
    direct = np.einsum("ri,rih->rh", modes.direct, u) + np.einsum("rk,rkh->rh", modes.out * modes.mean_gain, push)
    direct += drive.convective_w[:, at] + drive.exchange_w_k[:, None] * drive.outdoor_c[at]
    return modes.gain[:, :, None] * push, direct


def _modes(faces: YearFaces, rooms: int) -> _Modes:
    starts = np.searchsorted(faces.room, np.arange(rooms + 1))
    slot = np.arange(len(faces.room)) - starts[faces.room]
    most = int(slot.max()) + 1
    found = [_room_modes(faces, range(a, b), most) for a, b in itertools.pairwise(starts)]
    width = max(1, *(len(f[0]) for f in found))
    rate, beta, out = np.full((rooms, width), 1e-3), np.zeros((rooms, width, 2 * most + 2)), np.zeros((rooms, width))
    direct = np.zeros((rooms, 2 * most + 2))
    for r, (lam, b, c, d) in enumerate(found):
        rate[r, : len(lam)], beta[r, : len(lam)], out[r, : len(lam)], direct[r] = lam, b, c, d
    x = rate * HOUR
    decay = np.exp(-x)
    gain = -np.expm1(-x) / rate
    mean = gain / HOUR
    mean_gain = np.where(x < 1e-4, HOUR / 2 * (1 - x / 3), (1 - mean) / rate)
    return _Modes(decay, gain, mean, mean_gain, beta[:, :, 0], beta[:, :, 1:], out, direct[:, 0], direct[:, 1:], slot)


def volumes(layers: tuple[Layer, ...]) -> tuple[NDArray[Any], NDArray[Any]]:
    """(heat capacities [J/m2K] of cells, resistances (cells + 1,) [m2K/W] from the inside face to the outer one).

    Cells of a layer are at most half the depth that a hour's swing reaches, sqrt(conductivity / (density c) 3600 s).
    """
    capacity, gaps = [], [0.0]
    for layer in layers:
        if layer.resistance_m2k_w:
            gaps[-1] += layer.resistance_m2k_w
            continue
        heat = layer.density_kg_m3 * layer.specific_heat_j_kgk
        depth = 0.5 * np.sqrt(layer.conductivity_w_mk / heat * HOUR)
        count = max(1, int(np.ceil(layer.thickness_m / depth)))
        piece = layer.thickness_m / count
        for _ in range(count):
            half = piece / layer.conductivity_w_mk / 2
            gaps[-1] += half
            gaps.append(half)
            capacity.append(piece * heat)
    return np.array(capacity), np.array(gaps)


def _room_modes(
    faces: YearFaces, own: range, most: int
) -> tuple[NDArray[Any], NDArray[Any], NDArray[Any], NDArray[Any]]:
    """(rates (K,), inputs (K, 2 most + 2), heat to the air (K,), direct (2 most + 2,)) of one room."""
    count = len(own)
    cells = [volumes(faces.layers[i]) for i in own]
    first = np.cumsum([0] + [len(c) for c, _ in cells])
    n, m = int(first[-1]), count + 1
    kcc, kcm, kmm = np.zeros((n, n)), np.zeros((n, m)), np.zeros((m, m))
    bc, bm = np.zeros((n, 2 * most + 2)), np.zeros((m, 2 * most + 2))
    for j, i in enumerate(own):
        (capacity, gaps), area, film = cells[j], faces.area_m2[i], faces.film[i]
        hc, hr = area * faces.hc_w_m2k[i], area * faces.hr_w_m2k[i]
        kmm[j, j] += hc + hr
        kmm[j, count] -= hr
        kmm[count, j] -= hr
        kmm[count, count] += hr
        bm[j, 0], bm[j, 1 + most + j] = hc, area
        a = first[j]
        if len(capacity) == 0:
            if film is not None:
                out = area / (gaps[0] + 1 / film)
                kmm[j, j] += out
                bm[j, 1 + j] = out
            continue
        inner = area / gaps[0]
        kmm[j, j] += inner
        kcc[a, a] += inner
        kcm[a, j] -= inner
        for k in range(len(capacity) - 1):
            between = area / gaps[k + 1]
            kcc[[a + k, a + k + 1], [a + k, a + k + 1]] += between
            kcc[a + k, a + k + 1] -= between
            kcc[a + k + 1, a + k] -= between
        if film is not None:
            out = area / (gaps[-1] + 1 / film)
            last = a + len(capacity) - 1
            kcc[last, last] += out
            bc[last, 1 + j] = out
    bm[count, -1] = 1.0
    inverse = np.linalg.inv(kmm)
    warm = np.array([faces.area_m2[i] * faces.hc_w_m2k[i] for i in own] + [0.0]) @ inverse
    direct = warm @ bm
    direct[0] -= sum(faces.area_m2[i] * faces.hc_w_m2k[i] for i in own)
    if n == 0:
        return np.zeros(0), np.zeros((0, 2 * most + 2)), np.zeros(0), direct
    heat = np.concatenate([c * faces.area_m2[i] for (c, _), i in zip(cells, own)])
    root = 1 / np.sqrt(heat)
    s = (kcc - kcm @ inverse @ kcm.T) * root[:, None] * root
    lam, v = np.linalg.eigh((s + s.T) / 2)
    lam = np.maximum(lam, 1e-13)
    beta = v.T @ (root[:, None] * (bc - kcm @ inverse @ bm))
    out = (-warm @ kcm.T * root) @ v
    fast = lam * HOUR > FASTEST
    direct = direct + (out[fast] / lam[fast]) @ beta[fast]
    return lam[~fast], beta[~fast], out[~fast], direct
