"""Findings of equipment: none that serves, what a pinned one breaks, limits of units, machines that are short."""

from collections.abc import Iterator
from math import dist, isnan

from garnetfin.core.equipment.casings import FAN_POWER_CLASSES, LEAST_RATIO, VELOCITY_CLASSES
from garnetfin.core.equipment.plant import LARGE_SPARE
from garnetfin.core.equipment.room_units import DRY_MARGIN_K
from garnetfin.core.outlines import area_of
from garnetfin.display import amount
from garnetfin.engine.equipment.records import (
    BoxRecord,
    CoilRecord,
    Equipment,
    MachineRecord,
    RoomUnitRecord,
    ShaftRecord,
    SilencerRecord,
    Standing,
    UnitRecord,
)
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import Finding, Mend, there
from garnetfin.project.book import Book
from garnetfin.project.edits.book import SetAssumption, SetBookChoice
from garnetfin.project.edits.equipment import PutBox, PutRoomUnit, SetEquipment
from garnetfin.project.edits.systems import SetSystemChoice
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned, Rule

LEAST_W = 1.0
HIGH_SHARE = 0.5  # of the greatest flow, above which reheat of a least flow is worth a look
SHORT_SHARE = 0.02
HUMID_MARGIN = 0.005
NAMED = 4  # tags that are told one by one


def equipment_findings(project: Project, of: Equipment, loops: tuple[str, ...] = ()) -> Iterator[Finding]:
    """Findings of all kinds; loops: systems whose coils do not come to agree with them."""
    for system_id in loops:
        yield Finding(
            "coil-loop",
            "Air",
            "system",
            system_id,
            "Its coils and the system do not settle",
            "The bypass factor or the air drop still moves after four rounds.",
            "watch",
            (Mend("Figures as typed at the parts", SetSystemChoice(system_id, "coils", "typed")),),
        )
    yield from _boxes(project, of)
    for coil in of.coils.values():
        yield from _coil(coil)
    for unit in of.units.values():
        yield from _unit(project.book, unit)
    yield from _standing(project, of)
    dampest = assumption(project.book, "humidity_high").figure
    for piece in of.room_units.values():
        yield from _room_unit(piece, dampest)
    for quiet in of.silencers.values():
        yield from _silencer(quiet)
    for passing in of.shafts.values():
        yield from _shaft(passing)
    for machine in of.machines.values():
        if isinstance(machine, MachineRecord):
            yield from _machine(machine)


def _standing(project: Project, of: Equipment) -> Iterator[Finding]:
    """Units that do not fit where they stand, and rooms too small for all that is to stand in them."""
    for system_id, at in of.standings.items():
        if at.fits:
            continue
        unit, room = of.units[system_id], there(find(project.rooms, at.room_id))
        made = there(unit.layout)
        other = "side by side" if made.arrangement == "stacked" else "stacked"
        faster = next((v for v in VELOCITY_CLASSES if v > unit.velocity.figure + 1e-9), None)
        mends = [Mend(f"Decks {other}", SetEquipment("units", system_id, "arrangement", other))]
        if faster is not None:
            quick = SetEquipment("units", system_id, "velocity_m_s", Pinned(value=faster))
            mends.append(Mend(f"{amount('velocity', faster)} on its filters", quick))
        yield Finding(
            "unit-does-not-fit",
            "Air",
            "room",
            at.room_id,
            f"{unit.tag} does not fit into {room.number} {room.name}".strip(),
            f"Its floor is {amount('length', at.size_m[0])} by {amount('length', at.size_m[1])} with the space its "
            f"service takes, below {amount('length', at.clear_m)} of height; it lacks {_lacking(at)}.",
            "watch",
            tuple(mends),
        )
    rooms = [there(find(project.rooms, i)) for i in {at.room_id: None for at in of.standings.values()}]
    area = sum(area_of(r.outline) for r in rooms)
    if rooms and of.space is not None and set(of.standings) == set(of.units) and area < of.space.total_m2:
        numbers = ", ".join(r.number for r in rooms)
        yield Finding(
            "plant-room-small",
            "Air",
            "room",
            rooms[0].id,
            f"{numbers} lacks {amount('area', of.space.total_m2 - area)} of floor",
            f"Air handlers want {amount('area', of.space.handlers_m2)}, machines indoors "
            f"{amount('area', of.space.machines_m2)}; {amount('area', area)} are drawn. "
            "Draw the room larger, or let a unit stand elsewhere.",
            "watch",
        )


