"""Which fans of a catalogue can do a duty, by electric power."""

from collections.abc import Iterable
from dataclasses import dataclass

from garnetfin.core.fans.curve import Curve, speed_for
from garnetfin.core.fans.duty import Duty, duty
from garnetfin.core.tables import FanModel

DRIVE_EFFICIENCY = {"plug-backward": 1.0, "mixed-inline": 1.0, "axial": 1.0}      # direct; belt for the rest
BELT_EFFICIENCY = 0.93
LEAST_FROM_STALL = 0.10


@dataclass(frozen=True, slots=True)
class Candidate:
    """A fan at the duty; `reason` is empty for one that can do it, and says why not otherwise."""

    fan_id: str
    kind: str
    wheel_m: float
    speed_rpm: float
    max_rpm: float
    point: Duty | None
    reason: str = ""


def drive_efficiency(model: FanModel) -> float:
    return DRIVE_EFFICIENCY.get(model.kind, BELT_EFFICIENCY)


def rank(models: Iterable[FanModel], flow_m3s: float, pressure_pa: float, density_kg_m3: float,
         motor_efficiency: float) -> tuple[Candidate, ...]:
    """Candidates for a duty: those that can do it by rising electric power, then the others with the reason."""
    able, unable = [], []
    for m in models:
        speed = speed_for(m, flow_m3s, pressure_pa, density_kg_m3)
        if isinstance(speed, str):
            reason, speed = speed, 0.0
        elif speed > m.max_rpm:
            reason = f"would turn {speed - m.max_rpm:.0f} rpm too fast"
        elif speed < m.min_rpm:
            reason = f"would turn {m.min_rpm - speed:.0f} rpm too slowly"
        else:
            found = duty(Curve(m, speed, density_kg_m3), flow_m3s, drive_efficiency(m), motor_efficiency)
            reason = "too close to stall" if found.from_stall < LEAST_FROM_STALL else ""
            if not reason:
                able.append(Candidate(m.fan_id, m.kind, m.wheel_m, speed, m.max_rpm, found))
                continue
        unable.append(Candidate(m.fan_id, m.kind, m.wheel_m, speed, m.max_rpm, None, reason))
    return (*sorted(able, key=lambda c: c.point.electric_w), *unable)
