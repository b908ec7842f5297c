"""Edits of parts that stand in ducts: put in, moved along, fixed, taken out."""

from collections.abc import Callable
from typing import ClassVar

from msgspec import Struct, structs

from garnetfin.core.equipment.catalogue import shipped
from garnetfin.core.errors import InputError
from garnetfin.core.texts import shortened
from garnetfin.project.ducts import Segment
from garnetfin.project.edits.duct_values import changed
from garnetfin.project.inline import KINDS, Inline, inline_part, inline_places
from garnetfin.project.lookup import position
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule, Value

VALUES = ("angle_deg", "k", "rated_pa", "rated_m3s", "length_m")
CHOICES = ("model", "tag", "fire_min", "smoke", "kind")


class PutInline(Struct, frozen=True):
    """A part of a kind at a place (share of the length from its first end) in each of these ducts."""

    label: ClassVar[str] = "Part in a duct"
    segment_ids: tuple[str, ...]
    kind: str
    at: float = 0.5
    fire_min: int = 0
    smoke: bool = False

    def apply(self, project: Project) -> Project:
        if self.kind not in KINDS:
            raise InputError(
                f"No part of a duct is a “{self.kind}”",
                where="part in a duct",
                remedy="Take one of: " + ", ".join(KINDS),
            )
        taken = set(inline_places(project.segments))
        free = (i for i in (f"i{n}" for n in range(1, len(taken) + len(self.segment_ids) + 2)) if i not in taken)

        def with_one(s: Segment) -> Segment:
            part = Inline(
                id=next(free),
                kind=self.kind,  # type: ignore[arg-type]
                at=self.at,
                fire_min=self.fire_min,
                smoke=self.smoke,
            )
            return structs.replace(s, inline=(*s.inline, part))

        return changed(project, tuple(dict.fromkeys(self.segment_ids)), with_one)


class FirePlace(Struct, frozen=True):
    """Where a duct crosses what resists fire: the damper there, "" where a new one is put; minutes and smoke asked."""

    segment_id: str
    at: float
    fire_min: int
    smoke: bool = False
    part_id: str = ""


class PutFireDampers(Struct, frozen=True):
    """A fire damper at each of these crossings; one that is there already gets the minutes and smoke that are asked."""

    label: ClassVar[str] = "Fire dampers"
    places: tuple[FirePlace, ...]

    def apply(self, project: Project) -> Project:
        for p in self.places:
            if p.part_id:
                project = SetInlineChoice((p.part_id,), "fire_min", p.fire_min).apply(project)
                project = SetInlineChoice((p.part_id,), "smoke", p.smoke).apply(project)
                project = SetInlineChoice((p.part_id,), "model", "").apply(project)
            else:
                project = PutInline((p.segment_id,), "fire damper", p.at, p.fire_min, p.smoke).apply(project)
        return project


class SetInline(Struct, frozen=True):
    """A figure of parts in ducts; by rule the catalogue and the duct decide."""

    label: ClassVar[str] = "Part in a duct"
    part_ids: tuple[str, ...]
    field: str
    value: Value

    def apply(self, project: Project) -> Project:
        if self.field not in VALUES:
            raise InputError(f"A part in a duct has no value “{self.field}”")
        # its loss is typed one way: what is typed last frees the other
        other = {"k": "rated_pa", "rated_pa": "k"}.get(self.field)
        also = {other: Rule()} if other and not isinstance(self.value, Rule) else {}
        return _each(project, self.part_ids, lambda p: structs.replace(p, **{self.field: self.value}, **also))


class SetInlineChoice(Struct, frozen=True):
    """Model ("" by rule), tag, kind, minutes of fire resistance or smoke release of parts in ducts."""

    label: ClassVar[str] = "Part in a duct"
    part_ids: tuple[str, ...]
    field: str
    choice: str | int | bool

    def apply(self, project: Project) -> Project:
        if self.field not in CHOICES:
            raise InputError(f"A part in a duct has no choice “{self.field}”")
        choice = self.choice.strip() if isinstance(self.choice, str) else self.choice
        if self.field == "model" and choice:
            known = {m.model for m in shipped("inline")}
            known |= {r.id.partition(":")[2] for r in project.book.equipment if r.sheet == "inline"}
            if choice not in known:
                raise InputError(
                    f"The catalogue has no “{shortened(str(choice))}”",
                    where="part in a duct",
                    remedy="Choose from the list, or take the office’s catalogue in first",
                )
        also = {"model": ""} if self.field == "kind" else {}
        return _each(project, self.part_ids, lambda p: structs.replace(p, **{self.field: choice}, **also))


class MoveInline(Struct, frozen=True):
    """A part along its duct, to a share of the length from its first end; or into another duct."""

    label: ClassVar[str] = "Move a part"
    part_id: str
    at: float
    segment_id: str = ""  # "" = where it is

    def apply(self, project: Project) -> Project:
        found = inline_part(project, self.part_id)
        if found is None:
            raise InputError(f"“{self.part_id}” is no longer in the project", remedy="Select it again")
        segment, part = found
        moved = structs.replace(part, at=min(max(self.at, 0.0), 1.0))
        if self.segment_id in ("", segment.id):
            return _each(project, (self.part_id,), lambda _: moved)
        position(project.segments, self.segment_id)
        without = RemoveInline((self.part_id,)).apply(project)
        return changed(without, (self.segment_id,), lambda s: structs.replace(s, inline=(*s.inline, moved)))


class RemoveInline(Struct, frozen=True):
    label: ClassVar[str] = "Remove parts from ducts"
    part_ids: tuple[str, ...]

    def apply(self, project: Project) -> Project:
        gone = set(self.part_ids)
        return changed(
            project,
            _ducts_of(project, self.part_ids),
            lambda s: structs.replace(s, inline=tuple(p for p in s.inline if p.id not in gone)),
        )


def _ducts_of(project: Project, part_ids: tuple[str, ...]) -> tuple[str, ...]:
    """Ducts in which parts stand. Raises InputError where one is gone."""
    places = inline_places(project.segments)
    lost = next((i for i in part_ids if i not in places), None)
    if lost is not None:
        raise InputError(f"“{lost}” is no longer in the project", remedy="Select it again")
    return tuple(dict.fromkeys(places[i][0] for i in part_ids))


def _each(project: Project, part_ids: tuple[str, ...], change: Callable[[Inline], Inline]) -> Project:
    wanted = set(part_ids)
    return changed(
        project,
        _ducts_of(project, part_ids),
        lambda s: structs.replace(s, inline=tuple(change(p) if p.id in wanted else p for p in s.inline)),
    )
