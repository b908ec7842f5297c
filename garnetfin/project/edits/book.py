"""Edits of the office book: assumptions, figures of room uses, profiles, own materials."""

from typing import ClassVar

from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.core.tables import materials, profiles, room_use
from garnetfin.project.book import ASSUMPTIONS, BOOK_CHOICES, USE_FIELDS, Book, DayProfile, OwnMaterial, UseChange, UseProfile
from garnetfin.project.lookup import find, fresh_ids
from garnetfin.project.tree import Project
from garnetfin.project.values import Value

DAYS = ("working", "other", "summer_design", "winter_design")


def _with(project: Project, **changes: object) -> Project:
    book = structs.replace(project.book, **changes)
    return project if book == project.book else structs.replace(project, book=book)


class SetAssumption(Struct, frozen=True):
    """An assumption; all that is by rule and rests on it moves."""

    label: ClassVar[str] = "Assumption"
    field: str
    value: Value

    def apply(self, project: Project) -> Project:
        if self.field not in ASSUMPTIONS:
            raise InputError(f"The office book has no assumption “{self.field}”")
        return _with(project, **{self.field: self.value})


class TakeBook(Struct, frozen=True):
    """Another office book in place of this one: all that is by rule follows it, all that is pinned stays."""

    label: ClassVar[str] = "Office book"
    book: Book

    def apply(self, project: Project) -> Project:
        return project if project.book == self.book else structs.replace(project, book=self.book)


class SetBookChoice(Struct, frozen=True):
    """How outdoor air is counted: method, category, pollution of the building, and what a rate keeps at height."""

    label: ClassVar[str] = "Choice of the office book"
    field: str
    value: str

    def apply(self, project: Project) -> Project:
        if self.field not in BOOK_CHOICES:
            raise InputError(f"The office book has no choice “{self.field}”")
        return _with(project, **{self.field: self.value})


class SetUseFigure(Struct, frozen=True):
    """A figure of a room use, None for what ships."""

    label: ClassVar[str] = "Figure of a use"
    use_id: str
    field: str
    value: float | None

    def apply(self, project: Project) -> Project:
        room_use(self.use_id)
        if self.field not in USE_FIELDS:
            raise InputError(f"A room use has no figure “{self.field}”")
        kept = tuple(c for c in project.book.uses if (c.use_id, c.field) != (self.use_id, self.field))
        if self.value is not None:
            kept = (*kept, UseChange(use_id=self.use_id, field=self.field, value=self.value))
        return _with(project, uses=kept)


def own_profile_id(use_id: str) -> str:
    return f"own-{use_id}"


def profile_of(book: Book, use_id: str) -> DayProfile:
    """The profile a use follows, one that ships spelled out hour by hour."""
    followed = next((u.profile_id for u in book.use_profiles if u.use_id == use_id), room_use(use_id).profile)
    found = find(book.profiles, followed)
    if found is not None:
        return found
    hours = tuple(float(v) for v in profiles()[followed if followed in profiles() else "always"])
    return DayProfile(id=followed, name=followed, working=hours)


class SetUseProfile(Struct, frozen=True):
    """The hours of one kind of day for a use; the first edit makes the office's own profile of what ships."""

    label: ClassVar[str] = "Use through the day"
    use_id: str
    day: str
    hours: tuple[float, ...]

    def apply(self, project: Project) -> Project:
        if self.day not in DAYS:
            raise InputError(f"There is no kind of day “{self.day}”", remedy="Choose one of: " + ", ".join(DAYS))
        use, book = room_use(self.use_id), project.book
        own_id = own_profile_id(self.use_id)
        old = profile_of(book, self.use_id)
        new = structs.replace(old, id=own_id, name=f"{use.name}, own", **{self.day: self.hours})
        if new == old:
            return project
        followed = tuple(u for u in book.use_profiles if u.use_id != self.use_id)
        return _with(project, profiles=(*(p for p in book.profiles if p.id != own_id), new),
                     use_profiles=(*followed, UseProfile(use_id=self.use_id, profile_id=own_id)))


class FreeUseProfile(Struct, frozen=True):
    """A use back to the profile that ships."""

    label: ClassVar[str] = "Profile as it ships"
    use_id: str

    def apply(self, project: Project) -> Project:
        book = project.book
        return _with(project, profiles=tuple(p for p in book.profiles if p.id != own_profile_id(self.use_id)),
                     use_profiles=tuple(u for u in book.use_profiles if u.use_id != self.use_id))


class AddMaterial(Struct, frozen=True):
    """A material of the office's own, found beside those that ship."""

    label: ClassVar[str] = "New material"
    name: str
    conductivity_w_mk: float
    density_kg_m3: float
    specific_heat_j_kgk: float

    def apply(self, project: Project) -> Project:
        name = self.name.strip()
        if not name:
            raise InputError("A material needs a name")
        if any(m.name.lower() == name.lower() for m in (*project.book.materials, *materials().values())):
            raise InputError(f"There is a material “{name}” already", remedy="Give it another name")
        new_id = fresh_ids(project.book.materials, "own-material-", 1)[0]
        made = OwnMaterial(id=new_id, name=name, conductivity_w_mk=self.conductivity_w_mk, density_kg_m3=self.density_kg_m3,
                           specific_heat_j_kgk=self.specific_heat_j_kgk)
        return _with(project, materials=(*project.book.materials, made))
