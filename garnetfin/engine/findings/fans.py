"""Findings of fans: none that can, too fast, near stall, motor, flow; and of what fans have to carry for others."""

from collections.abc import Iterator, Mapping

from garnetfin.core.fans.bookings import Bookings
from garnetfin.display import amount, signed
from garnetfin.engine.results import FanResult, Finding, Lack, Mend, Missing
from garnetfin.engine.stages.fan import SURE_SPEED
from garnetfin.engine.stages.fan_duty import FAN_PARTS
from garnetfin.project.edits.systems import AddPart, ChooseFan, SetFanValue
from garnetfin.project.systems import AirSystem
from garnetfin.project.values import Rule

LEAST_FROM_STALL = 0.10
OFF_FLOW = 0.05
PRESSED_PA = 20.0  # rooms above outdoors; own
THROTTLED_PA = 20.0


def fan_findings(system: AirSystem, fans: Mapping[str, FanResult | Missing]) -> Iterator[Finding]:
    """Findings of every fan of a system that could be computed."""
    for way, fan in fans.items():
        if isinstance(fan, FanResult):
            yield from _fan(system, way, fan)


def _fan(system: AirSystem, way: str, fan: FanResult) -> Iterator[Finding]:
    part = next((p.id for p in system.parts if p.kind == FAN_PARTS.get(way)), "") if way != "supply" else ""
    kind, place = ("part", f"{system.id}/{part}") if part else ("system", system.id)
    prefix = f"{way}-" if way == "extract" else ""
    name = "fan" if way == "supply" else f"{way} fan"

    def finding(code: str, title: str, reason: str, severity: str, *mends: Mend) -> Finding:
        return Finding(prefix + code, "Fan", kind, place, title, reason, severity, mends)

    choice = system.fan(way)
    by_rule = Mend("Let the rule choose", ChooseFan(system.id, "", way))
    speed = Mend("Speed by rule", SetFanValue(system.id, "speed_rpm", Rule(), way))
    if isinstance(fan.chosen, Missing):
        yield finding(
            "no-fan",
            f"No {name} for this duty" if fan.chosen.code == Lack.NO_FAN else f"The {name} is off its curve",
            fan.chosen.remedy + ".",
            "bad",
            *((by_rule,) if choice.model or not isinstance(choice.speed_rpm, Rule) else ()),
        )
        return
    if fan.point is None or fan.curve is None:
        return
    if fan.chosen.speed_rpm > fan.chosen.max_rpm:
        yield finding(
            "fan-speed",
            f"The {name} turns too fast",
            f"{fan.chosen.speed_rpm:.0f} rpm; {fan.chosen.max_rpm:.0f} rpm is its limit.",
            "bad",
            speed,
            by_rule,
        )
    if fan.point.from_stall < LEAST_FROM_STALL:
        yield finding(
            "stall",
            f"Only {fan.point.from_stall:.0%} from stall",
            f"{LEAST_FROM_STALL:.0%} of the flow is wanted as distance.",
            "bad",
            by_rule,
        )
    model = fan.curve.model
    if fan.point.shaft_w / fan.curve.fans > model.motor_w:
        yield finding(
            "motor",
            f"The motor of {model.fan_id} is too small",
            f"{amount('load', fan.point.shaft_w / fan.curve.fans)} at the shaft, the catalogue’s motor gives "
            f"{amount('load', model.motor_w)}.",
            "bad",
            by_rule,
        )
    if not SURE_SPEED[0] <= fan.chosen.speed_rpm / model.speed_rpm <= SURE_SPEED[1]:
        yield finding(
            "far-speed",
            "Far from the speed it was measured at",
            f"{fan.chosen.speed_rpm:.0f} rpm against {model.speed_rpm:.0f}: its efficiency is uncertain.",
            "watch",
        )
    short = fan.point.flow_m3s / fan.wanted_m3s - 1
    if abs(short) > OFF_FLOW:
        whom = "every room gets" if way == "supply" else f"the {way} air is"
        yield finding(
            "fan-flow",
            f"The {name} gives {amount('system_flow', fan.point.flow_m3s)}",
            f"{amount('system_flow', fan.wanted_m3s)} are wanted: {whom} {signed(100 * short)} %.",
            "watch",
            speed,
        )


def booking_findings(system: AirSystem, booked: Bookings) -> Iterator[Finding]:
    """Rooms that are pressed, an intake that is throttled, a return fan with nothing to do."""
    if booked.rooms > PRESSED_PA:
        yield Finding(
            "rooms-pressed",
            "Fan",
            "system",
            system.id,
            f"The supply fan presses rooms {amount('pressure', booked.rooms)} above outdoors",
            "No fan draws the air back or out, so it is pushed through rooms, return ducts and the way of relief: "
            "doors stand open and fronts leak.",
            "bad",
            (
                Mend("Add a return fan", AddPart(system.id, "return_fan")),
                Mend("Add an exhaust fan", AddPart(system.id, "exhaust_fan")),
            ),
        )
    if booked.outdoor_damper > THROTTLED_PA:
        yield Finding(
            "intake-throttled",
            "Fan",
            "system",
            system.id,
            f"The intake is throttled by {amount('pressure', booked.outdoor_damper)}",
            "Without a return fan the mixing box lies so far below outdoors that return air flows there; outdoor air "
            "has to be held back as much.",
            "watch",
            (Mend("Add a return fan", AddPart(system.id, "return_fan")),),
        )
    if booked.idle:
        yield Finding(
            "fan-idle",
            "Fan",
            "system",
            system.id,
            "The return fan has nothing to lift",
            "Rooms are pressed by what no extract fan draws; air returns by itself.",
            "watch",
        )
