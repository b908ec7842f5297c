"""The operating point: where fan curve and system curve meet."""

from collections.abc import Callable
from dataclasses import dataclass
from math import isfinite, nan

from garnetfin.core.errors import InputError
from garnetfin.core.fans.curve import Curve

SMALL_KW = (0.12, 0.18, 0.25, 0.37, 0.55, 0.75, 1.1, 1.5, 2.2, 3, 4, 5.5, 7.5, 11, 15, 18.5, 22, 30, 37, 45)
LARGE_KW = (55, 75, 90, 110, 132, 160, 200, 250, 315, 355, 400, 450, 500, 560, 630, 710, 800, 900, 1000)
# Rated powers of standard motors [W]; source: IEC 60072.
MOTORS_W = tuple(1000 * kw for kw in (*SMALL_KW, *LARGE_KW))
MOTOR_RESERVE = 1.15
SPECIFIC_CLASSES_W = (300, 500, 750, 1250, 2000, 3000, 4500)  # EN 16798-3, SFP 0..6


@dataclass(frozen=True, slots=True)
class Duty:
    """flow [m3/s], total pressure [Pa], powers [W], efficiency [-] of the wheel, distance from stall [-] of the
    flow.
    """

    flow_m3s: float
    pressure_pa: float
    shaft_w: float
    electric_w: float
    efficiency: float
    from_stall: float
    sound_db: float
    motor_w: float
    specific_w_m3s: float
    specific_class: int


def operating_flow(curve: Curve, system_pa: Callable[[float], float]) -> float | None:
    """Flow [m3/s] at which the fan's pressure equals the system's, right of stall; None when they do not meet, and for
    a system without a finite pressure.
    """
    from scipy.optimize import brentq

    def excess(flow: float) -> float:
        return float(curve.pressure(flow)) - system_pa(flow)

    low, high = curve.stall_m3s * (1 + 1e-9), curve.greatest_m3s * (1 - 1e-9)
    if not (excess(low) >= 0 and excess(high) <= 0):
        return None
    return float(brentq(excess, low, high, xtol=1e-10))


def motor_for(shaft_w: float) -> float:
    """The least standard motor [W] with 15 % in reserve over the power at its shaft; NaN beyond the largest."""
    return next((m for m in MOTORS_W if m >= MOTOR_RESERVE * shaft_w), nan)


def specific_class(specific_w_m3s: float) -> int:
    """Class of a specific fan power, EN 16798-3: SFP 0 to 7."""
    return next((i for i, limit in enumerate(SPECIFIC_CLASSES_W) if specific_w_m3s <= limit), len(SPECIFIC_CLASSES_W))


def operating_points(curve: Curve, system_pa: Callable[[float], float], samples: int = 200) -> list[float]:
    """Every flow [m3/s] at which the fan's pressure equals the system's, stall included, rising; more than one is a
    warning.
    """
    from scipy.optimize import brentq

    flows = [curve.greatest_m3s * (i + 1e-6) / samples for i in range(samples)]
    off = [float(pa) - system_pa(q) for q, pa in zip(flows, curve.pressure(flows))]
    return [
        float(brentq(lambda q: float(curve.pressure(q)) - system_pa(q), a, b, xtol=1e-10))
        for a, b, x, y in zip(flows, flows[1:], off, off[1:])
        if x * y < 0
    ]


def duty(curve: Curve, flow_m3s: float, drive_efficiency: float, motor_efficiency: float) -> Duty:
    """All figures of a point on the curve, on which the flow must lie.

    Raises InputError for a flow of 0, backwards or not finite: a fan that moves nothing has no duty.
    """
    if not (isfinite(flow_m3s) and flow_m3s > 0):
        raise InputError(f"A fan moves air forward, not {flow_m3s:g} m³/s", where=f"fan {curve.model.fan_id}")
    pressure = float(curve.pressure(flow_m3s))
    shaft = float(curve.shaft_power(flow_m3s))
    electric = shaft / (drive_efficiency * motor_efficiency)
    motor = motor_for(shaft / curve.fans / drive_efficiency)
    specific = electric / flow_m3s
    rank = specific_class(specific)
    return Duty(
        flow_m3s,
        pressure,
        shaft,
        electric,
        flow_m3s * pressure / shaft,
        (flow_m3s - curve.stall_m3s) / flow_m3s,
        curve.sound_power(flow_m3s),
        motor,
        specific,
        rank,
    )