def _lacking(at: Standing) -> str:
    """What is missing where a unit is to stand."""
    sides = zip(at.lacks, ("length", "width")) if at.lacks is not None else ()
    either = [f"{amount('length', m)} of {n}" for m, n in sides if not isnan(m)]
    said = [" or ".join(either) or "both sides"] if at.lacks is not None else []
    said += [f"{amount('length', at.high_m)} of height"] if at.high_m > 0 else []
    return " and ".join(said)


def _by_rule(sheet: str, item_id: str, field: str = "model") -> Mend:
    return Mend("Let the rule choose", SetEquipment(sheet, item_id, field, ""))


def _boxes(project: Project, of: Equipment) -> Iterator[Finding]:
    for box in of.boxes.values():
        yield from _box(box)
    for system_id in dict.fromkeys(b.system_id for b in of.boxes.values()):
        yield from _least_flows([b for b in of.boxes.values() if b.system_id == system_id and b.kind == "vav"])
    yield from _apart(of)
    yield from _tight(project, of)


def _least_flows(boxes: list[BoxRecord]) -> Iterator[Finding]:
    """Least flows of variable boxes of a system: raised by their models, or so great that they cost much reheat."""
    raised = [b for b in boxes if b.model and b.least.origin == "rule" and b.least.figure > b.wanted_m3s * (1 + 1e-6)]
    if raised:
        worst = max(raised, key=lambda b: b.least.figure - b.wanted_m3s)
        model = there(worst.model)
        yield Finding(
            "box-minimum-raised",
            "Air",
            "room",
            worst.room_ids[0],
            _many(
                raised, "cannot close as far as its room would let it", "cannot close as far as rooms would let them"
            ),
            f"{_named(raised)}: {model.model} of {worst.tag} holds {amount('room_flow', model.flow_min_m3s)} at least, "
            f"{amount('room_flow', worst.wanted_m3s)} are asked for. A smaller inlet is faster and louder.",
            "watch",
        )
    great = [b for b in boxes if b.reheat and b.least.figure > HIGH_SHARE * b.most_m3s]
    if great:
        worst = max(great, key=lambda b: b.least.figure / b.most_m3s)
        rooms = tuple(dict.fromkeys(room_id for b in great for room_id in b.room_ids))
        yield Finding(
            "box-reheat-high",
            "Air",
            "room",
            worst.room_ids[0],
            _many(great, "heats a great least flow", "heat a great least flow"),
            f"{_named(great)}: {amount('room_flow', worst.least.figure)} of {amount('room_flow', worst.most_m3s)} flow "
            f"at least in {worst.tag}.",
            "watch",
            (Mend("Radiators there in place of reheat", PutRoomUnit(rooms, "radiator")),),
        )


def _many(boxes: list[BoxRecord], one: str, several: str) -> str:
    return f"{boxes[0].tag} {one}" if len(boxes) == 1 else f"{len(boxes)} boxes {several}"


def _apart(of: Equipment) -> Iterator[Finding]:
    """Groups of rooms that no one duct leads to. Terminals of one room may hang on several branches, each with a box
    of that model.
    """
    apart = [of.boxes[i] for i, stands in of.box_ducts.items() if len(stands) > 1 and len(of.boxes[i].room_ids) > 1]
    for box in apart:
        yield Finding(
            "box-place",
            "Air",
            "room",
            box.room_ids[0],
            f"{box.tag} has no duct of its own",
            f"Air of its {len(box.room_ids)} rooms parts from other air in several places: "
            f"{', '.join(of.box_ducts[box.id])}. Each branch counts with a whole box.",
            "watch",
            (Mend(f"Its first room out of {box.tag}", PutBox((box.room_ids[0],))),),
        )


