"""Flow boxes of an air system: one for each room whose flow follows its load or whose air is reheated, or a group."""

from collections.abc import Iterable, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.equipment import boxes as core
from garnetfin.core.equipment.catalogue import BoxModel, stacked
from garnetfin.core.errors import InputError
from garnetfin.engine.equipment import tags
from garnetfin.engine.equipment.catalogues import rows as catalogue
from garnetfin.engine.equipment.records import BoxRecord, BoxWater, Refused
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.resolve import Figure, assumption, resolve
from garnetfin.engine.results import AirResult, Missing, TrainResult
from garnetfin.project.book import Book
from garnetfin.project.edits.equipment import box_of
from garnetfin.project.equipment import FlowBox
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule

LEAST_M3S = 1e-6
WORDS = {
    "flow": "flow above its greatest",
    "inlet velocity": "too fast in the inlet",
    "drop": "pressure drop",
    "radiated sound": "sound through its casing",
    "discharge sound": "sound along the duct",
    "reheat": "its coil gives less than the reheat",
}
QUANTITY = {
    "flow": "room_flow",
    "inlet velocity": "velocity",
    "drop": "pressure",
    "radiated sound": "plain",
    "discharge sound": "plain",
    "reheat": "power",
}


def boxes(
    project: Project, system: AirSystem, air: AirResult | Missing, train: TrainResult | Missing, memo: Memo
) -> dict[str, BoxRecord]:
    """All boxes of a system by id; none where nothing controls a room's flow or reheats it."""
    if not isinstance(air, AirResult) or not isinstance(train, TrainResult):
        return {}
    served = {r.room_id for r in air.rooms}
    own = tuple(b for b in project.flow_boxes if served & set(b.room_ids))
    numbers = tuple((r.id, r.number) for r in project.rooms if r.id in served)
    row = key(system, project.book, air, train, own, numbers)
    found: dict[str, BoxRecord] = memo.one("boxes", row, lambda: _compute(project, system, air, train, own))
    return found


def _placed(system: AirSystem, air: AirResult, own: Iterable[FlowBox]) -> list[FlowBox]:
    """Boxes there are: those of groups and of rooms of which something is fixed, then by rule for all others."""
    variable = system.flow == "load"
    wants = {r.room_id for r in air.rooms if r.flow_m3s > LEAST_M3S and (variable or r.rest == "reheat")}
    placed = [b for b in own if wants & set(b.room_ids)]
    taken = {r for b in placed for r in b.room_ids}
    by_room = [FlowBox(id=box_of(r.room_id), room_ids=(r.room_id,)) for r in air.rooms if r.room_id in wants - taken]
    return [*placed, *by_room]


class _Needs:
    """What boxes have to do, all (boxes,)."""

    def __init__(self, system: AirSystem, air: AirResult, train: TrainResult, members: list[NDArray[np.int64]]) -> None:
        variable = system.flow == "load"
        solved, rooms = train.solved, air.rooms
        flow = np.array([r.flow_m3s for r in rooms])
        least = np.array([r.least_m3s for r in rooms]) if variable else flow
        reheat = np.maximum(solved.reheat_w, 0.0)

        def sums(values: NDArray[np.float64]) -> NDArray[np.float64]:
            return np.array([values[m].sum(axis=0) for m in members])

        # a group of rooms takes at most what they ask for at one hour
        self.most = np.array(
            [air.flow_hours[m].sum(axis=0).max() if variable and len(m) > 1 else flow[m].sum() for m in members]
        )
        self.winter = sums(air.winter_m3s)
        self.most = np.maximum(self.most, self.winter) if variable else self.most
        self.wanted = np.minimum(sums(least), self.most)
        self.reheats = np.array([any(rooms[i].rest == "reheat" for i in m) for m in members])
        self.heat_w = np.maximum(-sums(train.winter_w), 0.0)
        self.heating_c = np.array([train.winter_set_c[m].max() for m in members])
        by_hour = sums(reheat)
        hour = by_hour.argmax(axis=1)
        self.reheat_w = np.where(self.reheats, by_hour.max(axis=1), 0.0)
        self.reheat_m3s = sums(solved.supply_kg_s)[np.arange(len(members)), hour] / air.density_kg_m3
        before = solved.nodes[_before_terminals(train)].t
        self.supply_c = before[hour]


