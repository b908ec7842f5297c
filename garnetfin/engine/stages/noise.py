"""Noise from the fan to the rooms: what ducts, dampers and terminals make, what is taken on the way, what is heard."""

import numpy as np

from garnetfin.core import noise
from garnetfin.core.ducts.friction import FLEXIBLE
from garnetfin.core.outlines import area_of
from garnetfin.core.tables import TerminalModel
from garnetfin.engine.flow_results import SOURCES, NoiseResult, RoomNoise, TerminalNoise
from garnetfin.engine.memo import Memo, key, places
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import AirResult, DuctResult, FanResult, Missing
from garnetfin.engine.stages.terminals import models
from garnetfin.project.lookup import find
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project

EAR_M, NEAREST_M = 1.2, 1.0
BENDS = ("elbow", "mitre")


def noise_paths(project: Project, system: AirSystem, air: AirResult | Missing, ducts: DuctResult | Missing, fan: FanResult | Missing, memo: Memo) -> NoiseResult | Missing:
    for before in (air, ducts):
        if isinstance(before, Missing):
            return before
    driven = fan if isinstance(fan, FanResult) and fan.point is not None else None
    row = key(system.parts, project.book, ducts, driven, places(project.rooms), project.duct_points, project.segments)
    return memo.one("noise", row, lambda: _compute(project, system, ducts, driven))


def fan_bands(fan: FanResult) -> np.ndarray:
    """Sound power of the chosen fan at its point (8,)."""
    kind = fan.chosen.kind
    shape = "forward" if "forward" in kind else "axial" if kind in ("axial", "mixed-inline") else "backward"
    return noise.shaped(fan.point.sound_db, noise.FAN_SHAPE[shape])


def _compute(project: Project, system: AirSystem, ducts: DuctResult, fan: FanResult | None) -> NoiseResult:
    ids = ducts.segment_ids
    start = fan_bands(fan) if fan is not None else np.full(8, noise.LEAST_DB)
    kinds = [p.kind for p in system.parts]
    # Silencers between the fan and the ducts; what stands before the fan quiets the outdoor side.
    behind = system.parts[kinds.index("supply_fan") + 1:] if "supply_fan" in kinds else ()
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
    heard = _terminals(project, ducts, fan_side[ends].reshape(-1, 8), duct_side[ends].reshape(-1, 8), known, limit)
    rooms: dict[str, RoomNoise] = {}
    for room_id in dict.fromkeys(t.room_id for t in ducts.terminals):
        own = np.array([n.by_source for n in heard.values() if n.room_id == room_id])
        bands = noise.add(own.reshape(-1, 8))
        rooms[room_id] = RoomNoise(room_id, bands, float(noise.noise_criterion(bands)), float(noise.noise_rating(bands)), float(noise.weighted(bands)), limit,
                                   SOURCES[int(np.argmax(noise.weighted(noise.add(own))))])
    index = max(heard.values(), key=lambda n: (rooms[n.room_id].nc, n.nc)).terminal_id if heard else ""
    return NoiseResult(heard, rooms, at_end, index, start if fan is not None else None)


