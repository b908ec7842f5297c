"""Rooms marched through a day by brute force: finite volumes of a centimetre, two minutes a step, all rooms at once.

Faces, films, gains and the hours of the plant are put together here from the project itself, room by room as an
engineer would; of the engine only its climate, its resolved inputs and the layers of its build-ups are used. Walls
between rooms are one wall with a room on each side, so that nothing is assumed of what lies beyond them.
"""

from dataclasses import dataclass, field

import numpy as np

from garnetfin.core.fabric.glazing import angle_factor
from garnetfin.core.fabric.ground import slab_u_value, with_soil
from garnetfin.core.fabric.layers import Layer, resistance
from garnetfin.core.loads.balance import radiant_films
from garnetfin.core.sun import hourly
from garnetfin.engine.results import Results, RoomResult
from garnetfin.engine.stages.faces import core_layers
from garnetfin.project.lookup import find

STEP_S, CELL_M = 120.0, 0.01
FILM = {"wall": 2.5, "floor": 5.0, "ceiling": 0.7, "glass": 2.5}
TAKEN = {"wall": 0.4, "floor": 0.6, "ceiling": 0.3}
OUTSIDE, SKY_W_M2, EMITTANCE, BRIDGES = 25.0, 63.0, 0.9, 0.05


@dataclass(eq=False)
class Side:
    """An inside face: layers run outwards to `back` (film, temperature (24,)), to another face, or end unheated."""

    area: float
    kind: str
    layers: tuple[Layer, ...] = ()
    back: tuple[float, np.ndarray] | None = None
    beyond: "Side | None" = None  # the face that owns the layers between the two
    absorbed: np.ndarray = field(default_factory=lambda: np.zeros(24))  # sun at the face itself [W/m2]
    taken: tuple[float, float] | None = None  # of diffused sun: leaves the room's faces here, heats the face
    outdoors: bool = False


@dataclass(eq=False)
class Kept:
    """A room as it is marched; on (24,) hours of its plant, none for a room without."""

    sides: list[Side]
    on: np.ndarray
    set_c: float
    volume_m3: float
    leak_1h: float
    convective: np.ndarray
    radiant: np.ndarray
    spread: np.ndarray  # diffused sun [W]
    on_floor: np.ndarray  # beam on the floor [W]
    capacity: float = 5.0  # of the air's own
    passes: tuple["Kept", float, np.ndarray] | None = None  # a room whose air passes this one [m3/s], and when


def slices(layers: tuple[Layer, ...]) -> tuple[list[float], list[float]]:
    """(heat capacity of cells [J/m2K], resistances from face to cell, between cells, and behind the last)."""
    capacity, ways, before = [], [], 0.0
    for layer in layers:
        if layer.resistance_m2k_w or layer.thickness_m <= 0:
            before += layer.resistance_m2k_w
            continue
        count = max(2, round(layer.thickness_m / CELL_M))
        cell = layer.thickness_m / count
        for _ in range(count):
            ways.append(before + cell / 2 / layer.conductivity_w_mk)
            before = cell / 2 / layer.conductivity_w_mk
            capacity.append(cell * layer.density_kg_m3 * layer.specific_heat_j_kgk)
    return capacity, [*ways, before]