def _tight(project: Project, of: Equipment) -> Iterator[Finding]:
    """Boxes for which the duct they stand in is too short."""
    stands = [(of.boxes[i], segment_id) for i, at in of.box_ducts.items() for segment_id in at]
    tight = [(b, s) for b, s in stands if b.model is not None and b.model.length_m > _drawn_m(project, s)]
    if not tight:
        return
    box, segment_id = tight[0]
    assert box.model is not None
    many = f"{len(tight)} boxes are longer than their ducts"
    rooms = tuple(dict.fromkeys(room_id for b, _ in tight for room_id in b.room_ids))
    systems = {b.system_id for b, _ in tight}
    reheats = all(s.flow == "fixed" for s in project.air_systems if s.id in systems)  # where heaters spare a box
    yield Finding(
        "box-length",
        "Air",
        "segment",
        segment_id,
        many if len(tight) > 1 else f"{box.tag} is longer than its duct",
        f"{_named([b for b, _ in tight])}: {box.tag} is {amount('length', box.model.length_m)} long, {segment_id} "
        f"{amount('length', _drawn_m(project, segment_id))}. Lengthen the branch, or join its terminals further on.",
        "watch",
        (Mend("Radiators there in place of reheat", PutRoomUnit(rooms, "radiator")),) if reheats else (),
    )


def _named(boxes: list[BoxRecord]) -> str:
    return ", ".join(b.tag for b in boxes[:NAMED]) + (" …" if len(boxes) > NAMED else "")


def _drawn_m(project: Project, segment_id: str) -> float:
    segment = find(project.segments, segment_id)
    a, b = find(project.duct_points, segment.a), find(project.duct_points, segment.b)
    return dist((a.x_m, a.y_m, a.z_m), (b.x_m, b.y_m, b.z_m))


def _box(box: BoxRecord) -> Iterator[Finding]:
    room = box.room_ids[0]

    def finding(code: str, title: str, reason: str, severity: str, *mends: Mend) -> Finding:
        return Finding(code, "Air", "room", room, title, reason, severity, mends)

    if box.model is None:
        last = box.tried[-1] if box.tried else None
        why = f" The last of {len(box.tried)}, {last.model}: {last.why}." if last else ""
        yield finding(
            "no-box",
            f"No flow box serves {box.tag}",
            f"{amount('room_flow', box.most_m3s)} at most {box.limit_nc:g} NC.{why}",
            "bad",
            Mend("Noise limit 5 NC higher", SetAssumption("noise_nc", Pinned(value=box.limit_nc + 5))),
        )
        return
    if box.why:
        yield finding(
            "box-limit",
            f"{box.tag}: {box.why}",
            f"{box.model.model} is pinned for {amount('room_flow', box.most_m3s)}.",
            "watch",
            _by_rule("flow_boxes", box.id),
        )
    short = box.heat_w * (1 - box.heating.figure / box.need_m3s) if box.need_m3s > box.heating.figure else 0.0
    if box.reheat and short > max(LEAST_W, SHORT_SHARE * box.heat_w):
        yield finding(
            "box-heating-short",
            f"{box.tag} lacks {amount('power', short)} of heat",
            f"Air of {amount('temperature', box.leaving.figure)} would need {amount('room_flow', box.need_m3s)}, "
            f"{amount('room_flow', box.heating.figure)} flow.",
            "bad",
            *(
                (Mend("Heating flow by rule", SetEquipment("flow_boxes", box.id, "heating_m3s", Rule())),)
                if box.heating.origin == "pinned"
                else ()
            ),
            Mend("Put a radiator", PutRoomUnit((room,), "radiator")),
        )