def _before_terminals(train: TrainResult) -> str:
    """Node of the air as it comes to the boxes."""
    ids = [p.id for p in train.parts]
    at = next((i for i, p in enumerate(train.parts) if p.kind == "terminals"), 0)
    return ids[at - 1] if at else "outdoor"


def _compute(
    project: Project, system: AirSystem, air: AirResult, train: TrainResult, own: tuple[FlowBox, ...]
) -> dict[str, BoxRecord]:
    placed = _placed(system, air, own)
    at = {r.room_id: i for i, r in enumerate(air.rooms)}
    need = _Needs(system, air, train, [np.array([at[r] for r in b.room_ids if r in at], int) for b in placed])
    found: dict[str, BoxRecord] = {}
    for reheat in (False, True):
        group = [i for i in range(len(placed)) if bool(need.reheats[i]) == reheat]
        if group:
            found |= _Group(project, system, air, need, placed).chosen(group, reheat)
    return {b.id: found[b.id] for b in placed}


class _Group:
    """Boxes of a system that are chosen from one list of models: all with coils for reheat, or all without."""

    def __init__(
        self, project: Project, system: AirSystem, air: AirResult, need: _Needs, placed: list[FlowBox]
    ) -> None:
        book = project.book
        self.project, self.system, self.need, self.placed = project, system, need, placed
        self.capacity = air.heat_j_m3k
        self.hot_c, self.limit_nc = assumption(book, "hot_supply_c").figure, assumption(book, "noise_nc").figure
        names = ("box_inlet_m_s", "box_pa", "box_test_pa")
        self.standards = core.Standards(*(assumption(book, n).figure for n in names))
        self.kind = "vav" if system.flow == "load" else "cav"
        self.warmest = [
            resolve(b.leave_c, assumption(book, "box_leave_c").figure, "office standards, warmest air of a box")
            for b in placed
        ]
        self.limits = self._limits(book, air.figures.warm_limit_k.figure)

    def _limits(self, book: Book, rise_k: float) -> core.Limits:
        typed = np.array([np.nan if isinstance(b.heating_m3s, Rule) else b.heating_m3s.value for b in self.placed])
        flows = core.Flows(
            self.need.most,
            self.need.wanted,
            np.where(self.need.reheats, self.need.heat_w, 0.0),
            self.need.heating_c,
            np.full(len(self.placed), book.box_control == "dual"),
            typed,
        )
        return core.limits(flows, rise_k, np.array([w.figure for w in self.warmest]), self.capacity)

    def chosen(self, group: list[int], reheat: bool) -> dict[str, BoxRecord]:
        every = catalogue(self.project.book, "boxes")
        by_rule = core.in_order(every, self.kind, reheat)
        pinned = [next((m for m in every if m.model == self.placed[i].model), None) for i in group]
        models = (*by_rule, *dict.fromkeys(m for m in pinned if m is not None and m not in by_rule))
        if not models:
            raise InputError(
                f"The catalogue has no flow box of kind {self.kind}", where="catalogue of boxes", remedy="Read one in"
            )
        need, n = self.need, len(group)
        asked = core.Asked(
            need.most[group],
            need.reheat_w[group],
            need.reheat_m3s[group],
            need.supply_c[group],
            np.full(n, self.hot_c),
            np.full(n, self.limit_nc),
        )
        judged = core.judge(models, asked, self.standards, self.capacity)
        first = core.first(judged, len(by_rule))
        at = [models.index(pin) if pin is not None else int(j) for pin, j in zip(pinned, first)]
        with_coil = [k for k in range(n) if at[k] >= 0 and reheat]
        given = core.coil_water(
            [models[at[k]] for k in with_coil],
            need.reheat_w[group][with_coil],
            need.reheat_m3s[group][with_coil],
            need.supply_c[group][with_coil],
            np.full(len(with_coil), self.hot_c),
            self.capacity,
        )
        wet = {
            k: BoxWater(float(given.flow_kg_s[j]), float(given.back_c[j]), float(given.drop_pa[j]))
            for j, k in enumerate(with_coil)
        }
        return {self.placed[i].id: self._record(i, models, judged, (k, at[k]), wet.get(k)) for k, i in enumerate(group)}

    def _record(
        self, i: int, models: Sequence[BoxModel], judged: core.Judged, where: tuple[int, int], water: BoxWater | None
    ) -> BoxRecord:
        k, at = where
        need, box, limits = self.need, self.placed[i], self.limits
        model = models[at] if at >= 0 else None
        most, wanted = float(need.most[i]), float(need.wanted[i])
        low = min(max(wanted, model.flow_min_m3s if model else 0.0), most)
        least = resolve(box.least_m3s, low, _least_source(model, wanted, most))
        typed = not isinstance(box.heating_m3s, Rule)
        heating = Figure(
            max(float(limits.heating[i]), least.figure),
            "pinned" if typed else "rule",
            max(min(max(least.figure, float(limits.need[i])), most), least.figure),
            "between the least flow and the greatest, what heating takes",
        )
        reheats = bool(need.reheats[i])
        duty, flow, supply = float(need.reheat_w[i]), float(need.reheat_m3s[i]), float(need.supply_c[i])

        def of(values: NDArray[np.float64]) -> float:
            return float(values[k, at]) if at >= 0 else float("nan")

        return BoxRecord(
            box.id,
            box.tag or tags.of_room(tags.BOX, self.project, box.room_ids[0]),
            self.system.id,
            box.room_ids,
            self.kind,
            reheats,
            most,
            wanted,
            least,
            heating,
            float(limits.need[i]),
            float(need.heat_w[i]),
            replace(self.warmest[i], figure=float(limits.leaving_c[i])),
            supply,
            duty,
            flow,
            self.hot_c,
            self.limit_nc,
            model,
            bool(box.model) and model is not None,
            WORDS.get(core.REASONS[judged.why[k, at]], "") if at >= 0 else "",
            of(judged.velocity_m_s),
            of(judged.box_pa),
            of(judged.coil_pa),
            of(judged.radiated_nc),
            of(judged.discharge_nc),
            of(judged.reheat_w),
            water,
            self._refused(models, judged, k, at, duty),
        )

    def _refused(
        self, models: Sequence[BoxModel], judged: core.Judged, k: int, at: int, duty_w: float
    ) -> tuple[Refused, ...]:
        """Models before the chosen one, with the first limit each breaks."""
        sides: dict[str, tuple[NDArray[np.float64], NDArray[np.float64] | float]] = {
            "flow": (
                np.broadcast_to(judged.velocity_m_s * stacked(models, "inlet_m2"), judged.why.shape),
                stacked(models, "flow_max_m3s"),
            ),
            "inlet velocity": (judged.velocity_m_s, self.standards.inlet_m_s),
            "drop": (judged.box_pa + judged.coil_pa, self.standards.drop_pa),
            "radiated sound": (judged.radiated_nc, self.limit_nc),
            "discharge sound": (judged.discharge_nc, self.limit_nc),
        }
        found = []
        for j in range(len(models) if at < 0 else at):
            why = core.REASONS[judged.why[k, j]]
            if not why:
                continue
            if why == "reheat":
                value, limit = float(judged.reheat_w[k, j]), duty_w
            else:
                values, limits = sides[why]
                value = float(values[k, j])
                limit = float(limits) if np.ndim(limits) == 0 else float(np.asarray(limits)[j])
            found.append(Refused(models[j].model, WORDS[why], value, limit, QUANTITY[why]))
        return tuple(found)


def _least_source(model: BoxModel | None, wanted: float, most: float) -> str:
    if model is not None and model.flow_min_m3s > wanted and wanted < most:
        return f"the least that {model.model} can hold, above what its rooms ask for"
    return "what outdoor air, the least share and air that leaves ask for"
