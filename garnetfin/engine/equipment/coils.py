"""Coils of a unit: chosen for the hours that govern, from the face of its casing and the water of its circuit."""

from collections.abc import Sequence
from functools import lru_cache, partial
from typing import NamedTuple

import numpy as np

from garnetfin.core.equipment import coils as core
from garnetfin.core.equipment.casings import Casing
from garnetfin.core.equipment.catalogue import CoilSeries
from garnetfin.core.errors import InputError
from garnetfin.core.psychro.properties import CP_AIR
from garnetfin.engine.equipment import tags
from garnetfin.engine.equipment.catalogues import rows as catalogue
from garnetfin.engine.equipment.records import CoilRecord, Refused
from garnetfin.engine.memo import Key, Memo, key
from garnetfin.engine.resolve import assumption, resolve
from garnetfin.engine.results import TrainResult
from garnetfin.project.book import Book
from garnetfin.project.edits.equipment import coil_of
from garnetfin.project.equipment import CoilChoice
from garnetfin.project.lookup import find
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project

COILS = {"cooling": "chilled", "precool": "chilled", "heating": "hot", "preheat": "hot"}
LEAST_W = 1.0  # below it a coil has nothing to do
FACE_RATIO = 1.6  # width to height where there is no casing
RATED_M_S = 2.5
STATE_DIGITS = 9  # of states of the air, to which two are one
WORDS = {
    "air velocity": "too fast on its face",
    "water velocity": "no circuits keep its water within its speeds",
    "water drop": "pressure drop of the water",
    "air drop": "pressure drop of the air",
    "duty": "leaves the air short of what is wanted",
    "humidity": "leaves the air too damp",
}


def coils(
    project: Project, system: AirSystem, train: TrainResult, casing: Casing | None, memo: Memo, valves: bool = True
) -> dict[str, CoilRecord]:
    """Coils of a system that have something to do, by id, in the order of the air; without `valves` they do not say
    what water just does.
    """
    found: dict[str, CoilRecord] = {}
    counts: dict[str, int] = {}
    for i, part in enumerate(train.parts):
        if part.kind not in COILS:
            continue
        counts[part.kind] = counts.get(part.kind, 0) + 1
        more = counts[part.kind] if counts[part.kind] > 1 else 0
        choice = find(project.coils, coil_of(system.id, part.id)) or by_rule(system.id, part.id)
        tag = choice.tag or tags.of_coil(project, system.id, part.kind, more)
        before = train.parts[i - 1].id if i else "outdoor"
        coil = _Coil(project.book, train, casing, Place(choice, part.kind, before, tag, part.choice == "dry air"))
        if coil.works:
            row = coil.row
            answer = memo.one("coil", row, coil.answer)
            valve = memo.one("valve", row, partial(coil.valve_kg_s, answer)) if valves else float("nan")
            found[choice.id] = coil.record(answer, valve)
    return found


@lru_cache(maxsize=4096)
def by_rule(system_id: str, part_id: str) -> CoilChoice:
    """A coil of which nothing is fixed; the same one each time."""
    return CoilChoice(id=coil_of(system_id, part_id), system_id=system_id, part_id=part_id)


class Place(NamedTuple):
    """Where a coil stands: what is fixed of it, its kind, the part in front of it, its tag; dries: it has to keep a
    humidity as well.
    """

    choice: CoilChoice
    kind: str
    before: str
    tag: str
    dries: bool


class Answer(NamedTuple):
    """What was found for one coil."""

    chosen: core.Candidate | None
    tried: tuple[Refused, ...]
    bypass: float


