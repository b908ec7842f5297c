"""The place and its design conditions.

What is by rule follows the weather file, the chosen place, or the office standards.
"""

from typing import Literal

from garnetfin.core.errors import InputError
from garnetfin.project.values import Node, Rule, Value, value_within, within

MONTHS = (
    "January",
    "February",
    "March",
    "April",
    "May",
    "June",
    "July",
    "August",
    "September",
    "October",
    "November",
    "December",
)
SUMMER_PERCENTS = (0.4, 1.0, 2.0)
WINTER_PERCENTS = (99.6, 99.0)


class MonthConditions(Node, frozen=True):
    """One month's design day: maximum dry bulb and coincident wet bulb [degC], ranges [K], sky clearness [-]."""

    dry_bulb_c: Value = Rule()
    wet_bulb_c: Value = Rule()
    range_k: Value = Rule()
    wet_range_k: Value = Rule()
    tau_b: Value = Rule()
    tau_d: Value = Rule()

    def __post_init__(self) -> None:
        where = "design conditions of a month"
        value_within(self.dry_bulb_c, -60, 60, "Dry bulb", where, "°C")
        value_within(self.wet_bulb_c, -60, 60, "Coincident wet bulb", where, "°C")
        value_within(self.range_k, 0, 40, "Daily range", where, "K")
        value_within(self.wet_range_k, 0, 40, "Daily range of the wet bulb", where, "K")
        value_within(self.tau_b, 0.05, 3, "Clearness of the beam", where)
        value_within(self.tau_d, 0.5, 5, "Clearness of the sky", where)
        if not (isinstance(self.dry_bulb_c, Rule) or isinstance(self.wet_bulb_c, Rule)):
            if self.wet_bulb_c.value > self.dry_bulb_c.value:
                raise InputError(
                    f"Coincident wet bulb of {self.wet_bulb_c.value:g} °C is above the dry bulb of "
                    f"{self.dry_bulb_c.value:g} °C",
                    where=where,
                    remedy="Lower the one or raise the other",
                )


class MonthStatistics(Node, frozen=True):
    """What a weather file says of a month; dry and wet bulb in the order of SUMMER_PERCENTS."""

    dry_bulb_c: tuple[float, float, float]
    wet_bulb_c: tuple[float, float, float]
    range_k: float
    wet_range_k: float
    tau_b: float
    tau_d: float
    mean_c: float
    wind_m_s: float


class WeatherYear(Node, frozen=True):
    """A year of hours that lies beside the project, named by its content, and what was derived from it."""

    content: str
    name: str  # of the file
    months: tuple[MonthStatistics, ...]
    winter_c: tuple[float, float]  # in the order of WINTER_PERCENTS
    greatest_c: float
    least_c: float
    mended: tuple[str, ...] = ()  # what was put right with the engineer's word

    def __post_init__(self) -> None:
        if len(self.months) != 12:
            raise InputError(f"Weather needs twelve months, got {len(self.months)}", where=f"weather {self.name}")

    @property
    def mean_c(self) -> float:
        return sum(m.mean_c for m in self.months) / 12


class Site(Node, frozen=True):
    name: str
    latitude_deg: float
    longitude_deg: float
    altitude_m: float
    utc_offset_h: float
    months: tuple[MonthConditions, ...] = ()
    winter_c: Value = Rule()
    winter_humidity: Value = Rule()
    annual_mean_c: Value = Rule()
    ground_reflectance: Value = Rule()
    wind_m_s: Value = Rule()
    north_deg: float = 0.0
    note: str = ""
    place_id: str = ""  # of the places that ship; "" = typed
    summer_percent: Literal["0.4", "1", "2"] = "0.4"
    winter_percent: Literal["99.6", "99"] = "99.6"
    weather: WeatherYear | None = None
    summer_time: bool = False  # profiles of use run an hour early from April to October

    def __post_init__(self) -> None:
        where = f"place {self.name}"
        within(self.latitude_deg, -90, 90, "Latitude", where, "°")
        within(self.longitude_deg, -180, 180, "Longitude", where, "°")
        within(self.altitude_m, -430, 9000, "Altitude", where, "m")
        within(self.utc_offset_h, -14, 14, "Time zone", where, "h")
        within(self.north_deg, -360, 360, "North", where, "°")
        if len(self.months) not in (0, 12):
            raise InputError(f"Design conditions need twelve months, got {len(self.months)}", where=where)
        value_within(self.winter_c, -60, 40, "Winter dry bulb", where, "°C")
        value_within(self.winter_humidity, 0, 1, "Winter humidity", where)
        value_within(self.annual_mean_c, -30, 40, "Annual mean", where, "°C")
        value_within(self.ground_reflectance, 0, 1, "Ground reflectance", where)
        value_within(self.wind_m_s, 0, 60, "Wind", where, "m/s")
