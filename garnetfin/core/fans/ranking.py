"""Which fans of a catalogue can do a duty, by electric power. Source: own method."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from garnetfin.core.fans.curve import Curve, speed_for
from garnetfin.core.fans.duty import Duty, duty
from garnetfin.core.tables import FanModel

DRIVE_EFFICIENCY = {"plug-backward": 1.0, "mixed-inline": 1.0, "axial": 1.0}  # direct; belt for the rest
BELT_EFFICIENCY = 0.93
LEAST_FROM_STALL = 0.10


@dataclass(frozen=True, slots=True)
class Candidate:
    """A fan at the duty; `reason` is empty for one that can do it, and says why not and how far off otherwise."""

    fan_id: str
    kind: str
    wheel_m: float
    speed_rpm: float
    max_rpm: float
    point: Duty | None
    reason: str = ""

    @property
    def reserve(self) -> float:
        """Speed that is left, as a share of the greatest."""
        return 1 - self.speed_rpm / self.max_rpm

    @property
    def tip_m_s(self) -> float:
        """Speed of the blades' tips."""
        return np.pi * self.wheel_m * self.speed_rpm / 60


def drive_efficiency(model: FanModel) -> float:
    """Usual efficiency of a kind’s drive [-]."""
    return DRIVE_EFFICIENCY.get(model.kind, BELT_EFFICIENCY)


def rank(
    models: Iterable[FanModel],
    flow_m3s: float,
    pressure_pa: float,
    density_kg_m3: float,
    motor_efficiency: float,
    fans: int = 1,
    series: bool = False,
    drive: float | None = None,
) -> tuple[Candidate, ...]:
    """Candidates for a duty of `fans` alike: those that can do it by rising electric power, then the others with the
    reason.

    drive: efficiency of the drive where it is typed, else by the kind of fan.
    """
    able, unable = [], []
    for m in models:
        speed = speed_for(m, flow_m3s, pressure_pa, density_kg_m3, fans, series)
        if isinstance(speed, str):
            reason, speed = speed, 0.0
        elif speed > m.max_rpm:
            reason = f"would turn {speed - m.max_rpm:.0f} rpm too fast"
        elif speed < m.min_rpm:
            reason = f"would turn {m.min_rpm - speed:.0f} rpm too slowly"
        else:
            found = duty(
                Curve(m, speed, density_kg_m3, fans, series),
                flow_m3s,
                drive if drive is not None else drive_efficiency(m),
                motor_efficiency,
            )
            reason = (
                f"too close to stall, {found.from_stall:.0%} of the flow" if found.from_stall < LEAST_FROM_STALL else ""
            )
            if not reason:
                able.append(Candidate(m.fan_id, m.kind, m.wheel_m, speed, m.max_rpm, found))
                continue
        unable.append(Candidate(m.fan_id, m.kind, m.wheel_m, speed, m.max_rpm, None, reason))
    return (*sorted(able, key=lambda c: c.point.electric_w), *unable)