def _coil(coil: CoilRecord) -> Iterator[Finding]:
    place = f"{coil.system_id}/{coil.part_id}"

    def finding(code: str, title: str, reason: str, *mends: Mend) -> Finding:
        return Finding(code, "Air", "part", place, title, reason, "bad", mends)

    if coil.chosen is None:
        said = next((r.why for r in coil.tried if not r.model), "")
        last = next((r for r in reversed(coil.tried) if r.model), None)
        slow = last is not None and "circuits" in last.why
        closer = 0.5 * (coil.water_in.figure + coil.water_out.figure)
        colder = coil.water_in.figure - 2
        mend = (
            Mend("Half the change of its water", SetEquipment("coils", coil.id, "water_out_c", Pinned(value=closer)))
            if slow
            else Mend("Water 2 K colder", SetEquipment("coils", coil.id, "water_in_c", Pinned(value=colder)))
        )
        yield finding(
            "coil-infeasible",
            f"No coil serves {coil.tag}",
            said or f"{len(coil.tried)} were looked at; {last.model if last else ''}: {last.why if last else ''}.",
            *((mend,) if (slow or coil.heat_w > 0) and not said else ()),
        )
    elif coil.chosen.why:
        yield finding(
            "coil-limit",
            f"{coil.tag}: a pinned coil breaks a limit",
            f"{coil.chosen.built.name}: {coil.chosen.why}.",
            Mend("Rows by rule", SetEquipment("coils", coil.id, "rows", 0)),
            _by_rule("coils", coil.id, "series"),
        )
    elif coil.kind == "preheat" and coil.water_out.figure < 5:
        yield finding(
            "coil-frost",
            f"{coil.tag} may freeze",
            f"Water leaves it at {amount('temperature', coil.water_out.figure)}; "
            f"{amount('temperature', 5.0)} or glycol is wanted.",
        )


def _unit(book: Book, unit: UnitRecord) -> Iterator[Finding]:
    def finding(code: str, title: str, reason: str, severity: str, *mends: Mend) -> Finding:
        return Finding(code, "Air", "system", unit.id, title, reason, severity, mends)

    if unit.layout is None:
        yield finding(
            "no-casing",
            f"No casing serves {unit.tag}",
            f"{amount('system_flow', max(unit.supply_m3s, unit.exhaust_m3s))} at "
            f"{amount('velocity', unit.velocity.figure)} on its filters. "
            + (f"{unit.tried[-1].model}: {unit.tried[-1].why}." if unit.tried else ""),
            "bad",
        )
        return
    if unit.face_m_s > VELOCITY_CLASSES[4] + 1e-9:
        yield finding(
            "face-velocity",
            f"{unit.tag} is fast on its filters",
            f"{amount('velocity', unit.face_m_s)}, class {unit.velocity_class}; class V5 ends at "
            f"{amount('velocity', VELOCITY_CLASSES[4])}.",
            "watch",
            _by_rule("units", unit.id, "size"),
        )
    if book.fan_power and unit.specific_w_m3s == unit.specific_w_m3s:
        most = (*FAN_POWER_CLASSES, float("inf"))[int(book.fan_power) - 1]
        if unit.specific_w_m3s > most:
            yield finding(
                "sfp-above",
                f"The fans of {unit.tag} take much for their air",
                f"{unit.fan_class} of EN 16798-3, {unit.specific_w_m3s / most:.0%} of what SFP {book.fan_power} of the "
                f"office standards lets.",
                "watch",
                Mend("Ask for one class less", SetBookChoice("fan_power", str(min(int(book.fan_power) + 1, 7)))),
            )
    if unit.ratio < LEAST_RATIO:
        yield finding(
            "recovery-low",
            f"The heat recovery of {unit.tag} is below {LEAST_RATIO:.0%}",
            f"{unit.ratio:.0%} at equal flows; EU 1253/2014 asks for {LEAST_RATIO:.0%}.",
            "watch",
        )
    if unit.inner_w_m3s > unit.inner_limit:
        yield finding(
            "inner-sfp",
            f"Filters and recovery of {unit.tag} cost much",
            f"{unit.inner_w_m3s / unit.inner_limit:.0%} of the specific fan power that EU 1253/2014 lets.",
            "watch",
        )


