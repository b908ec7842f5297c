"""Edits of what a duct is: held sides, limits of its own, material, lining, class, the fitting before it."""

from typing import ClassVar

from msgspec import Struct, structs

from garnetfin.core.ducts.fittings.catalogue import choices
from garnetfin.core.errors import InputError
from garnetfin.project.ducts import PLACES, FittingChoice, Segment
from garnetfin.project.lookup import position
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule, Value

VALUES = (
    "width_m",
    "height_m",
    "velocity_m_s",
    "friction_pa_m",
    "lining_m",
    "insulation_m",
    "thickness_m",
    "damper_deg",
)
CHOICES = ("material", "side", "tightness", "role", "damper", "around")


def changed(project: Project, segment_ids: tuple[str, ...], change) -> Project:
    """The project with `change(segment)` in place of each; the same project when nothing differs."""
    wanted = {i: position(project.segments, i) for i in segment_ids}
    segments = list(project.segments)
    for i in wanted.values():
        segments[i] = change(segments[i])
    return project if tuple(segments) == project.segments else structs.replace(project, segments=tuple(segments))


class SetDuctValue(Struct, frozen=True):
    """A held side, a limit or a thickness of ducts; by rule the method and the office standards decide.

    A side that is held frees a pinned size.
    """

    label: ClassVar[str] = "Duct"
    segment_ids: tuple[str, ...]
    field: str
    value: Value

    def apply(self, project: Project) -> Project:
        if self.field not in VALUES:
            raise InputError(f"A duct has no value “{self.field}”")
        also = {"size": Rule()} if self.field in ("width_m", "height_m") and not isinstance(self.value, Rule) else {}

        def change(s: Segment) -> Segment:
            both = (
                {"width_m": self.value, "height_m": self.value}
                if s.shape == "round" and self.field in ("width_m", "height_m")
                else {self.field: self.value}
            )
            return structs.replace(s, **both, **also)

        return changed(project, self.segment_ids, change)


class SetDuctChoice(Struct, frozen=True):
    """Material, flat side, class of tightness or role of ducts; "" by rule."""

    label: ClassVar[str] = "Duct"
    segment_ids: tuple[str, ...]
    field: str
    choice: str

    def apply(self, project: Project) -> Project:
        if self.field not in CHOICES:
            raise InputError(f"A duct has no choice “{self.field}”")
        return changed(project, self.segment_ids, lambda s: structs.replace(s, **{self.field: self.choice}))


class SetFitting(Struct, frozen=True):
    """The fitting at a place before ducts: its kind, a coefficient of its own, or an equivalent length; all by rule
    takes the choice away.
    """

    label: ClassVar[str] = "Fitting"
    segment_ids: tuple[str, ...]
    place: str
    fitting: str | None = None
    k: Value | None = None
    equivalent_m: Value | None = None

    def apply(self, project: Project) -> Project:
        if self.place not in PLACES:
            raise InputError(
                f"There is no place “{self.place}” for a fitting", remedy="Take one of: " + ", ".join(PLACES)
            )

        def change(s: Segment) -> Segment:
            known = dict(choices(self.place, s.shape, s.air != "supply"))
            if self.fitting and self.fitting not in known:
                raise InputError(
                    f"“{self.fitting}” is no {self.place} of a {s.shape} duct",
                    where=f"segment {s.id}",
                    remedy="Take one of: " + ", ".join(known),
                )
            old = next((f for f in s.fittings if f.place == self.place), FittingChoice(place=self.place))
            new = FittingChoice(
                place=self.place,
                fitting=old.fitting if self.fitting is None else self.fitting,
                k=old.k if self.k is None else self.k,
                equivalent_m=old.equivalent_m if self.equivalent_m is None else self.equivalent_m,
            )
            kept = tuple(f for f in s.fittings if f.place != self.place)
            return structs.replace(s, fittings=kept if new == FittingChoice(place=self.place) else (*kept, new))

        return changed(project, self.segment_ids, change)


class MoveLabel(Struct, frozen=True):
    """Put a duct's label somewhere else in plan, counted from the middle of the duct [m]; None lets it place itself."""

    label: ClassVar[str] = "Label of a duct"
    segment_id: str
    at: tuple[float, float] | None

    def apply(self, project: Project) -> Project:
        return changed(project, (self.segment_id,), lambda s: structs.replace(s, label_at=self.at))
