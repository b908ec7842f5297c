"""Noise from the fan to the rooms: what ducts, dampers and terminals make, what is taken on the way, what is heard."""

from dataclasses import dataclass

import numpy as np

from garnetfin.core import noise
from garnetfin.core.ducts.friction import FLEXIBLE
from garnetfin.core.outlines import area_of
from garnetfin.core.tables import TerminalModel
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import AirResult, DuctResult, FanResult, Missing, TerminalResult
from garnetfin.engine.stages.terminals import models
from garnetfin.project.lookup import find
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project

EAR_M, NEAREST_M = 1.2, 1.0
SOURCES = ("fan", "ducts", "terminal", "damper")
BENDS = ("elbow", "mitre")


@dataclass(frozen=True, slots=True, eq=False)
class TerminalNoise:
    """Sound pressure in the room of one terminal by source (4, 8) [dB]; the greatest pressure its damper takes before it is heard [Pa]."""

    terminal_id: str
    room_id: str
    by_source: np.ndarray
    nc: float
    heard_pa: float
    limit_nc: float

    @property
    def loudest(self) -> str:
        return SOURCES[int(np.argmax(noise.weighted(self.by_source)))]

    @property
    def dba_by_source(self) -> tuple[float, ...]:
        return tuple(float(x) for x in noise.weighted(self.by_source))

    @property
    def dba(self) -> float:
        return float(noise.weighted(noise.add(self.by_source)))


@dataclass(frozen=True, slots=True, eq=False)
class RoomNoise:
    """All supply terminals of a room together: bands (8,) [dB], NC, NR, dB(A), and the limit."""

    room_id: str
    bands: np.ndarray
    nc: float
    nr: float
    dba: float
    limit_nc: float
    loudest: str

    @property
    def over(self) -> float:
        return self.nc - self.limit_nc


@dataclass(frozen=True, slots=True, eq=False)
class NoiseResult:
    """terminals and rooms by id; at_end: sound power at the end of each duct (8,) [dB]; index: the terminal that is furthest above its limit."""

    terminals: dict[str, TerminalNoise]
    rooms: dict[str, RoomNoise]
    at_end: dict[str, np.ndarray]
    index: str
    fan_bands: np.ndarray | None


def noise_paths(project: Project, system: AirSystem, air: AirResult | Missing, ducts: DuctResult | Missing, fan: FanResult | Missing, memo: Memo) -> NoiseResult | Missing:
    for before in (air, ducts):
        if isinstance(before, Missing):
            return before
    driven = fan if isinstance(fan, FanResult) and fan.point is not None else None
    row = key(system.parts, project.book, ducts, driven, project.rooms, project.duct_points, project.segments)
    return memo.one("noise", row, lambda: _compute(project, system, ducts, driven))


def fan_bands(fan: FanResult) -> np.ndarray:
    """Sound power of the chosen fan at its point (8,)."""
    kind = fan.chosen.kind
    shape = "forward" if "forward" in kind else "axial" if kind in ("axial", "mixed-inline") else "backward"
    return noise.shaped(fan.point.sound_db, noise.FAN_SHAPE[shape])


