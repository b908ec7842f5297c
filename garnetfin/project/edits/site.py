"""Edits of the place and its design conditions."""

from typing import ClassVar

from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.core.tables import places
from garnetfin.project.site import SUMMER_PERCENTS, WINTER_PERCENTS, MonthConditions, Site, WeatherYear
from garnetfin.project.tree import Project
from garnetfin.project.values import Imported, Rule, Value

SITE_VALUES = ("winter_c", "winter_humidity", "annual_mean_c", "ground_reflectance")
MONTH_FIELDS = MonthConditions.__struct_fields__


class SetSiteValue(Struct, frozen=True):
    label: ClassVar[str] = "Design condition"
    field: str
    value: Value

    def apply(self, project: Project) -> Project:
        if project.site is None or self.field not in SITE_VALUES:
            raise InputError(f"The place has no value “{self.field}”")
        site = structs.replace(project.site, **{self.field: self.value})
        return project if site == project.site else structs.replace(project, site=site)


class SetMonth(Struct, frozen=True):
    """One figure of one month (0..11)."""

    label: ClassVar[str] = "Design day"
    month: int
    field: str
    value: Value

    def apply(self, project: Project) -> Project:
        site = project.site
        if site is None or self.field not in MONTH_FIELDS or not 0 <= self.month < 12:
            raise InputError(f"A design day has no figure “{self.field}”")
        months = site.months or (MonthConditions(),) * 12
        month = structs.replace(months[self.month], **{self.field: self.value})
        if month == months[self.month]:
            return project
        months = (*months[: self.month], month, *months[self.month + 1 :])
        return structs.replace(project, site=structs.replace(site, months=months))


SITE_NUMBERS = ("latitude_deg", "longitude_deg", "altitude_m", "utc_offset_h")


class SetPlace(Struct, frozen=True):
    """One of the places that ship; conditions by rule follow it, pinned ones stay. A weather file is put away."""

    label: ClassVar[str] = "Place"
    place_id: str

    def apply(self, project: Project) -> Project:
        place = places().get(self.place_id)
        if place is None:
            raise InputError(
                f"“{self.place_id}” is no place that ships", remedy="Choose one of: " + ", ".join(places())
            )
        old = project.site
        months = (
            tuple(
                structs.replace(m, **{n: Rule() for n in MONTH_FIELDS if isinstance(getattr(m, n), Imported)})
                for m in old.months
            )
            if old
            else ()
        )
        kept = structs.asdict(old) if old else {"name": ""}
        for name in SITE_VALUES:
            if old and isinstance(kept[name], Imported):
                kept[name] = Rule()
        kept |= {
            "name": place.name,
            "latitude_deg": place.latitude_deg,
            "longitude_deg": place.longitude_deg,
            "altitude_m": place.altitude_m,
            "utc_offset_h": place.utc_offset_h,
            "place_id": place.id,
            "weather": None,
            "months": months,
            "note": "An invented place.",
        }
        site = Site(**kept)
        return project if site == old else structs.replace(project, site=site)


class SetSite(Struct, frozen=True):
    """Name, position, height, time zone, percentages or summer time of the place."""

    label: ClassVar[str] = "Place"
    field: str
    value: float | str | bool

    def apply(self, project: Project) -> Project:
        site = project.site
        if site is None:
            raise InputError("The project has no place yet", remedy="Choose one first")
        value = self.value
        if self.field == "name":
            value = str(value).strip()
            if not value:
                raise InputError("A place needs a name", remedy="Type one")
        elif (self.field == "summer_percent" and value not in tuple(f"{p:g}" for p in SUMMER_PERCENTS)) or (
            self.field == "winter_percent" and value not in tuple(f"{p:g}" for p in WINTER_PERCENTS)
        ):
            raise InputError(
                f"{value} % is not among the percentages", remedy="0.4, 1 or 2 in summer; 99.6 or 99 in winter"
            )
        elif self.field not in (*SITE_NUMBERS, "summer_percent", "winter_percent", "summer_time"):
            raise InputError(f"The place has no figure “{self.field}”")
        edited = structs.replace(site, **{self.field: value})
        return project if edited == site else structs.replace(project, site=edited)


class SetWeather(Struct, frozen=True):
    """A year of hours, or None to put it away, with the place it was measured at: name, latitude, longitude, altitude
    (None where the file does not say) and offset of its clock from UTC."""

    label: ClassVar[str] = "Weather file"
    year: WeatherYear | None
    position: tuple[str, float, float, float | None, float] | None = None

    def apply(self, project: Project) -> Project:
        site = project.site
        if site is None:
            raise InputError("The project has no place yet", remedy="Choose one first")
        # Conditions taken over from another source give way to the file; what the engineer pinned stays.
        months = tuple(
            structs.replace(m, **{n: Rule() for n in MONTH_FIELDS if isinstance(getattr(m, n), Imported)})
            for m in site.months
        )
        freed = (
            {n: Rule() for n in ("winter_c", "annual_mean_c") if isinstance(getattr(site, n), Imported)}
            if self.year
            else {}
        )
        edited = structs.replace(site, weather=self.year, months=months if self.year else site.months, **freed)
        if self.position is not None:
            name, latitude, longitude, altitude, utc = self.position
            edited = structs.replace(
                edited,
                name=name or site.name,
                latitude_deg=latitude,
                longitude_deg=longitude,
                altitude_m=site.altitude_m if altitude is None else altitude,
                utc_offset_h=utc,
                place_id="",
            )
        return project if edited == site else structs.replace(project, site=edited)