def _room_unit(unit: RoomUnitRecord, dampest: float) -> Iterator[Finding]:
    def finding(code: str, title: str, reason: str, severity: str, *mends: Mend) -> Finding:
        return Finding(code, "Air", "room", unit.room_id, title, reason, severity, mends)

    by_rule = (_by_rule("room_units", unit.id),) if unit.pinned and unit.by_hand else ()
    if unit.model is None and max(unit.cool_need_w, unit.heat_need_w) >= LEAST_W:
        last = unit.tried[-1] if unit.tried else None
        yield finding(
            "no-room-unit",
            f"No unit serves {unit.tag}",
            f"{amount('power', unit.cool_need_w)} of cold, {amount('power', unit.heat_need_w)} of heat. "
            + (f"The last of {len(unit.tried)}, {last.count} × {last.row}: {last.why}." if last else ""),
            "bad",
        )
        return
    for short, need, what in (
        (unit.short_cool_w, unit.cool_need_w, "cold"),
        (unit.short_heat_w, unit.heat_need_w, "heat"),
    ):
        if short > max(LEAST_W, SHORT_SHARE * need):
            yield finding(
                f"unit-short-{what}",
                f"{unit.tag} lacks {amount('power', short)} of {what}",
                f"{amount('power', need)} are asked for.",
                "bad",
                *by_rule,
            )
    if unit.kind == "fan_coil" and unit.cool_need_w >= LEAST_W and unit.room_rh > dampest + HUMID_MARGIN:
        larger = Mend("One unit more", SetEquipment("room_units", unit.id, "count", unit.count + 1))
        yield finding(
            "humid",
            f"The room of {unit.tag} becomes {unit.room_rh:.0%} damp",
            f"{dampest:.0%} is its limit. Water of {amount('temperature', unit.water_in_c)} takes "
            f"{amount('power', unit.cool_total_w - unit.cool_sensible_w)} of its moisture out.",
            "watch",
            *((larger,) if unit.by_hand else ()),
        )
    if unit.kind == "beam" and unit.model is not None and unit.dew_c > unit.water_in_c - DRY_MARGIN_K:
        yield finding(
            "condensation-risk",
            f"Water may condense on {unit.tag}",
            f"The room's dew point is {amount('temperature', unit.dew_c)}, its water "
            f"{amount('temperature', unit.water_in_c)}.",
            "bad",
        )


def _machine(machine: MachineRecord) -> Iterator[Finding]:
    circuit = "cold" if machine.id == "cold" else "heat"

    def finding(code: str, title: str, reason: str, severity: str, *mends: Mend) -> Finding:
        return Finding(code, "Air", "site", "", title, reason, severity, mends)

    if machine.model is None:
        limits = sum(t.why == "limits" for t in machine.tried)
        yield finding(
            "no-machine",
            f"No machine makes the {circuit}",
            f"{amount('load', machine.load_w)} at {amount('temperature', machine.around.figure)} around it: {limits} "
            f"of {len(machine.tried)} models stand still there, the others would be more than six.",
            "bad",
        )
        return
    by_rule = (
        Mend("Let the rule choose", SetEquipment("machines", machine.id, "count", 0)),
        _by_rule("machines", machine.id),
    )
    if machine.spare < -1e-6:
        yield finding(
            "plant-short",
            f"{machine.tag} gives less {circuit} than is asked for",
            f"{machine.count - machine.standby} × {amount('load', machine.each_w)} for "
            f"{amount('load', machine.load_w)}.",
            "bad",
            *by_rule,
        )
    elif machine.spare > LARGE_SPARE and machine.pinned:
        yield finding(
            "plant-large",
            f"{machine.tag} gives {machine.spare:.0%} more {circuit} than is asked for",
            f"{amount('load', machine.load_w)} are asked for.",
            "watch",
            *by_rule,
        )


def _silencer(quiet: SilencerRecord) -> Iterator[Finding]:
    if quiet.model is None:
        more = Mend("Silencer may lose twice as much", SetAssumption("silencer_pa", Pinned(value=100.0)))
        yield Finding(
            "no-silencer",
            "Air",
            "part",
            f"{quiet.system_id}/{quiet.part_id}",
            f"No silencer is enough for {quiet.tag}",
            f"{quiet.lacks_db:.0f} dB are missing at {quiet.lacks_hz:.0f} Hz.",
            "watch",
            (more,) if any("pressure" in t.why for t in quiet.tried) else (),
        )


def _shaft(passing: ShaftRecord) -> Iterator[Finding]:
    if passing.size is None or passing.drawn_m2 <= 0:
        return
    lacks = passing.size.area_m2 - passing.drawn_m2
    if lacks > 0.005:
        yield Finding(
            "shaft-small",
            "Air",
            "site",
            "",
            f"The shaft of {passing.name} lacks {amount('area', lacks)}",
            f"{amount('area', passing.drawn_m2)} are drawn; its ducts want {amount('area', passing.size.area_m2)}.",
            "watch",
        )
