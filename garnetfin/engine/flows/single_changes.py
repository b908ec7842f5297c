"""An existing system checked: which rooms are short as things stand, and which single change helps most."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from garnetfin.core.ducts.sizes import Section
from garnetfin.engine.flows.flow_results import Flows, WhatIf
from garnetfin.engine.flows.network import Case, case_in
from garnetfin.engine.flows.real_flows import real_flows
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import Missing
from garnetfin.engine.run import run
from garnetfin.project.ducts import PinnedSize
from garnetfin.project.edits.duct_runs import SetSize
from garnetfin.project.edits.duct_values import SetDuctChoice, SetDuctValue
from garnetfin.project.edits.systems import ChooseFan, SetFanValue
from garnetfin.project.values import Pinned, Rule

SHORT = 0.97  # of its design flow, below which a terminal counts as short
PROVEN = 6  # best changes that are computed whole
FASTER = (1.05, 1.10)
MOST_DUCTS = 40


@dataclass(frozen=True, slots=True)
class Change:
    """One change: flow short of design over all rooms before and after, as a share of the design flow; rooms short
    after; power of the fan [W].
    """

    words: str
    command: Any  # None where it is done on site alone
    before: float
    after: float
    rooms_short: int
    electric_w: float
    proven: bool

    @property
    def gain(self) -> float:
        return self.before - self.after


@dataclass(frozen=True, slots=True)
class Check:
    """The system as found: real flows, rooms short, changes ranked by what they gain."""

    flows: Flows
    missing: float
    rooms_short: tuple[str, ...]
    changes: tuple[Change, ...]


def missing_share(flows: Flows) -> float:
    """Flow that terminals lack against design, over the whole design flow."""
    whole = sum(flows.design.values())
    return sum(max(0.0, q - flows.terminals[i]) for i, q in flows.design.items()) / whole if whole > 0 else 0.0


def _short_rooms(at: Case, flows: Flows) -> tuple[str, ...]:
    return tuple(
        dict.fromkeys(t.room_id for t in at.ducts.terminals if t.flow_m3s > 0 and flows.ratio(t.terminal_id) < SHORT)
    )


def check(
    results, system_id: str, what: WhatIf, progress: Callable[[float], None] = lambda share: None
) -> Check | Missing:
    """As the system stands under `what` (dampers open where they were never set). Changes are screened on the network,
    the best computed whole.

    `progress` may raise to stop.
    """
    at = case_in(results, system_id)
    if isinstance(at, Missing):
        return at
    base = real_flows(at, what)
    missing, short = missing_share(base), _short_rooms(at, base)
    screened = []
    options = list(_options(at, base, what))
    for i, (words, command, kwargs) in enumerate(options):
        progress(0.7 * i / len(options))
        after = real_flows(at, kwargs.get("what", what), kwargs.get("sections"), kwargs.get("added_k"))
        if not after.converged:
            continue
        screened.append(
            Change(
                words,
                command,
                missing,
                missing_share(after),
                len(_short_rooms(at, after)),
                after.fan.electric_w if after.fan else 0.0,
                False,
            )
        )
    screened.sort(key=lambda c: (c.after, c.words))
    proven = []
    for i, change in enumerate(screened[:PROVEN]):
        progress(0.7 + 0.3 * i / PROVEN)
        proven.append(
            _whole(results, system_id, what, change)
            if change.command is not None and not isinstance(change.command, SetFanValue)
            else change
        )
    proven.sort(key=lambda c: (c.after, c.words))
    return Check(base, missing, short, (*proven, *screened[PROVEN:]))


def _options(at: Case, base: Flows, what: WhatIf):
    """(words, command, how to solve it) of changes worth a look: ducts on the way to short terminals a size up, the fan
    faster, the filter, dampers.
    """
    turned = at.fan.curve.speed_rpm if at.fan is not None and at.fan.curve is not None else 0.0
    for k in FASTER:
        if turned:
            yield (
                f"Fan {k - 1:.0%} faster, {turned * k:.0f} rpm",
                SetFanValue(at.system.id, "speed_rpm", Pinned(value=round(turned * k))),
                {"what": replace(what, speed=what.speed * k)},
            )
    if what.filter != "clean":
        yield "A clean filter", None, {"what": replace(what, filter="clean")}
    if what.pressed:
        yield "Flexible ducts pulled straight", None, {"what": replace(what, pressed=False)}
    ranked = sorted((t for t in at.ducts.terminals if t.flow_m3s > 0), key=lambda t: base.ratio(t.terminal_id))
    weight: dict[str, float] = {}
    for t in ranked:
        lack = max(0.0, t.flow_m3s - base.terminals[t.terminal_id])
        for s in at.ducts.path(t.segment_id) if lack > 0 else ():
            r = at.ducts.segments[s]
            weight[s] = weight.get(s, 0.0) + lack * r.loss_pa
    for s in sorted(weight, key=lambda s: -weight[s])[:MOST_DUCTS]:
        r = at.ducts.segments[s]
        larger = _larger(r)
        if larger is not None:
            yield (
                f"Duct {s}: {larger.label} instead of {r.section.label}",
                SetSize((s,), PinnedSize(shape=larger.shape, width_m=larger.width_m, height_m=larger.height_m)),
                {"sections": {s: larger}},
            )
    if what.dampers_open:
        return
    for t in ranked[:12]:
        r = at.ducts.segments[t.segment_id]
        if r.damper_pinned and r.damper.added_k > 0:
            yield (
                f"Open the damper of {t.label}",
                SetDuctValue((t.segment_id,), "damper_deg", Pinned(value=0.0)),
                {"added_k": {t.segment_id: 0.0}},
            )
    for t in ranked[::-1][:12]:
        r = at.ducts.segments[t.segment_id]
        over = base.ratio(t.terminal_id)
        if over > 1.05 and r.damper is not None:
            # What takes the terminal down to its design flow while the others stay as they are.
            pv = at.air.density_kg_m3 * r.velocity_m_s**2 / 2
            more = (over**2 - 1) * (t.point.pressure_pa + r.loss_pa) / max(pv, 1e-6)
            old = 0.0 if what.dampers_open else r.damper.added_k
            yield (
                f"Throttle {t.label} to its flow",
                SetDuctValue((t.segment_id,), "damper_deg", Rule()),
                {"added_k": {t.segment_id: old + more}},
            )
        elif over > 1.05:
            yield f"A damper before {t.label}", SetDuctChoice((t.segment_id,), "damper", "blade"), {"sections": {}}


def _larger(r) -> Section | None:
    """The next size up of its own shape."""
    return min(
        (
            s
            for s in r.ladder.series.sections
            if s.shape == r.section.shape
            and s.area_m2 > r.section.area_m2 * 1.02
            and (s.shape == "round" or s.height_m <= r.section.height_m + 1e-9)
        ),
        key=lambda s: s.area_m2,
        default=None,
    )


def _whole(results, system_id: str, what: WhatIf, change: Change) -> Change:
    """The change made and everything computed again, the fan kept at its speed."""
    at = case_in(results, system_id)
    project = change.command.apply(results.project)
    if at.fan is not None and at.fan.curve is not None:
        choice = next(s for s in project.air_systems if s.id == system_id).fan("supply")
        speed = Pinned(value=at.fan.curve.speed_rpm) if isinstance(choice.speed_rpm, Rule) else choice.speed_rpm
        if not choice.model:
            project = ChooseFan(system_id, at.fan.curve.model.fan_id).apply(project)
        project = SetFanValue(system_id, "speed_rpm", speed).apply(project)
    after = run(project, Memo())
    new = case_in(after, system_id)
    if isinstance(new, Missing):
        return change
    flows = real_flows(new, what)
    return replace(
        change,
        after=missing_share(flows),
        rooms_short=len(_short_rooms(new, flows)),
        electric_w=flows.fan.electric_w if flows.fan else 0.0,
        proven=True,
    )