class March:
    """All unknowns of some rooms in one linear system, stepped by backward differences."""

    def __init__(self, rooms: list[Kept], outdoor: np.ndarray, air_heat: float) -> None:
        self.rooms, self.outdoor, self.air_heat = rooms, outdoor, air_heat
        self.sides = [s for room in rooms for s in room.sides]
        self.at: dict[int, int] = {}
        self.links: list[tuple[int, int, float]] = []
        self.forced: list[tuple[int, float, np.ndarray]] = []
        self.heat: list[tuple[int, np.ndarray]] = []
        self.capacity: list[float] = []
        self.air = [self._node(r.volume_m3 * air_heat * r.capacity) for r in rooms]
        self.star = [self._node(0.0) for _ in rooms]
        for side in self.sides:
            self.at[id(side)] = self._node(0.0)
        for k, room in enumerate(rooms):
            self._room(k, room)
        n = len(self.capacity)
        self.base = np.diag(np.array(self.capacity) / STEP_S)
        for a, b, w in self.links:
            self.base[[a, b], [a, b]] += w
            self.base[a, b] -= w
            self.base[b, a] -= w
        self.given = np.zeros((n, 24))
        for a, w, temperature in self.forced:
            self.base[a, a] += w
            self.given[a] += w * temperature
        for a, watts in self.heat:
            self.given[a] += watts

    def _node(self, capacity: float) -> int:
        self.capacity.append(capacity)
        return len(self.capacity) - 1

    def _room(self, k: int, room: Kept) -> None:
        areas = np.array([s.area for s in room.sides])
        films = radiant_films(np.zeros(len(areas), int), areas)
        taken = [s.taken or (TAKEN[s.kind], TAKEN[s.kind]) for s in room.sides]
        absorbing = sum(s.area * t[0] for s, t in zip(room.sides, taken))
        floor = sum(s.area for s in room.sides if s.kind == "floor")
        beam_kept = TAKEN["floor"] * room.on_floor if floor else np.zeros(24)
        spread = room.spread + room.on_floor - beam_kept
        for side, hr, t in zip(room.sides, films, taken):
            node = self.at[id(side)]
            self.links += [(node, self.air[k], side.area * FILM[side.kind]), (node, self.star[k], side.area * hr)]
            self.heat.append((node, side.area * (side.absorbed + t[1] * spread / absorbing)))
            if side.kind == "floor":
                self.heat.append((node, side.area * beam_kept / floor))
            if side.beyond is None:
                self._layers(node, side)
        outside = sum(s.area for s in room.sides if s.outdoors)
        leak = room.leak_1h * room.volume_m3 / 3600 * self.air_heat + BRIDGES * outside
        self.forced.append((self.air[k], leak, self.outdoor))
        self.heat += [(self.air[k], room.convective), (self.star[k], room.radiant)]

    def _layers(self, node: int, side: Side) -> None:
        capacity, ways = slices(side.layers)
        for c, way in zip(capacity, ways):
            cell = self._node(c * side.area)
            self.links.append((node, cell, side.area / way))
            node = cell
        last = ways[-1]
        far = next((s for s in self.sides if s.beyond is side), None)
        if far is not None:
            self.links.append((node, self.at[id(far)], side.area / last))
        elif side.back is not None:
            self.forced.append((node, side.area / (last + 1 / side.back[0]), side.back[1]))

    def run(self, days: int = 14) -> tuple[np.ndarray, np.ndarray]:
        """(heat to remove (rooms, 24) [W], air (rooms, 24) [degC]), hour means of the last day."""
        inverses: dict[tuple[tuple[bool, ...], int], np.ndarray] = {}
        capacity = np.array(self.capacity) / STEP_S
        sets = np.array([r.set_c for r in self.rooms])
        # What lies deep in the ground takes months to follow: it begins where a steady day would leave it.
        steady, mean = self._with_passing(12) - np.diag(capacity), self.given.mean(axis=1)
        for k, room in enumerate(self.rooms):
            if room.on.any():
                steady[self.air[k]], mean[self.air[k]] = 0.0, sets[k]
                steady[self.air[k], self.air[k]] = 1.0
        theta = np.linalg.solve(steady, mean)
        loads, airs = np.zeros((len(self.rooms), 24)), np.zeros((len(self.rooms), 24))
        for day in range(days):
            for hour in range(24):
                base = self._with_passing(hour)
                on = np.array([r.on[hour] for r in self.rooms])
                for _ in range(int(3600 / STEP_S)):
                    known = capacity * theta + self.given[:, hour]
                    fixed = np.array([r.on.all() for r in self.rooms])  # kept at its set-point, whichever way heat goes
                    for _ in range(len(on) + 1):  # rooms that would get too warm are held
                        theta_new = self._solved(base, known, fixed, sets, inverses, hour)
                        over = on & ~fixed & (theta_new[self.air] > sets + 1e-9)
                        if not over.any():
                            break
                        fixed |= over
                    theta = theta_new
                    if day == days - 1:
                        q = known[self.air] - (base @ theta)[self.air]
                        loads[:, hour] += np.where(fixed, q, 0.0) * STEP_S / 3600
                        airs[:, hour] += theta[self.air] * STEP_S / 3600
        return loads, airs

    def _with_passing(self, hour: int) -> np.ndarray:
        """The system with what air carries from one room into another: one way, as air flows."""
        base = self.base
        for k, room in enumerate(self.rooms):
            if room.passes is not None and room.passes[2][hour]:
                source, flow, _ = room.passes
                base = base.copy()
                base[self.air[k], self.air[k]] += flow * self.air_heat
                base[self.air[k], self.air[self.rooms.index(source)]] -= flow * self.air_heat
        return base

    def _solved(self, base, known, fixed, sets, inverses, hour) -> np.ndarray:
        passing = tuple(r.passes is not None and bool(r.passes[2][hour]) for r in self.rooms)
        key = (tuple(fixed), hash(passing))
        if key not in inverses:
            matrix = base.copy()
            for k in np.flatnonzero(fixed):
                matrix[self.air[k]] = 0.0
                matrix[self.air[k], self.air[k]] = 1.0
            inverses[key] = np.linalg.inv(matrix)
        right = known.copy()
        for k in np.flatnonzero(fixed):
            right[self.air[k]] = sets[k]
        return inverses[key] @ right


