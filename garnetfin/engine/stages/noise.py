"""Noise from the fan to the rooms: what ducts, dampers and terminals make, what is taken on the way, what is heard."""

from collections import Counter
from functools import lru_cache
from math import hypot
from typing import Any

import numpy as np

from garnetfin.core import noise
from garnetfin.core.ducts.friction import FLEXIBLE
from garnetfin.core.ducts.inline import flow_sound
from garnetfin.core.outlines import area_of
from garnetfin.core.tables import TerminalModel
from garnetfin.engine.flows.flow_results import SOURCES, NoiseResult, RoomNoise, TerminalNoise
from garnetfin.engine.memo import Memo, Ready, key
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import AirResult, BoxInDuct, DuctResult, FanResult, Missing, SegmentResult
from garnetfin.engine.slices import duct_parts
from garnetfin.engine.stages.terminals import models
from garnetfin.project.lookup import Same, find
from garnetfin.project.spaces import Room
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project

EAR_M, NEAREST_M = 1.2, 1.0
BENDS = ("elbow", "mitre")


def noise_paths(
    project: Project,
    system: AirSystem,
    air: AirResult | Missing,
    ducts: DuctResult | Missing,
    fan: FanResult | Missing,
    memo: Memo,
) -> NoiseResult | Missing:
    if isinstance(air, Missing):
        return air
    if isinstance(ducts, Missing):
        return ducts
    driven = fan if isinstance(fan, FanResult) and fan.point is not None else None
    parts = duct_parts(project, system.id, "supply")
    heard_in = (find(project.rooms, i) for i in dict.fromkeys(t.room_id for t in ducts.terminals))
    rooms = Ready((r.id, r.ceiling_m, Same(r.outline)) for r in heard_in if r is not None)
    row = key(system.parts, project.book, ducts, driven, rooms, air.boxes, parts.key if parts is not None else None)
    return memo.one("noise", row, lambda: _compute(project, system, ducts, driven, air.boxes))


def fan_bands(fan: FanResult) -> np.ndarray:
    """Sound power of the chosen fan at its point (8,)."""
    kind = fan.chosen.kind
    shape = "forward" if "forward" in kind else "axial" if kind in ("axial", "mixed-inline") else "backward"
    return noise.shaped(fan.point.sound_db, noise.FAN_SHAPE[shape])


def _compute(
    project: Project, system: AirSystem, ducts: DuctResult, fan: FanResult | None, boxes: tuple[BoxInDuct, ...]
) -> NoiseResult:
    ids = ducts.segment_ids
    start = fan_bands(fan) if fan is not None else np.full(8, noise.LEAST_DB)
    kinds = [p.kind for p in system.parts]
    # Silencers between the fan and the ducts; what stands before the fan quiets the outdoor side.
    behind = system.parts[kinds.index("supply_fan") + 1 :] if "supply_fan" in kinds else ()
    for part in behind:
        if part.kind == "rooms":
            break
        if part.kind == "attenuator":
            start = start - np.array(noise.SILENCER_DB)
    fan_side, duct_side = _along_ducts(project, ducts, start)
    at_end = dict(zip(ids, noise.add(np.stack([fan_side, duct_side]))))
    limit, known = assumption(project.book, "noise_nc").figure, models(project.book)
    number = {i: k for k, i in enumerate(ids)}
    ends = [number[t.segment_id] for t in ducts.terminals]
    sides = (fan_side[ends].reshape(-1, 8), duct_side[ends].reshape(-1, 8), _of_boxes(ducts, boxes))
    heard = _terminals(project, ducts, sides, known, limit)
    rooms = _rooms(heard, limit)
    index = max(heard.values(), key=lambda n: (rooms[n.room_id].nc, n.nc)).terminal_id if heard else ""
    return NoiseResult(heard, rooms, at_end, index, start if fan is not None else None)


