"""A worksheet of named states and processes: rows that rest on other rows, solved in the order they need.

t degC, w kg/kg, p Pa, flows m3/s at the local standard density [kg dry air/m3], heat W, water kg/s. Methods: Air,
section b.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import nan
from typing import Any

from garnetfin.core.errors import InputError
from garnetfin.core.psychro import properties as air
from garnetfin.core.psychro.processes import flow_for, mix
from garnetfin.core.psychro.states import doubtful, state

KINDS = ("state", "outside", "mix", "process", "difference", "flow")
STATES = ("state", "outside", "mix")  # kinds that are a state themselves; a process ends in its second source
MOST_ROWS = 400


@dataclass(frozen=True, slots=True)
class Entry:
    """A row:

    `given` two properties of a state; `key` of a state known elsewhere; `sources` rows by id with `shares` for a mix.
    """

    id: str
    name: str
    kind: str
    given: tuple[tuple[str, float], ...] = ()
    key: str = ""
    sources: tuple[str, ...] = ()
    shares: tuple[float, ...] = ()
    flow_m3s: float = 0.0
    load_w: float = 0.0


@dataclass(frozen=True, slots=True)
class Answer:
    """A row's state, and for two states what lies between them;

    NaN where it has none. `reason`: why it has no answer.
    """

    id: str
    t: float = nan
    w: float = nan
    fog_kg: float = 0.0
    heat_w: float = nan
    sensible_w: float = nan
    water_kg_s: float = nan
    change: tuple[float, float, float] = (nan, nan, nan)  # of t, w, h
    flow_m3s: float = nan
    reason: str = ""
    doubt: str = ""

    @property
    def known(self) -> bool:
        """False where the row has no answer; `reason` says why."""
        return not self.reason


def evaluate(
    entries: Sequence[Entry], outside: Mapping[str, tuple[float, float] | str], p: float, density: float
) -> tuple[Answer, ...]:
    """Answers in the order of the rows. `outside`: states known elsewhere as (t, w), or why there is none.

    Raises InputError for more rows than are accepted.
    """
    if len(entries) > MOST_ROWS:
        raise InputError(f"{len(entries)} rows are more than the {MOST_ROWS} accepted")
    by_id = {e.id: e for e in entries}
    made: dict[str, Answer] = dict(_all_states(entries, p))
    for entry in entries:
        _settle(entry, by_id, outside, p, density, made)
    return tuple(made[e.id] for e in entries)


def _all_states(entries: Sequence[Entry], p: float) -> Mapping[str, Answer]:
    """States of two properties, those of the same pair at once; a pair that holds an impossible row goes row by row."""
    pairs: dict[tuple[str, str], list[Entry]] = {}
    for e in entries:
        if e.kind == "state" and len(e.given) == 2:
            pairs.setdefault((e.given[0][0], e.given[1][0]), []).append(e)
    made = {}
    for (a, b), rows in pairs.items():
        try:
            found = state((a, [e.given[0][1] for e in rows]), (b, [e.given[1][1] for e in rows]), p)
            made |= {
                e.id: Answer(e.id, float(t), float(w), doubt=doubtful(a, b)) for e, t, w in zip(rows, found.t, found.w)
            }
        except InputError:
            for e in rows:
                try:
                    one = state((a, e.given[0][1]), (b, e.given[1][1]), p)
                    made[e.id] = Answer(e.id, float(one.t), float(one.w), doubt=doubtful(a, b))
                except InputError as error:
                    made[e.id] = Answer(e.id, reason=str(error))
    return made


def _settle(
    first: Entry,
    by_id: Mapping[str, Entry],
    outside: Mapping[Any, Any],
    p: float,
    density: float,
    made: dict[str, Answer],
) -> None:
    """Answer a row after those it rests on, without recursion; rows that rest on themselves are named and refused."""
    way = [first]
    while way:
        entry = way[-1]
        waiting = [by_id[s] for s in entry.sources if s in by_id and s not in made]
        if entry.id in made or not waiting:
            way.pop()
            if entry.id not in made:
                made[entry.id] = _answer(entry, by_id, outside, p, density, made)
        elif waiting[0] in way:
            ring = [*way[way.index(waiting[0]) :], waiting[0]]
            words = " → ".join(e.name for e in ring)
            for e in ring:
                made[e.id] = Answer(e.id, reason=f"goes in a circle: {words}")
        else:
            way.append(waiting[0])


def _answer(
    entry: Entry,
    by_id: Mapping[str, Entry],
    outside: Mapping[Any, Any],
    p: float,
    density: float,
    made: Mapping[str, Answer],
) -> Answer:
    if entry.kind == "state":
        return Answer(entry.id, reason="needs two properties")
    if entry.kind == "outside":
        found = outside.get(entry.key, "no source")
        return Answer(entry.id, reason=found) if isinstance(found, str) else Answer(entry.id, *found)
    sources = [made[s] for s in entry.sources if s in by_id]
    if len(sources) < len(entry.sources) or len(sources) < (1 if entry.kind == "mix" else 2):
        return Answer(entry.id, reason="no source")
    for s in sources:
        if not s.known:
            return Answer(entry.id, reason=f"waits for {by_id[s.id].name}")
        if s.t != s.t:
            return Answer(entry.id, reason=f"{by_id[s.id].name} is no state")
    try:
        return _mixed(entry, sources, p) if entry.kind == "mix" else _between(entry, sources[0], sources[1], density)
    except InputError as error:
        return Answer(entry.id, reason=str(error))


def _mixed(entry: Entry, sources: Sequence[Answer], p: float) -> Answer:
    found = mix([[s] for s in entry.shares], [[s.t] for s in sources], [[s.w] for s in sources], [p])
    return Answer(entry.id, float(found.t[0]), float(found.w[0]), float(found.fog_kg[0]))


def _between(entry: Entry, a: Answer, b: Answer, density: float) -> Answer:
    """From the first state to the second: their difference; with a flow also heat and water; with a load the flow it
    needs.
    """
    change = (b.t - a.t, b.w - a.w, float(air.enthalpy(b.t, b.w) - air.enthalpy(a.t, a.w)))
    if entry.kind == "difference":
        return Answer(entry.id, change=change)
    if entry.kind == "flow":
        m = float(flow_for(entry.load_w, b.t, a.t, a.w))
        if m < 0:
            raise InputError(
                "Air that is warmer than the room takes no heat out of it",
                remedy="Change the sign of the load or the states",
            )
        flow, sensible = m / density, entry.load_w
    else:
        if entry.flow_m3s <= 0:
            raise InputError("A flow above 0 is needed", remedy="Give the air flow")
        flow, m = entry.flow_m3s, entry.flow_m3s * density
        sensible = m * float(air.specific_heat(a.w)) * change[0]
    # A process ends in its second state; what needs only a flow has none.
    t, w = (b.t, b.w) if entry.kind == "process" else (nan, nan)
    return Answer(
        entry.id,
        t,
        w,
        heat_w=m * change[2],
        sensible_w=sensible,
        water_kg_s=m * change[1],
        change=change,
        flow_m3s=flow,
    )