def kept(results: Results, room_id: str, month: int, on: np.ndarray) -> Kept:
    """A room of the project as it is marched in one month, its walls to rooms not yet joined (see `join`)."""
    project, found = results.project, results.rooms[room_id]
    assert isinstance(found, RoomResult)
    f, use = found.figures, found.figures.use
    share, area = f.profile.summer, f.area_m2.figure
    watts = (
        (f.people.figure * use.sensible_w, use.people_radiant),
        (f.lights_w_m2.figure * area, use.lights_radiant),
        (f.equipment_w_m2.figure * area, use.equipment_radiant),
    )
    room = find(project.rooms, room_id)
    made = Kept(
        [],
        on,
        f.cooling_c.figure,
        area * room.ceiling_m,
        f.infiltration_1h.figure,
        sum(w * (1 - r) for w, r in watts) * share,
        sum(w * r for w, r in watts) * share,
        np.zeros(24),
        np.zeros(24),
    )
    for wall in project.walls:
        if room_id in (wall.room_a, wall.room_b):
            _wall(results, made, wall, room_id, month)
    for slab in project.slabs:
        if room_id in (slab.room_below, slab.room_above):
            _slab(results, made, slab, month)
    return made


def _sol_air(results: Results, azimuth: float, tilt: float, absorptance: float, month: int) -> np.ndarray:
    face = results.climate.face(azimuth, tilt)
    sun = hourly((face.beam + face.diffuse)[0])[month]
    sky = SKY_W_M2 * max(0.0, np.cos(np.radians(tilt)))
    return results.climate.days.dry_bulb_c[month] + (absorptance * sun - EMITTANCE * sky) / OUTSIDE


def _wall(results: Results, made: Kept, wall, room_id: str, month: int) -> None:
    project = results.project
    build_up = find(project.build_ups, wall.build_up_id)
    layers, area = core_layers(build_up, project.book), wall.length_m * wall.height_m
    if not wall.outside:
        # The plan of a partition runs from its first room outwards; towards a shaft it is taken to its middle.
        if wall.room_a != room_id:
            layers = layers[::-1]
        made.sides.append(Side(area, "wall", half_of(layers) if wall.room_b == "shaft" else layers))
        return
    for opening in wall.openings:
        _window(results, made, opening, wall.facing_deg, month)
    net = area - sum(o.area_m2 for o in wall.openings)
    sol_air = _sol_air(results, wall.facing_deg, 90.0, build_up.absorptance, month)
    made.sides.append(Side(net, "wall", layers, (OUTSIDE, sol_air), outdoors=True))


def half_of(layers: tuple[Layer, ...]) -> tuple[Layer, ...]:
    """The half of a wall next to the room by resistance."""
    left, found = resistance(layers) / 2, []
    for layer in layers:
        share = min(1.0, left / layer.resistance)
        if share <= 0:
            break
        left -= share * layer.resistance
        found.append(
            Layer(resistance_m2k_w=layer.resistance_m2k_w * share)
            if layer.resistance_m2k_w
            else Layer(
                layer.thickness_m * share, layer.conductivity_w_mk, layer.density_kg_m3, layer.specific_heat_j_kgk
            )
        )
    return tuple(found)


def _window(results: Results, made: Kept, opening, azimuth: float, month: int) -> None:
    g = find(results.project.glazings, opening.glazing_id)
    face, area = results.climate.face(azimuth, 90.0), opening.area_m2
    lit = hourly(face.beam[0] * angle_factor(face.cos_incidence[0], g.panes, g.angle_class))[month]
    sky = hourly(face.diffuse[0])[month] * g.diffuse_ratio
    on = hourly((face.beam + face.diffuse)[0])[month]
    clear, inward = 1 - g.frame_share, 1 - g.u_w_m2k / 7.7
    absorbed = (g.g - g.tau_e) * clear * (lit + sky) + g.frame_share * 0.6 * g.frame_u_w_m2k / OUTSIDE * on
    through = g.tau_e * g.diffuse_ratio * clear
    film = 1 / (1 / g.u_w_m2k - 1 / 7.7)
    outdoor = results.climate.days.dry_bulb_c[month]
    made.sides.append(
        Side(
            area, "glass", (), (film, outdoor), absorbed=absorbed / inward, taken=(through + 0.15, 0.15), outdoors=True
        )
    )
    made.on_floor = made.on_floor + g.tau_e * clear * area * lit
    made.spread = made.spread + g.tau_e * clear * area * sky


def _slab(results: Results, made: Kept, slab, month: int) -> None:
    project = results.project
    build_up = find(project.build_ups, slab.build_up_id)
    layers = core_layers(build_up, project.book)
    if slab.kind == "roof":
        sol_air = _sol_air(results, 0.0, 0.0, build_up.absorptance, month)
        made.sides.append(Side(slab.area_m2, "ceiling", layers, (OUTSIDE, sol_air), outdoors=True))
    elif slab.kind == "ground":
        u = slab_u_value(slab.area_m2, max(slab.perimeter_m, 1.0), resistance(layers))
        made.sides.append(Side(slab.area_m2, "floor", with_soil(layers, u), (1e6, results.climate.ground_c[month])))
    else:
        raise AssertionError("slabs between rooms are put in by hand")


def join(one: Kept, other: Kept, area: float) -> None:
    """The partition of `area` between two rooms becomes one wall, whose layers the first room's face owns."""
    first, second = (next(s for s in r.sides if not s.outdoors and abs(s.area - area) < 1e-9) for r in (one, other))
    second.layers, second.beyond = (), first
