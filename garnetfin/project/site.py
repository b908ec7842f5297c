"""The place and its design conditions."""

from garnetfin.core.errors import InputError
from garnetfin.project.values import Node, Rule, Value, value_within, within

MONTHS = ("January", "February", "March", "April", "May", "June", "July", "August", "September", "October",
          "November", "December")


class MonthConditions(Node):
    """One month's design day: maximum dry bulb and coincident wet bulb [degC], ranges [K], sky clearness [-]."""

    dry_bulb_c: float
    wet_bulb_c: float
    range_k: float
    wet_range_k: float
    tau_b: float
    tau_d: float

    def __post_init__(self) -> None:
        where = "design conditions of a month"
        within(self.dry_bulb_c, -60, 60, "Dry bulb", where, "°C")
        within(self.wet_bulb_c, -60, self.dry_bulb_c, "Coincident wet bulb", where, "°C")
        within(self.range_k, 0, 40, "Daily range", where, "K")
        within(self.wet_range_k, 0, 40, "Daily range of the wet bulb", where, "K")
        within(self.tau_b, 0.05, 3, "Clearness of the beam", where)
        within(self.tau_d, 0.5, 5, "Clearness of the sky", where)


class Site(Node):
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
    north_deg: float = 0.0
    note: str = ""

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