def _compute(project: Project, system: AirSystem, ducts: DuctResult, fan: FanResult | None) -> NoiseResult:
    tree, ids = ducts.tree, ducts.segment_ids
    nothing = np.full(8, noise.LEAST_DB)
    start = fan_bands(fan) if fan is not None else nothing
    kinds = [p.kind for p in system.parts]
    # Silencers between the fan and the ducts; what stands before the fan quiets the outdoor side.
    behind = system.parts[kinds.index("supply_fan") + 1:] if "supply_fan" in kinds else ()
    for part in behind:
        if part.kind == "rooms":
            break
        if part.kind == "attenuator":
            start = start - np.array(noise.SILENCER_DB)
    children: dict[int, list[int]] = {}
    for s in tree.order:
        children.setdefault(int(tree.parent[s]), []).append(int(s))
    from_fan, from_ducts, at_end = {}, {}, {}
    for s in tree.order:
        r, p = ducts.segments[ids[s]], int(tree.parent[s])
        beside = children[p]
        share = r.section.area_m2 / sum(ducts.segments[ids[c]].section.area_m2 for c in beside)
        split = 10 * np.log10(share)
        taken = noise.along(max(r.section.width_m, r.section.height_m), r.section.shape != "rectangular", r.make.lining_m > 0, r.make.material in FLEXIBLE) * r.length_m
        segment = find(project.segments, ids[s])
        taken = taken + noise.along(r.section.width_m, True, flexible=True) * segment.flexible_m
        taken = taken + sum((np.array(noise.BEND_DB, float) for f in r.fittings if f.name.startswith(BENDS) or "elbow" in f.name), np.zeros(8))
        before_fan, before_ducts = (from_fan[p], from_ducts[p]) if p >= 0 else (start, nothing)
        own = noise.duct_bands(r.velocity_m_s, r.section.area_m2) if r.flow_m3s > 0 else nothing
        from_fan[s] = before_fan + split - taken
        from_ducts[s] = noise.add([before_ducts + split - taken, own])
        at_end[ids[s]] = noise.add([from_fan[s], from_ducts[s]])
    limit, known = assumption(project.book, "noise_nc").figure, models(project.book)
    number = {i: k for k, i in enumerate(ids)}
    heard: dict[str, TerminalNoise] = {}
    for t in ducts.terminals:
        s = number[t.segment_id]
        heard[t.terminal_id] = _terminal(project, ducts, t, from_fan[s], from_ducts[s], known, limit)
    rooms: dict[str, RoomNoise] = {}
    for room_id in {t.room_id for t in ducts.terminals}:
        own = [heard[t.terminal_id] for t in ducts.terminals if t.room_id == room_id]
        bands = noise.add([noise.add(n.by_source) for n in own])
        sources = noise.weighted(noise.add([n.by_source for n in own]))
        rooms[room_id] = RoomNoise(room_id, bands, noise.noise_criterion(bands), noise.noise_rating(bands), float(noise.weighted(bands)), limit, SOURCES[int(np.argmax(sources))])
    index = max(heard.values(), key=lambda n: (rooms[n.room_id].nc, n.nc)).terminal_id if heard else ""
    return NoiseResult(heard, rooms, at_end, index, start if fan is not None else None)


def outlet_sound(model: TerminalModel, flow_m3s: float) -> float:
    """Sound power of a terminal [dB(A)]: between its points linear in log flow, beyond them 55 lg of the flow."""
    q = model.flow_m3s
    inside = min(max(flow_m3s, float(q[0])), float(q[-1]))
    return float(np.interp(np.log(inside), np.log(q), model.sound_db) + 55 * np.log10(flow_m3s / inside))


def _terminal(project: Project, ducts: DuctResult, t: TerminalResult, fan: np.ndarray, flow: np.ndarray, known: dict, limit: float) -> TerminalNoise:
    room, r = find(project.rooms, t.room_id), ducts.segments[t.segment_id]
    segment = find(project.segments, t.segment_id)
    point = find(project.duct_points, segment.b if find(project.terminals, t.terminal_id).point_id == segment.b else segment.a)
    xs, ys = zip(*room.outline)
    away = ((point.x_m - sum(xs) / len(xs)) ** 2 + (point.y_m - sum(ys) / len(ys)) ** 2 + max(room.ceiling_m - EAR_M, 0.5) ** 2) ** 0.5
    effect = noise.to_room(max(away, NEAREST_M), max(area_of(room.outline) * room.ceiling_m, 1.0))
    end = noise.open_end(max(t.point.neck_m, 0.05))
    model = known.get(t.point.model)
    sound = outlet_sound(model, t.flow_m3s) if model is not None and t.flow_m3s > 0 else noise.LEAST_DB
    own = noise.shaped(sound, noise.TERMINAL_SHAPE, a_weighted=True)
    place = "upstream" if r.length_m + segment.flexible_m >= noise.UPSTREAM_M else "neck"
    takes = r.damper.surplus_pa if r.damper is not None else 0.0
    ratio = 1 + takes / max(t.point.pressure_pa, 1.0)
    more = float(noise.damper_adds(ratio, place))
    damper = own + 10 * np.log10(max(10 ** (more / 10) - 1, 1e-9))
    by_source = np.array([fan - end + effect, flow - end + effect, own + effect, damper + effect])
    quiet = noise.noise_criterion(noise.add([by_source[0], by_source[1]]))
    alone = noise.noise_criterion(by_source[2])
    heard_pa = max(t.point.pressure_pa, 1.0) * (noise.most_ratio(limit - alone, place) - 1) if alone <= limit and quiet <= limit else 0.0
    return TerminalNoise(t.terminal_id, t.room_id, by_source, noise.noise_criterion(noise.add(by_source)), heard_pa, limit)
