"""Flow boxes of an air system: one for each room whose flow follows its load or whose air is reheated, or a group.

They are chosen from the rooms' flows and the set supply temperature alone, before ducts are sized, since their pressure
is part of every run.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

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
from garnetfin.engine.results import AirResult, Missing, RoomResult, there
from garnetfin.project.book import Book
from garnetfin.project.edits.equipment import box_of
from garnetfin.project.equipment import FlowBox
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule

LEAST_M3S = 1e-6
FOLLOWS = ("room", "neediest")  # ways of supply whose temperature rises to what rooms need
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
    project: Project, system: AirSystem, air: AirResult | Missing, rooms: Mapping[str, RoomResult | Missing], memo: Memo
) -> dict[str, BoxRecord]:
    """All boxes of a system by id; none where nothing controls a room's flow or reheats it, or it has none.

    Raises InputError where a catalogue has no box of the kind, or set-points cross.
    """
    if not isinstance(air, AirResult) or system.boxes == "none":
        return {}
    served = {r.room_id for r in air.rooms}
    own = tuple(b for b in project.flow_boxes if served & set(b.room_ids))
    numbers = tuple((r.id, r.number) for r in project.rooms if r.id in served)
    known = tuple(there(rooms[r.room_id]) for r in air.rooms)
    row = key(system, project.book, air, known, own, numbers)
    found: dict[str, BoxRecord] = memo.one("boxes", row, lambda: _compute(project, system, air, known, own))
    return found


def models_for(book: Book, box: BoxRecord) -> tuple[BoxModel, ...]:
    """What may be fixed for a box: models of its kind in the order of choice, and the one that stands there."""
    models = core.in_order(catalogue(book, "boxes"), box.kind, box.reheat)
    return (*models, box.model) if box.model is not None and box.model not in models else models


def _placed(system: AirSystem, air: AirResult, own: Iterable[FlowBox]) -> list[FlowBox]:
    """Boxes there are: those of groups and of rooms of which something is fixed, then by rule for all others."""
    variable = system.flow == "load"
    wants = {r.room_id for r in air.rooms if r.flow_m3s > LEAST_M3S and (variable or r.rest == "reheat")}
    placed = [b for b in own if wants & set(b.room_ids)]
    taken = {r for b in placed for r in b.room_ids}
    by_room = [FlowBox(id=box_of(r.room_id), room_ids=(r.room_id,)) for r in air.rooms if r.room_id in wants - taken]
    return [*placed, *by_room]


@dataclass(frozen=True, slots=True, eq=False)
class _Rooms:
    """What the control of boxes does in rooms (R,) at the hours of the design days and on the winter one (289)."""

    flow_m3s: NDArray[np.float64]  # (R,) design, and least
    least_m3s: NDArray[np.float64]
    heat_w: NDArray[np.float64]  # (R,) in winter
    heating_c: NDArray[np.float64]
    reheats: NDArray[np.bool_]
    reheat_w: NDArray[np.float64]  # (R, 289)
    at_m3s: NDArray[np.float64]
    supply_c: NDArray[np.float64]


def _in_rooms(system: AirSystem, air: AirResult, known: Sequence[RoomResult], leave_c: NDArray[np.float64]) -> _Rooms:
    """Rooms held by their boxes; those that are not in use at an hour ask for none."""
    variable = system.flow == "load"
    flow = np.array([r.flow_m3s for r in air.rooms])
    least = np.array([r.least_m3s for r in air.rooms]) if variable else flow
    heat = np.array([max(r.heating_w, 0.0) for r in known])
    cooling_c = np.array([r.figures.cooling_c.figure for r in known])
    heating_c = np.minimum(air.hold_c, cooling_c)
    counted = np.array([r.counted.reshape(288) for r in known])
    winter = -heat - air.fall_w_k * (cooling_c - heating_c)
    load = np.hstack([air.sensible_w, winter[:, None]])
    used = np.hstack([counted, np.ones((len(known), 1), bool)])
    supply = _supply(system, air, load, used, flow)
    reheats = np.array([r.rest == "reheat" for r in air.rooms])
    warmest = np.minimum(heating_c + air.figures.warm_limit_k.figure, leave_c)
    at_heating = np.clip(air.winter_m3s, least, flow) if variable else flow
    limits = core.Limits(*(x[:, None] for x in (flow, least, at_heating, at_heating, warmest)))
    fall = np.maximum(air.fall_w_k, 1e-6)[:, None]
    held = core.held(load, fall, supply, cooling_c[:, None], heating_c[:, None], limits, air.heat_j_m3k)
    on = used & reheats[:, None] & (flow > LEAST_M3S)[:, None]
    return _Rooms(
        flow, least, heat, heating_c, reheats, np.where(on, np.maximum(held.reheat_w, 0.0), 0.0), held.flow, supply
    )


def _supply(
    system: AirSystem,
    air: AirResult,
    load_w: NDArray[np.float64],
    used: NDArray[np.bool_],
    flow_m3s: NDArray[np.float64],
) -> NDArray[np.float64]:
    """Supply air at the boxes (R, 289) [degC]: as it is set, or as warm as the room that needs it coldest lets it be
    where the system follows its rooms; zones with a temperature of their own get theirs.
    """
    cold = np.full(load_w.shape[1], air.supply_c)
    heats = any(p.kind == "heating" for p in system.parts)
    if system.supply in FOLLOWS and heats:
        carries = np.maximum(air.heat_j_m3k * flow_m3s, 1e-9)[:, None]
        hold = air.hold_c[:, None]
        wanted = np.where(used & (flow_m3s > LEAST_M3S)[:, None], hold - load_w / carries, np.inf)
        follows = wanted.min(axis=0)
        months = np.array([*np.repeat(np.arange(1, 13), 24), 1])
        warms = np.isin(months, system.heating_months)
        warm = np.minimum(follows, float(air.hold_c.mean()) + air.figures.warm_limit_k.figure)
        cold = np.where(warms & np.isfinite(follows), np.maximum(cold, warm), cold)
    own = np.isfinite(air.own_c)
    return np.where(own[:, None], np.fmax(air.own_c[:, None], cold[None, :]), cold[None, :])


class _Needs:
    """What boxes have to do, all (boxes,)."""

    def __init__(self, system: AirSystem, air: AirResult, of: _Rooms, members: list[NDArray[np.int64]]) -> None:
        variable = system.flow == "load"

        def sums(values: NDArray[np.float64]) -> NDArray[np.float64]:
            return np.array([values[m].sum(axis=0) for m in members])

        # a group of rooms takes at most what they ask for at one hour
        self.most = np.array(
            [air.flow_hours[m].sum(axis=0).max() if variable and len(m) > 1 else of.flow_m3s[m].sum() for m in members]
        )
        self.most = np.maximum(self.most, sums(air.winter_m3s)) if variable else self.most
        self.wanted = np.minimum(sums(of.least_m3s), self.most)
        self.reheats = np.array([bool(of.reheats[m].any()) for m in members])
        self.heat_w = sums(of.heat_w)
        self.heating_c = np.array([of.heating_c[m].max() for m in members])
        by_hour = sums(of.reheat_w)
        hour, row = by_hour.argmax(axis=1), np.arange(len(members))
        self.reheat_w = np.where(self.reheats, by_hour[row, hour], 0.0)
        self.reheat_m3s = sums(of.at_m3s)[row, hour]
        self.supply_c = np.array([of.supply_c[m[0], h] for m, h in zip(members, hour)])


def _compute(
    project: Project, system: AirSystem, air: AirResult, known: Sequence[RoomResult], own: tuple[FlowBox, ...]
) -> dict[str, BoxRecord]:
    placed = _placed(system, air, own)
    if not placed:
        return {}
    at = {r.room_id: i for i, r in enumerate(air.rooms)}
    members = [np.array([at[r] for r in b.room_ids if r in at], int) for b in placed]
    warmest = [
        resolve(b.leave_c, assumption(project.book, "box_leave_c").figure, "office standards, warmest air of a box")
        for b in placed
    ]
    leave = np.full(len(air.rooms), assumption(project.book, "box_leave_c").figure)
    for m, w in zip(members, warmest):
        leave[m] = w.figure
    need = _Needs(system, air, _in_rooms(system, air, known, leave), members)
    found: dict[str, BoxRecord] = {}
    for reheat in (False, True):
        group = [i for i in range(len(placed)) if bool(need.reheats[i]) == reheat]
        if group:
            found |= _Group(project, system, air, need, placed, warmest).chosen(group, reheat)
    return {b.id: found[b.id] for b in placed}


class _Group:
    """Boxes of a system that are chosen from one list of models: all with coils for reheat, or all without."""

    def __init__(
        self,
        project: Project,
        system: AirSystem,
        air: AirResult,
        need: _Needs,
        placed: list[FlowBox],
        warmest: list[Figure],
    ) -> None:
        book = project.book
        self.project, self.system, self.need, self.placed = project, system, need, placed
        self.capacity = air.heat_j_m3k
        self.hot_c, self.limit_nc = assumption(book, "hot_supply_c").figure, assumption(book, "noise_nc").figure
        names = ("box_inlet_m_s", "box_pa", "box_test_pa")
        self.standards = core.Standards(*(assumption(book, n).figure for n in names))
        self.kind = "vav" if system.flow == "load" else "cav"
        self.warmest = warmest
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
        pinned = not isinstance(box.least_m3s, Rule)
        least = Figure(low, "pinned" if pinned else "rule", low, _least_source(model, wanted, most))
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
            tuple(core.heard(judged.radiated_db[k, at], judged.discharge_db[k, at]).tolist()) if at >= 0 else (),
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
