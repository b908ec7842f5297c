"""Flows that really come about: a network of ducts, components and fans solved by Newton's method on flows and
pressures together.

Every arc has a law h(q), the total pressure it takes at a flow in its own direction; at every free node flows add up
to nothing. Legs of
tees take a share of the whole flow's velocity pressure, which couples them to the arc that carries it.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.fittings.laws.law import MOST_SHARE, leg_laws
from garnetfin.core.ducts.friction import duct_gradient
from garnetfin.core.errors import InputError
from garnetfin.core.fans.curve import Curve

Array = NDArray[np.float64]
STILL_M_S = 0.01  # below it losses fall with flow, not with its square: slopes stay finite
LEAST_SLOPE = 1e-9
MOST_STEPS, MOST_HALVINGS = 60, 10
ARMIJO = 1e-4
MASS_WEIGHT = 1e6  # of a m3/s against a Pa in the merit
TURNING = 0.03  # share of the whole flow within which a leg's loss turns round
PLAIN_STEPS = 6
SMOOTHER, ROUGH_PA, ROUGH_M3S = (1.0, 0.2), 1.0, 1e-4
FAR_FLOW, LEAST_FAR_M3S, MOST_REYNOLDS = 100.0, 0.01, 5e7
RISE_LEFT_OF_PEAK = 0.1  # of the peak at no flow, where a fan's own curve would fall back


@dataclass(frozen=True, slots=True, eq=False)
class Tees:
    """Legs of junctions: arc of the leg, arc of the whole flow, number of its law, area of the leg over that of the
    whole, and the figure of its law (part of the square, angle [deg], coefficient of a contraction or of what is
    fixed). Coefficients are on the velocity pressure of the whole flow.
    """

    leg: NDArray[np.intp]
    whole: NDArray[np.intp]
    kind: NDArray[np.intp]
    area_ratio: Array
    figure: Array

    def coefficient(self, share: Array, sets: int = 1) -> Array:
        """k at shares leg / whole of the flow (n,), or at several sets of them in a row; beyond 0..1.2 the end
        holds.
        """
        r = np.clip(share, 0.0, MOST_SHARE)
        a, x, kinds = (np.tile(v, sets) for v in (self.area_ratio, self.figure, self.kind))
        k = np.zeros(len(r))
        for kind, law in enumerate(leg_laws()):
            m = np.flatnonzero(kinds == kind)
            if len(m):
                k[m] = law.of(r[m], a[m], x[m])
        return k


@dataclass(frozen=True, slots=True, eq=False)
class Network:
    """Arcs (m,) from node to node. Ducts: length [m] (0: none), area [m2], hydraulic diameter [m], roughness [m],
    compression [%]; k on their own
    velocity pressure. Components: power_pa [Pa] at power_m3s, exponent. fixed: node -> total pressure [Pa]. fans:
    arc -> curve.
    """

    nodes: int
    start: NDArray[np.intp]
    end: NDArray[np.intp]
    length_m: Array
    area_m2: Array
    hydraulic_m: Array
    roughness_m: Array
    compression: Array
    k: Array
    power_pa: Array
    power_m3s: Array
    exponent: Array
    fixed: dict[int, float]
    density: float
    viscosity: float
    fans: dict[int, Curve] = field(default_factory=dict)
    tees: Tees | None = None
    demand_m3s: Array | None = None  # (nodes,) flow taken out at a node, below 0 put in

    def __post_init__(self) -> None:
        for name in (
            "length_m",
            "area_m2",
            "hydraulic_m",
            "roughness_m",
            "compression",
            "k",
            "power_pa",
            "power_m3s",
            "exponent",
        ):
            values = getattr(self, name)
            if len(values) != len(self.start) or not np.isfinite(values).all():
                raise InputError(
                    f"Every arc needs a finite {name}", where=f"{name}, {len(values)} values for {len(self.start)} arcs"
                )
        if not (self.area_m2 > 0).all() or not (self.hydraulic_m > 0).all() or (self.power_m3s <= 0).any():
            raise InputError("Areas, diameters and rated flows of arcs must be above 0")
        if not self.fixed:
            raise InputError("A network needs a node whose pressure is known", remedy="Fix the outside or a room")


@dataclass(frozen=True, slots=True, eq=False)
class Solved:
    """flow_m3s (m,) in the arcs' own direction, pressure_pa (nodes,); steps taken, whether it converged, the greatest
    residuals [Pa], [m3/s], the arc
    that fits worst, and fans left of their peak.
    """

    flow_m3s: Array
    pressure_pa: Array
    steps: int
    converged: bool
    residual_pa: float
    residual_m3s: float
    worst_arc: int
    stalled: tuple[int, ...]


def losses(net: Network, q: Array) -> tuple[Array, Array]:
    """(h [Pa], dh/dq) of every arc by its own flow; tees and fans left out."""
    size = np.abs(q)
    v = q / net.area_m2
    h, d = np.zeros(len(q)), np.full(len(q), LEAST_SLOPE)
    long = net.length_m > 0
    if long.any():
        step = np.maximum(size[long] * 1e-6, 1e-9)

        # Beyond what friction is known for, where a step may lead, loss goes on with the square of flow.
        far = MOST_REYNOLDS * net.viscosity / net.density * net.area_m2[long] / net.hydraulic_m[long]

        def rub(flow: Array) -> Array:
            known = np.minimum(flow, far)
            return (
                net.length_m[long]
                * (np.maximum(flow, far) / far) ** 2
                * duct_gradient(
                    known,
                    net.area_m2[long],
                    net.hydraulic_m[long],
                    net.roughness_m[long],
                    net.compression[long],
                    net.density,
                    net.viscosity,
                )
            )

        here = rub(size[long])
        laminar = 32 * net.viscosity * net.length_m[long] / (net.hydraulic_m[long] ** 2 * net.area_m2[long])
        h[long] += np.sign(q[long]) * here
        d[long] += np.where(size[long] > 1e-9, (rub(size[long] + step) - here) / step, laminar)
    root = np.sqrt(v**2 + STILL_M_S**2)
    h += net.k * net.density / 2 * v * root
    d += net.k * net.density / 2 * (root + v**2 / root) / net.area_m2
    small = 1e-4 * net.power_m3s
    base = q**2 + small**2
    scale = net.power_pa / net.power_m3s**net.exponent
    h += scale * base ** ((net.exponent - 1) / 2) * q
    d += scale * (base ** ((net.exponent - 1) / 2) + (net.exponent - 1) * q**2 * base ** ((net.exponent - 3) / 2))
    return h, d


def _tee_terms(net: Network, q: Array, turning: float) -> tuple[Array, Array, Array]:
    """(Pa on the leg along its direction, slope by the leg's flow, slope by the whole flow): homogeneous of degree two,
    so one slope follows
    from the other. A leg whose flow turns round passes through nothing within a few per cent of the whole flow, so
    that losses stay continuous.
    """
    t = net.tees
    whole = np.abs(q[t.whole])
    r = q[t.leg] / np.maximum(whole, 1e-9)
    e = 1e-5
    three = t.coefficient(np.abs(np.concatenate([r, r + e, r - e])), 3) * np.clip(
        np.concatenate([r, r + e, r - e]) / turning, -1.0, 1.0
    )
    phi, above, below = np.split(three, 3)
    slope = (above - below) / (2 * e)
    half = net.density / 2 / net.area_m2[t.whole] ** 2
    return (
        half * phi * whole**2,
        half * slope * whole,
        half * np.sign(q[t.whole]) * (2 * phi * whole - slope * q[t.leg]),
    )


def fan_pressure(curve: Curve, q: float) -> tuple[float, float, bool]:
    """(Pa, slope, left of the peak). Left of its peak a gently falling line stands for the curve, so that the solve has
    one answer; beyond its last
    point the curve goes on as it ends.
    """
    peak, most = curve.stall_m3s, curve.greatest_m3s
    top = float(curve.pressure(peak))
    if q < peak:
        # What falls from rest on has no peak: the line then falls as far over its whole reach.
        slope = -RISE_LEFT_OF_PEAK * top / (peak if peak > 0 else most)
        return top + slope * (q - peak), slope, peak > 0
    inside = min(q, most * (1 - 1e-6))
    step = 1e-5 * most
    here = float(curve.pressure(inside))
    slope = min(
        (here - float(curve.pressure(max(inside - step, peak)))) / max(inside - max(inside - step, peak), 1e-12),
        -1e-6 * top / most,
    )
    return here + slope * (q - inside), slope, False


def solve(net: Network, start_m3s: Array, tolerance_pa: float = 1e-6, tolerance_m3s: float = 1e-9) -> Solved:
    """Flows and pressures from given flows on. Never raises for want of convergence: the best state is given with its
    residual.

    Where junctions with air that turns round keep it from settling, they are smoothed widely first and then less and
    less.
    """
    found = _newton_from(net, start_m3s, tolerance_pa, tolerance_m3s, TURNING)
    if found.converged or net.tees is None or not len(net.tees.leg):
        return found
    flow = start_m3s
    for turning in SMOOTHER:
        flow = _newton_from(net, flow, ROUGH_PA, ROUGH_M3S, turning).flow_m3s
    again = _newton_from(net, flow, tolerance_pa, tolerance_m3s, TURNING)
    return again if again.converged or again.residual_pa < found.residual_pa else found


def _newton_from(net: Network, start_m3s: Array, tolerance_pa: float, tolerance_m3s: float, turning: float) -> Solved:
    """Newton's method, the step halved until the merit falls."""
    from scipy.sparse import csr_matrix

    m = len(net.start)
    fixed = np.zeros(net.nodes, bool)
    p = np.zeros(net.nodes)
    for node, value in net.fixed.items():
        fixed[node], p[node] = True, value
    number = np.where(fixed, -1, np.cumsum(~fixed) - 1)
    free = int((~fixed).sum())
    rows, cols, data = [], [], []
    for node, sign in ((net.start, 1.0), (net.end, -1.0)):
        inside = number[node] >= 0
        rows.append(np.flatnonzero(inside))
        cols.append(number[node][inside])
        data.append(np.full(int(inside.sum()), sign))
    # A dP gives the fall of pressure from start to end; its transpose gathers flows at nodes (out of the start, into
    # the end).
    a = csr_matrix((np.concatenate(data), (np.concatenate(rows), np.concatenate(cols))), shape=(m, free))
    q = np.asarray(start_m3s, float).copy()

    taken = np.zeros(free) if net.demand_m3s is None else net.demand_m3s[~fixed]
    coupled = _Coupled(a, net.tees.leg, net.tees.whole) if net.tees is not None and len(net.tees.leg) else None

    def residuals(q: Array, p: Array) -> tuple[Array, Array, Array, Array, tuple[int, ...]]:
        h, d = losses(net, q)
        whole, stalled = np.zeros(0), []
        for arc, curve in net.fans.items():
            pa, slope, left = fan_pressure(curve, float(q[arc]))
            h[arc] -= pa
            d[arc] -= slope
            if left:
                stalled.append(arc)
        if coupled is not None:
            pa, own, whole = _tee_terms(net, q, turning)
            np.add.at(h, net.tees.leg, pa)
            np.add.at(d, net.tees.leg, own)
        return (
            h - (p[net.start] - p[net.end]),
            a.T @ q + taken,
            d if coupled is not None else np.maximum(d, LEAST_SLOPE),
            whole,
            tuple(stalled),
        )

    r1, r2, d, cross, stalled = residuals(q, p)
    # No step moves a flow by more than a hundred times what the network began with or its fans can move.
    most = FAR_FLOW * (
        float(np.abs(q).max(initial=0.0)) + sum(float(c.greatest_m3s) for c in net.fans.values()) + LEAST_FAR_M3S
    )
    # Pressures that fit the flows at the start best: one linear step of the pressures alone.
    # Rings start at rest, in ducts whose flow nobody knows: the first steps then leave junctions alone, which is
    # cheaper and carries past air
    # that turns round.
    best, plain = None, PLAIN_STEPS if (q[net.length_m > 0] == 0).any() else 0
    scale = max((abs(float(c.pressure(c.stall_m3s))) for c in net.fans.values()), default=1.0)
    for step in range(MOST_STEPS + 1):
        worst, mass = float(np.abs(r1).max(initial=0)), float(np.abs(r2).max(initial=0))
        merit = float(r1 @ r1 + MASS_WEIGHT * (r2 @ r2))
        if best is None or merit < best[0]:
            best = merit, q.copy(), p.copy(), worst, mass, int(np.abs(r1).argmax()) if m else 0, stalled
        if worst < tolerance_pa + 1e-9 * scale and mass < tolerance_m3s:
            return Solved(q, p, step, True, worst, mass, best[5], stalled)
        if step == MOST_STEPS:
            break
        try:
            alone = coupled is not None and plain > 0
            plain -= alone
            dq, dp = (
                _by_nodes(a, np.maximum(d, LEAST_SLOPE), r1, r2)
                if alone or coupled is None
                else coupled.step(d, cross, r1, r2)
            )
        except RuntimeError:  # a singular step: the best state so far is given
            break
        if not (np.isfinite(dq).all() and np.isfinite(dp).all()):
            break
        length = min(1.0, most / max(float(np.abs(dq).max(initial=0.0)), 1e-30))
        for _ in range(MOST_HALVINGS + 1):
            q2, p2 = q + length * dq, p.copy()
            p2[~fixed] += length * dp
            r1, r2, d, cross, stalled = residuals(q2, p2)
            if float(r1 @ r1 + MASS_WEIGHT * (r2 @ r2)) <= (1 - ARMIJO * length) * merit:
                break
            length /= 2
        q, p = q2, p2
    _, q, p, worst, mass, arc, stalled = best
    return Solved(q, p, step, False, worst, mass, arc, stalled)


def _by_nodes(a, d: Array, r1: Array, r2: Array) -> tuple[Array, Array]:
    """One step where no arc hangs on another: by the nodes alone (a Laplacian)."""
    from scipy.sparse import diags
    from scipy.sparse.linalg import splu

    weighted = diags(1 / d) @ a
    dp = splu((a.T @ weighted).tocsc(), permc_spec="MMD_AT_PLUS_A", options={"SymmetricMode": True}).solve(
        weighted.T @ r1 - r2
    )
    return (a @ dp - r1) / d, dp


class _Coupled:
    """Flows and pressures of one network together.

    Which places are filled, and the best order of columns, are found once; steps fill in slopes.
    """

    def __init__(self, a, legs: NDArray[np.intp], wholes: NDArray[np.intp]) -> None:
        coo, (m, nodes) = a.tocoo(), a.shape
        row = np.concatenate([np.arange(m), legs, coo.row, m + coo.col])
        col = np.concatenate([np.arange(m), wholes, m + coo.col, coo.row])
        self._size, self._m, self._steady = m + nodes, m, np.concatenate([-coo.data, coo.data])
        self._row, self._col = row, col
        self._spec, self._order = "COLAMD", np.arange(self._size)
        self._place()

    def _place(self) -> None:
        """The compressed columns of the matrix, its columns in the order that is known."""
        at = np.argsort(self._order)[self._col] * self._size + self._row
        places, self._into = np.unique(at, return_inverse=True)
        self._indices = places % self._size
        self._starts = np.searchsorted(places // self._size, np.arange(self._size + 1))

    def step(self, d: Array, values: Array, r1: Array, r2: Array) -> tuple[Array, Array]:
        """By slopes of arcs by their own flow, and of legs by that of the whole.

        Raises RuntimeError where it is singular.
        """
        from scipy.sparse import csc_matrix
        from scipy.sparse.linalg import splu

        data = np.bincount(self._into, np.concatenate([d, values, self._steady]), len(self._indices))
        found = splu(
            csc_matrix((data, self._indices, self._starts), shape=(self._size, self._size)), permc_spec=self._spec
        )
        x = np.empty(self._size)
        x[self._order] = found.solve(np.concatenate([-r1, -r2]))
        if self._spec != "NATURAL":
            self._spec, self._order = "NATURAL", np.argsort(found.perm_c)
            self._place()
        return x[: self._m], x[self._m :]


def arcs(rows: Sequence[dict[Any, Any]], **shared) -> Network:
    """A network from arcs as dicts, what is left out at nothing: for tests and small systems."""
    usual = {
        "length_m": 0.0,
        "area_m2": 1.0,
        "hydraulic_m": 1.0,
        "roughness_m": 0.09e-3,
        "compression": 0.0,
        "k": 0.0,
        "power_pa": 0.0,
        "power_m3s": 1.0,
        "exponent": 2.0,
    }
    columns = {name: np.array([float(r.get(name, value)) for r in rows]) for name, value in usual.items()}
    for i, r in enumerate(rows):
        if "d" in r:
            columns["area_m2"][i], columns["hydraulic_m"][i] = np.pi * r["d"] ** 2 / 4, r["d"]
    return Network(
        start=np.array([r["start"] for r in rows]), end=np.array([r["end"] for r in rows]), **columns, **shared
    )
