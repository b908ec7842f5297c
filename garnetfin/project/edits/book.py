"""Edits of the office standards: assumptions, figures of room uses, profiles, own materials."""

from typing import Any, ClassVar

from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.core.tables import materials, profiles, room_use
from garnetfin.project.book import (
    ASSUMPTIONS,
    BOOK_CHOICES,
    USE_FIELDS,
    Book,
    DayProfile,
    OwnMaterial,
    UseChange,
    UseProfile,
)
from garnetfin.project.fabric import SET_KINDS
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
            raise InputError(f"The office standards have no assumption “{self.field}”")
        return _with(project, **{self.field: self.value})


class TakeBook(Struct, frozen=True):
    """Another office standards in place of this one: all that is by rule follows it, all that is pinned stays.

    A build-up or glass that is as the old book has it under that name becomes as the new one has it.
    """

    label: ClassVar[str] = "Office standards"
    book: Book

    def apply(self, project: Project) -> Project:
        if project.book == self.book:
            return project
        return structs.replace(
            project,
            book=self.book,
            **{
                kind: _following(getattr(project, kind), getattr(project.book, kind), getattr(self.book, kind))
                for kind in ("build_ups", "glazings")
            },
        )


def _following(parts: tuple[Any, ...], old: tuple[Any, ...], new: tuple[Any, ...]) -> tuple[Any, ...]:
    """Parts of a project, those that stand as in the old book replaced by what the new one has under their name."""
    was, will = ({p.name: p for p in known} for known in (old, new))
    made = tuple(
        structs.replace(will[p.name], id=p.id)
        if p.name in was and p.name in will and structs.replace(was[p.name], id=p.id) == p
        else p
        for p in parts
    )
    return parts if made == parts else made


class KeepFabric(Struct, frozen=True):
    """Build-ups, glass and fabric sets of the project into its office standards; of one name the project's counts."""

    label: ClassVar[str] = "Fabric kept in the office standards"

    def apply(self, project: Project) -> Project:
        book, ids, changes = project.book, {}, {}
        for kind in ("build_ups", "glazings"):
            kept = {p.name: p for p in getattr(book, kind)}
            for part in getattr(project, kind):
                old = kept.get(part.name)
                made = part if old is None else structs.replace(part, id=old.id)
                if old is None and any(p.id == part.id for p in kept.values()):
                    made = structs.replace(part, id=fresh_ids(tuple(kept.values()), f"{part.id}-", 1)[0])
                ids[kind, part.id] = made.id
                kept[part.name] = made
            changes[kind] = tuple(kept.values())
        sets = {s.name: s for s in book.fabric_sets}
        for one in project.fabric_sets:
            named = {
                k: ids["glazings" if k == "glazing" else "build_ups", getattr(one, k)]
                for k in (*SET_KINDS, "glazing")
                if getattr(one, k)
            }
            sets[one.name] = structs.replace(one, **named)
        return _with(project, **changes, fabric_sets=tuple(sets.values()))


class BringFabric(Struct, frozen=True):
    """Build-ups, glass and fabric sets of the office standards that the project does not have under their name."""

    label: ClassVar[str] = "Fabric of the office standards"

    def apply(self, project: Project) -> Project:
        ids, changes = {}, {}
        for kind in ("build_ups", "glazings"):
            parts = list(getattr(project, kind))
            by_name = {p.name: p.id for p in parts}
            for part in getattr(project.book, kind):
                if part.name not in by_name:
                    free = (
                        part.id if all(p.id != part.id for p in parts) else fresh_ids(tuple(parts), f"{part.id}-", 1)[0]
                    )
                    parts.append(structs.replace(part, id=free))
                    by_name[part.name] = free
                ids[kind, part.id] = by_name[part.name]
            changes[kind] = tuple(parts)
        sets = list(project.fabric_sets)
        for one in project.book.fabric_sets:
            if all(s.name != one.name for s in sets):
                named = {
                    k: ids.get(("glazings" if k == "glazing" else "build_ups", getattr(one, k)), "")
                    for k in (*SET_KINDS, "glazing")
                    if getattr(one, k)
                }
                free = one.id if all(s.id != one.id for s in sets) else fresh_ids(tuple(sets), f"{one.id}-", 1)[0]
                sets.append(structs.replace(one, id=free, **named))
        made = structs.replace(project, **changes, fabric_sets=tuple(sets))
        return project if made == project else made


class SetBookChoice(Struct, frozen=True):
    """How outdoor air is counted: method, category, pollution of the building, and what a rate keeps at height."""

    label: ClassVar[str] = "Choice of the office standards"
    field: str
    value: str

    def apply(self, project: Project) -> Project:
        if self.field not in BOOK_CHOICES:
            raise InputError(f"The office standards have no choice “{self.field}”")
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

    label: ClassVar[str] = "Profile"
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
        return _with(
            project,
            profiles=(*(p for p in book.profiles if p.id != own_id), new),
            use_profiles=(*followed, UseProfile(use_id=self.use_id, profile_id=own_id)),
        )


class FreeUseProfile(Struct, frozen=True):
    """A use back to the profile that ships."""

    label: ClassVar[str] = "Profile as it ships"
    use_id: str

    def apply(self, project: Project) -> Project:
        book = project.book
        return _with(
            project,
            profiles=tuple(p for p in book.profiles if p.id != own_profile_id(self.use_id)),
            use_profiles=tuple(u for u in book.use_profiles if u.use_id != self.use_id),
        )


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
        made = OwnMaterial(
            id=new_id,
            name=name,
            conductivity_w_mk=self.conductivity_w_mk,
            density_kg_m3=self.density_kg_m3,
            specific_heat_j_kgk=self.specific_heat_j_kgk,
        )
        return _with(project, materials=(*project.book.materials, made))
