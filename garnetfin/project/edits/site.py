"""Edits of the place and its design conditions."""

from typing import ClassVar

from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.project.site import MonthConditions
from garnetfin.project.tree import Project
from garnetfin.project.values import Value

SITE_VALUES = ("winter_c", "winter_humidity", "annual_mean_c", "ground_reflectance", "wind_m_s")
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
        months = (*months[:self.month], month, *months[self.month + 1:])
        return structs.replace(project, site=structs.replace(site, months=months))