def _along_ducts(project: Project, ducts: DuctResult, start: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Sound power at the end of every duct (segments, 8) [dB]: what is left of the fan's, and what the flow in the ducts has made.

    Ducts of one depth of the tree go together, from the fan outward; what is not reached hears nothing.
    """
    tree, ids = ducts.tree, ducts.segment_ids
    results = [ducts.segments[i] for i in ids]
    nothing = np.full(8, noise.LEAST_DB)
    parent, order = np.asarray(tree.parent), np.asarray(tree.order, int)
    area = np.array([r.section.area_m2 for r in results])
    together = np.zeros(len(ids) + 1)                        # area of all ducts behind a duct, the unit last
    np.add.at(together, parent[order], area[order])
    split = 10 * np.log10(area / np.where(together[parent] > 0, together[parent], 1.0))
    taken = np.array([noise.along(max(r.section.width_m, r.section.height_m), r.section.shape != "rectangular", r.make.lining_m > 0, r.make.material in FLEXIBLE) * r.length_m for r in results])
    hung = np.array([find(project.segments, i).flexible_m for i in ids])
    taken = taken + np.array(noise.along(0.1, True, flexible=True)) * hung[:, None]
    bends = np.array([sum(f.name.startswith(BENDS) or "elbow" in f.name for f in r.fittings) for r in results])
    change = split[:, None] - taken - np.array(noise.BEND_DB, float) * bends[:, None]
    flowing = np.array([r.flow_m3s > 0 for r in results])
    own = np.where(flowing[:, None], noise.duct_bands(np.array([r.velocity_m_s for r in results]), area), nothing)
    depth = np.zeros(len(ids), int)
    for s in order:
        depth[s] = depth[parent[s]] + 1 if parent[s] >= 0 else 0
    fan_side, duct_side = np.full((len(ids), 8), noise.LEAST_DB), np.full((len(ids), 8), noise.LEAST_DB)
    for level in range(depth[order].max() + 1 if len(order) else 0):
        at = order[depth[order] == level]
        before_fan = fan_side[parent[at]] if level else np.broadcast_to(start, (len(at), 8))
        before_ducts = duct_side[parent[at]] if level else np.broadcast_to(nothing, (len(at), 8))
        fan_side[at] = before_fan + change[at]
        duct_side[at] = noise.add(np.stack([before_ducts + change[at], own[at]]))
    return fan_side, duct_side


def outlet_sound(model: TerminalModel, flow_m3s: float) -> float:
    """Sound power of a terminal [dB(A)]: between its points linear in log flow, beyond them 55 lg of the flow."""
    q = model.flow_m3s
    inside = min(max(flow_m3s, float(q[0])), float(q[-1]))
    return float(np.interp(np.log(inside), np.log(q), model.sound_db) + 55 * np.log10(flow_m3s / inside))


def _terminals(project: Project, ducts: DuctResult, fan: np.ndarray, flow: np.ndarray, known: dict, limit: float) -> dict[str, TerminalNoise]:
    """Every terminal in its room, from sound power at the ends of their ducts (n, 8) [dB]: of the fan and of the flow in the ducts."""
    count = len(ducts.terminals)
    effect, end, own, more, places = np.zeros((count, 8)), np.zeros((count, 8)), np.zeros((count, 8)), np.zeros(count), []
    for i, t in enumerate(ducts.terminals):
        room, r, segment = find(project.rooms, t.room_id), ducts.segments[t.segment_id], find(project.segments, t.segment_id)
        point = find(project.duct_points, find(project.terminals, t.terminal_id).point_id)
        xs, ys = zip(*room.outline)
        away = ((point.x_m - sum(xs) / len(xs)) ** 2 + (point.y_m - sum(ys) / len(ys)) ** 2 + max(room.ceiling_m - EAR_M, 0.5) ** 2) ** 0.5
        effect[i] = noise.to_room(max(away, NEAREST_M), max(area_of(room.outline) * room.ceiling_m, 1.0))
        end[i] = noise.open_end(max(t.point.neck_m, 0.05))
        model = known.get(t.point.model)
        own[i] = noise.shaped(outlet_sound(model, t.flow_m3s) if model is not None and t.flow_m3s > 0 else noise.LEAST_DB, noise.TERMINAL_SHAPE, a_weighted=True)
        places.append("upstream" if not t.neck and r.length_m + segment.flexible_m >= noise.UPSTREAM_M else "neck")
        more[i] = noise.damper_adds(1 + t.damper.surplus_pa / max(t.point.pressure_pa, 1.0), places[-1])
    damper = own + 10 * np.log10(np.maximum(10 ** (more[:, None] / 10) - 1, 1e-9))
    by_source = np.stack([fan - end + effect, flow - end + effect, own + effect, damper + effect], axis=1)
    nc, alone = noise.noise_criterion(noise.add(by_source, axis=1)), noise.noise_criterion(by_source[:, 2])
    quiet = noise.noise_criterion(noise.add(by_source[:, :2], axis=1))
    return {t.terminal_id: TerminalNoise(t.terminal_id, t.room_id, by_source[i], float(nc[i]), max(t.point.pressure_pa, 1.0) * (
        noise.most_ratio(limit - float(alone[i]), places[i]) - 1) if alone[i] <= limit and quiet[i] <= limit else 0.0, limit) for i, t in enumerate(ducts.terminals)}