class _Coil:
    """One coil, from the train's own states before and behind it."""

    def __init__(self, book: Book, train: TrainResult, casing: Casing | None, place: Place) -> None:
        self.book, self.train, self.casing, self.place = book, train, casing, place
        choice = self.choice = place.choice
        self.into, self.out = train.solved.nodes[place.before], train.solved.nodes[choice.part_id]
        self.cools = COILS[place.kind] == "chilled"
        water = COILS[place.kind]
        flow, back = assumption(book, f"{water}_supply_c"), assumption(book, f"{water}_return_c")
        self.water_in = resolve(choice.water_in_c, flow.figure, "flow of its circuit, office standards")
        self.water_out = resolve(choice.water_out_c, back.figure, "return of its circuit, office standards")
        self.heat_w = -np.asarray(train.solved.heat_w[choice.part_id])  # out of the air
        self.sensible_w = np.asarray(self.into.m * CP_AIR * (self.into.t - self.out.t))
        size = self.heat_w if self.cools else -self.heat_w
        self.works = float(size.max()) >= LEAST_W
        self.at = int(size.argmax())
        most_sensible = int(np.where(size > LEAST_W, np.abs(self.sensible_w), 0.0).argmax())
        self.hours = sorted({self.at, most_sensible})
        self.want = self._wanted()

    @property
    def row(self) -> Key:
        """All that the choice reads, by value: an edit that moves no state of its air leaves the coil as it was."""
        want, choice = self.want, self.choice
        states = (*want.of.flow, *want.of.t, *want.of.w, *want.leaving_c)
        figures = tuple(round(float(x), STATE_DIGITS) for x in states)
        limits = (want.water_in_c, want.water_out_c, *want.face, float(want.dry_w), want.air_pa, want.water_pa)
        fixed = (choice.series, choice.rows, self.cools, self.hours.index(self.at), self.train.pressure_pa)
        return key(self.book.equipment, figures, limits, fixed)

    def answer(self) -> Answer:
        every = [s for s in catalogue(self.book, "coils") if ("cooling" if self.cools else "heating") in s.use]
        chosen, tried, said = self._choose(every)
        bypass = float("nan")
        if chosen is not None and chosen.done is not None and self.cools:
            k, at, done, into = self.hours.index(self.at), self.at, chosen.done, self.into
            bypass = float(core.bypass_of(into.t[at], into.w[at], done.t[k], done.w[k], self.train.pressure_pa))
        return Answer(chosen, (*said, *self._refused(tried)), bypass)

    def valve_kg_s(self, answer: Answer) -> float:
        """Water that just does what is wanted at the hour of the greatest heat; NaN without a coil."""
        if answer.chosen is None or answer.chosen.done is None:
            return float("nan")
        return core.at_valve(answer.chosen.built, self.want, self.hours.index(self.at), answer.chosen.water_kg_s)

    def record(self, answer: Answer, valve_kg_s: float) -> CoilRecord:
        at, choice = self.at, self.choice
        return CoilRecord(
            choice.id,
            self.place.tag,
            choice.system_id,
            choice.part_id,
            self.place.kind,
            self.train.hours[at] if at < len(self.train.hours) else (-1, -1),
            float(self.into.m[at]),
            float(self.into.m[at]) / self._density,
            float(self.into.t[at]),
            float(self.into.w[at]),
            float(self.out.t[at]),
            float(self.out.w[at]),
            float(self.heat_w[at]),
            float(self.sensible_w[at]),
            self.water_in,
            self.water_out,
            answer.chosen,
            bool(choice.series or choice.rows),
            answer.bypass,
            valve_kg_s,
            answer.tried,
        )

    @property
    def _density(self) -> float:
        return 1.2 * self.train.pressure_pa / 101325.0

    def _wanted(self) -> core.Wanted:
        hours = self.hours
        m = np.maximum(self.into.m[hours], 1e-9)
        if self.casing is not None:
            face = core.Face(self.casing.coil_width_m, self.casing.coil_height_m)
        else:
            area = float(m.max()) / self._density / RATED_M_S
            face = core.Face((area * FACE_RATIO) ** 0.5, (area / FACE_RATIO) ** 0.5)
        return core.Wanted(
            core.Air(m, self.into.t[hours], self.into.w[hours], self.train.pressure_pa),
            self.out.t[hours],
            self.water_in.figure,
            self.water_out.figure,
            face,
            0.0,
            float(self.out.w[hours].max()) if self.place.dries else np.inf,
            assumption(self.book, "coil_air_pa").figure,
            assumption(self.book, "coil_water_pa").figure,
        )

    def _choose(
        self, every: Sequence[CoilSeries]
    ) -> tuple[core.Candidate | None, tuple[core.Candidate, ...], tuple[Refused, ...]]:
        """(the coil, those before it, what kept it from being looked for)."""
        named = [s for s in every if s.series == self.choice.series] or list(every)
        try:
            found = core.choose(named, self.want)
        except InputError as error:
            return None, (), (Refused("", str(error)),)
        if self.choice.rows or self.choice.series:
            fit = [c for c in found.tried if not self.choice.rows or c.built.rows == self.choice.rows]
            pin = next((c for c in fit if not c.why), fit[0] if fit else None)
            return pin, (), ()
        before = found.tried
        if found.chosen is not None:
            before = found.tried[: next(i for i, c in enumerate(found.tried) if c is found.chosen)]
        return found.chosen, before, ()

    def _refused(self, tried: Sequence[core.Candidate]) -> tuple[Refused, ...]:
        found = []
        for c in tried:
            value, limit, quantity = self._sides(c)
            found.append(Refused(c.built.name, WORDS[c.why], value, limit, quantity))
        return tuple(found)

    def _sides(self, c: core.Candidate) -> tuple[float, float, str]:
        """(what it has, what is allowed, their quantity) of the limit that a coil breaks."""
        if c.why == "water velocity":
            return c.water_m_s, c.built.series.water_high_m_s, "velocity"
        if c.why == "water drop":
            return c.water_pa, assumption(self.book, "coil_water_pa").figure, "air_pressure"
        if c.why == "air drop":
            return c.air_pa, assumption(self.book, "coil_air_pa").figure, "pressure"
        if c.why == "air velocity":
            speed = float(np.max(self.into.m)) / core.AIR_KG_M3 / c.built.face.area_m2
            return speed, c.built.series.face_m_s, "velocity"
        reached = float(np.max(c.done.t)) if c.done is not None else float("nan")
        return reached, float("nan"), "temperature"