def _rooms(heard: dict[str, TerminalNoise], limit: float) -> dict[str, RoomNoise]:
    """What is heard in every room of all its terminals together."""
    if not heard:
        return {}
    row = {room_id: k for k, room_id in enumerate(dict.fromkeys(n.room_id for n in heard.values()))}
    powers = np.zeros((len(row), len(SOURCES), 8))
    np.add.at(
        powers, [row[n.room_id] for n in heard.values()], 10 ** (np.array([n.by_source for n in heard.values()]) / 10)
    )
    by_source = 10 * np.log10(np.maximum(powers, 10 ** (noise.LEAST_DB / 10)))
    bands = noise.add(by_source, axis=1)
    nc, nr, dba = noise.noise_criterion(bands), noise.noise_rating(bands), noise.weighted(bands)
    loudest = noise.weighted(by_source).argmax(axis=1)
    return {
        i: RoomNoise(i, bands[k], float(nc[k]), float(nr[k]), float(dba[k]), limit, SOURCES[loudest[k]])
        for i, k in row.items()
    }


def _along_ducts(project: Project, ducts: DuctResult, start: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Sound power at the end of every duct (segments, 8) [dB]: what is left of the fan's, and what the flow in the
    ducts has made.

    Ducts of one depth of the tree go together, from the fan outward; what is not reached hears nothing.
    """
    tree, ids = ducts.tree, ducts.segment_ids
    results = [ducts.segments[i] for i in ids]
    nothing = np.full(8, noise.LEAST_DB)
    parent, order = np.asarray(tree.parent), np.asarray(tree.order, int)
    area = np.array([r.section.area_m2 for r in results])
    together = np.zeros(len(ids) + 1)  # area of all ducts behind a duct, the unit last
    np.add.at(together, parent[order], area[order])
    split = 10 * np.log10(area / np.where(together[parent] > 0, together[parent], 1.0))
    taken = np.array(
        [
            noise.along(
                max(r.section.width_m, r.section.height_m),
                r.section.shape != "rectangular",
                r.make.lining_m > 0,
                r.make.material in FLEXIBLE,
            )
            * r.straight_m
            for r in results
        ]
    )
    hung = np.array([find(project.segments, i).flexible_m for i in ids])
    taken = taken + np.array(noise.along(0.1, True, flexible=True)) * hung[:, None]
    bends = np.array([sum(f.name.startswith(BENDS) or "elbow" in f.name for f in r.fittings) for r in results])
    flowing = np.array([r.flow_m3s > 0 for r in results])
    own = np.where(flowing[:, None], noise.duct_bands(np.array([r.velocity_m_s for r in results]), area), nothing)
    for k, r in enumerate(results):
        if r.inline:
            less, more = _of_parts(r)
            taken[k] += less
            own[k] = noise.add(np.stack([own[k], more]))
    change = split[:, None] - taken - np.array(noise.BEND_DB, float) * bends[:, None]
    fan_side, duct_side = np.full((len(ids), 8), noise.LEAST_DB), np.full((len(ids), 8), noise.LEAST_DB)
    for k, at in enumerate(tree.levels):
        before_fan = fan_side[parent[at]] if k else np.broadcast_to(start, (len(at), 8))
        before_ducts = duct_side[parent[at]] if k else np.broadcast_to(nothing, (len(at), 8))
        fan_side[at] = before_fan + change[at]
        duct_side[at] = noise.add(np.stack([before_ducts + change[at], own[at]]))
    return fan_side, duct_side


def _of_parts(r: SegmentResult) -> tuple[np.ndarray, np.ndarray]:
    """(what the parts in a duct take of what comes to them, what their own flow makes at its end) (8,) [dB]; each
    quiets those before it.
    """
    taken, made = np.zeros(8), np.full(8, noise.LEAST_DB)
    for part in r.inline:
        if part.model is not None:
            less = np.array(part.model.loss_db)
            taken = taken + less
            made = noise.add(np.stack([made - less, flow_sound(part.model, part.flow_m3s)]))
    return taken, made


def _of_boxes(ducts: DuctResult, boxes: tuple[BoxInDuct, ...]) -> np.ndarray:
    """What is heard of its flow box at each terminal (n, 8) [dB], so that all of a room make what the box makes."""
    count = Counter(t.room_id for t in ducts.terminals)
    levels = {i: np.array(b.room_db) for b in boxes for i in b.room_ids}
    silent = np.full(8, noise.LEAST_DB)
    rows = [
        levels[t.room_id] - 10 * np.log10(count[t.room_id]) if t.room_id in levels else silent for t in ducts.terminals
    ]
    return np.array(rows, float).reshape(-1, 8)


@lru_cache(maxsize=16_384)
def outlet_sound(model: TerminalModel, flow_m3s: float) -> float:
    """Sound power of a terminal [dB(A)]: between its points linear in log flow, beyond them 55 lg of the flow."""
    q = model.flow_m3s
    inside = min(max(flow_m3s, float(q[0])), float(q[-1]))
    return float(np.interp(np.log(inside), np.log(q), model.sound_db) + 55 * np.log10(flow_m3s / inside))


def _terminals(
    project: Project,
    ducts: DuctResult,
    sides: tuple[np.ndarray, np.ndarray, np.ndarray],
    known: dict[Any, Any],
    limit: float,
) -> dict[str, TerminalNoise]:
    """Every terminal in its room. `sides`, each (n, 8) [dB]: sound power at the ends of their ducts of the fan and of
    the flow in the ducts, and their share of what is heard of flow boxes.
    """
    fan, flow, box = sides
    if not ducts.terminals:
        return {}
    rooms = {i: _middle(find(project.rooms, i)) for i in {t.room_id for t in ducts.terminals}}
    away, volume, sound, neck = [], [], [], []
    for t in ducts.terminals:
        (x, y), below, cubic = rooms[t.room_id]
        point = find(project.duct_points, find(project.terminals, t.terminal_id).point_id)
        away.append(max(hypot(point.x_m - x, point.y_m - y, below), NEAREST_M))
        volume.append(cubic)
        model = known.get(t.point.model)
        sound.append(outlet_sound(model, t.flow_m3s) if model is not None and t.flow_m3s > 0 else noise.LEAST_DB)
        long = ducts.segments[t.segment_id].length_m + find(project.segments, t.segment_id).flexible_m
        neck.append(t.neck or long < noise.UPSTREAM_M)
    effect, end = noise.to_room(away, volume), noise.open_end([max(t.point.neck_m, 0.05) for t in ducts.terminals])
    own = noise.shaped(sound, noise.TERMINAL_SHAPE, a_weighted=True)
    pressure = np.array([max(t.point.pressure_pa, 1.0) for t in ducts.terminals])
    ratio = 1 + np.array([t.damper.surplus_pa for t in ducts.terminals]) / pressure
    more = np.where(neck, noise.damper_adds(ratio, "neck"), noise.damper_adds(ratio, "upstream"))
    damper = own + 10 * np.log10(np.maximum(10 ** (more[:, None] / 10) - 1, 1e-9))
    by_source = np.stack([fan - end + effect, flow - end + effect, own + effect, damper + effect, box], axis=1)
    nc, alone = noise.noise_criterion(noise.add(by_source, axis=1)), noise.noise_criterion(by_source[:, 2])
    quiet = noise.noise_criterion(noise.add(by_source[:, [0, 1, 4]], axis=1))
    most = np.where(neck, noise.most_ratio(limit - alone, "neck"), noise.most_ratio(limit - alone, "upstream"))
    may = np.where((alone <= limit) & (quiet <= limit), pressure * (most - 1), 0.0)
    return {
        t.terminal_id: TerminalNoise(t.terminal_id, t.room_id, by_source[i], float(nc[i]), float(may[i]), limit)
        for i, t in enumerate(ducts.terminals)
    }


def _middle(room: Room) -> tuple[tuple[float, float], float, float]:
    """(where a listener sits, height of the ceiling above the ear, volume) of a room [m, m3]."""
    xs, ys = zip(*room.outline)
    return (
        (sum(xs) / len(xs), sum(ys) / len(ys)),
        max(room.ceiling_m - EAR_M, 0.5),
        max(area_of(room.outline) * room.ceiling_m, 1.0),
    )
