"""Edits of build-ups, glazings, shades and fabric sets."""

from typing import ClassVar

from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.glazing import window_u_value
from garnetfin.core.tables import air_gap_resistance, glass_types, materials
from garnetfin.project.fabric import SET_KINDS, BuildUp, BuildUpLayer, FabricSet, Glazing, Shade
from garnetfin.project.lookup import find, fresh_ids, position, with_part
from garnetfin.project.spaces import NO_ROOM, Slab, Wall
from garnetfin.project.tree import Project
from garnetfin.project.values import Value

LAYER_FIELDS = ("thickness_m", "conductivity_w_mk", "density_kg_m3", "specific_heat_j_kgk", "resistance_m2k_w")
THINNEST_M, THICKEST_M = 0.0002, 1.5  # beyond these a thickness is likely in another unit
GLASS_FIELDS = ("u_w_m2k", "g", "tau_e", "rho_e", "frame_share", "frame_u_w_m2k")
SHADE_FIELDS = ("tau", "rho", "limit_w_m2", "from_h", "to_h")
STANDARD_WINDOW = (1.23, 1.48)  # m, of EN 14351-1, for the U-value of a window from its glass
FRAME_U, FRAME_SHARE, EDGE_W_MK = 1.4, 0.25, 0.06


def plausible_thickness(thickness_m: float, what: str) -> None:
    """Refuse a thickness that looks like another unit, and say which."""
    if 0 < thickness_m < THINNEST_M:
        raise InputError(
            f"{thickness_m * 1000:g} mm is next to nothing",
            where=what,
            remedy=f"If metres were meant, type {thickness_m * 1e6:g} mm",
        )
    if thickness_m > THICKEST_M:
        raise InputError(
            f"{thickness_m:g} m is thicker than any wall",
            where=what,
            remedy=f"If {thickness_m:g} mm were meant, type {thickness_m:g} mm with its unit",
        )


def _layers(project: Project, build_up_id: str, layers: tuple[BuildUpLayer, ...]) -> Project:
    old = project.build_ups[position(project.build_ups, build_up_id)]
    return with_part(project, "build_ups", structs.replace(old, layers=layers))


def _old(project: Project, build_up_id: str, index: int) -> tuple[BuildUpLayer, ...]:
    layers = project.build_ups[position(project.build_ups, build_up_id)].layers
    if not 0 <= index < len(layers):
        raise InputError("That layer is no longer there", remedy="Choose it again")
    return layers


def _density(project: Project, layer: BuildUpLayer) -> float:
    known = find(project.book.materials, layer.material) or materials().get(layer.material)
    return layer.density_kg_m3 or (known.density_kg_m3 if known else 0.0)


class SetLayer(Struct, frozen=True):
    """One figure of a layer; conductivity 0 gives the library's back."""

    label: ClassVar[str] = "Layer"
    build_up_id: str
    index: int
    field: str
    value: float

    def apply(self, project: Project) -> Project:
        layers = _old(project, self.build_up_id, self.index)
        if self.field not in LAYER_FIELDS:
            raise InputError(f"A layer has no figure “{self.field}”")
        if self.field == "thickness_m":
            plausible_thickness(self.value, "layer")
        if self.field == "conductivity_w_mk" and self.value > 5 and _density(project, layers[self.index]) < 2000:
            raise InputError(
                f"{self.value:g} W/mK is a metal's conductivity",
                where="layer",
                remedy=f"If {self.value:g} mW/mK were meant, type {self.value / 1000:g}",
            )
        new = structs.replace(layers[self.index], **{self.field: self.value})
        return _layers(project, self.build_up_id, (*layers[: self.index], new, *layers[self.index + 1 :]))


class SetLayerMaterial(Struct, frozen=True):
    label: ClassVar[str] = "Material of a layer"
    build_up_id: str
    index: int
    material: str

    def apply(self, project: Project) -> Project:
        layers = _old(project, self.build_up_id, self.index)
        if find(project.book.materials, self.material) is None and self.material not in materials():
            raise InputError(f"“{self.material}” is not in the library", remedy="Choose a material that is, or add it")
        old = layers[self.index]
        new = BuildUpLayer(material=self.material, thickness_m=old.thickness_m or 0.1)
        return _layers(project, self.build_up_id, (*layers[: self.index], new, *layers[self.index + 1 :]))


class AddLayer(Struct, frozen=True):
    """A layer before `index` (inside is 0): of a material, or with "" an air gap."""

    label: ClassVar[str] = "New layer"
    build_up_id: str
    index: int
    material: str
    thickness_m: float = 0.1
    ventilated: bool = False

    def apply(self, project: Project) -> Project:
        layers = project.build_ups[position(project.build_ups, self.build_up_id)].layers
        if self.material:
            if find(project.book.materials, self.material) is None and self.material not in materials():
                raise InputError(
                    f"“{self.material}” is not in the library", remedy="Choose a material that is, or add it"
                )
            plausible_thickness(self.thickness_m, "new layer")
            new = BuildUpLayer(material=self.material, thickness_m=self.thickness_m)
        else:
            name = "ventilated gap" if self.ventilated else "air gap"
            new = BuildUpLayer(
                thickness_m=self.thickness_m,
                resistance_m2k_w=max(air_gap_resistance(self.thickness_m), 1e-4),
                name=name,
                ventilated=self.ventilated,
            )
        at = max(0, min(len(layers), self.index))
        return _layers(project, self.build_up_id, (*layers[:at], new, *layers[at:]))


class MoveLayer(Struct, frozen=True):
    label: ClassVar[str] = "Order of layers"
    build_up_id: str
    index: int
    to: int

    def apply(self, project: Project) -> Project:
        layers = list(_old(project, self.build_up_id, self.index))
        if self.to == self.index:
            return project
        moved = layers.pop(self.index)
        layers.insert(max(0, min(len(layers), self.to)), moved)
        return _layers(project, self.build_up_id, tuple(layers))


class RemoveLayer(Struct, frozen=True):
    label: ClassVar[str] = "Remove layer"
    build_up_id: str
    index: int

    def apply(self, project: Project) -> Project:
        layers = _old(project, self.build_up_id, self.index)
        if len(layers) == 1:
            raise InputError("A build-up keeps at least one layer", remedy="Put another one in first")
        return _layers(project, self.build_up_id, (*layers[: self.index], *layers[self.index + 1 :]))


class AddBuildUp(Struct, frozen=True):
    """A copy of a build-up under a new name."""

    label: ClassVar[str] = "New build-up"
    like: str

    def apply(self, project: Project) -> Project:
        old = project.build_ups[position(project.build_ups, self.like)]
        new_id = fresh_ids(project.build_ups, "B", 1)[0]
        return structs.replace(
            project, build_ups=(*project.build_ups, structs.replace(old, id=new_id, name=f"{new_id} like {old.name}"))
        )


class SetBuildUp(Struct, frozen=True):
    """Name of a build-up, what its outside takes up of the sun, and what its inside does (by rule or pinned)."""

    label: ClassVar[str] = "Build-up"
    build_up_id: str
    field: str
    value: Value | float | str

    def apply(self, project: Project) -> Project:
        old: BuildUp = project.build_ups[position(project.build_ups, self.build_up_id)]
        if self.field not in ("name", "absorptance", "inside_absorptance"):
            raise InputError(f"A build-up has no figure “{self.field}”")
        value = str(self.value).strip() if self.field == "name" else self.value
        if self.field == "name" and not value:
            raise InputError("A build-up needs a name")
        return with_part(project, "build_ups", structs.replace(old, **{self.field: value}))


class SetGlazingValue(Struct, frozen=True):
    label: ClassVar[str] = "Glazing"
    glazing_id: str
    field: str
    value: float | str

    def apply(self, project: Project) -> Project:
        old: Glazing = project.glazings[position(project.glazings, self.glazing_id)]
        if self.field == "name":
            return with_part(project, "glazings", structs.replace(old, name=str(self.value).strip() or old.name))
        if self.field not in GLASS_FIELDS:
            raise InputError(f"A glazing has no figure “{self.field}”")
        changes = {self.field: self.value}
        if self.field == "g" and old.tau_e > self.value:
            changes["tau_e"] = self.value
        return with_part(project, "glazings", structs.replace(old, **changes))


class AddGlazing(Struct, frozen=True):
    """A window type from the library's glass in a usual frame, its U-value that of the standard window (ISO
    10077-1).
    """

    label: ClassVar[str] = "New glazing"
    glass_id: str

    def apply(self, project: Project) -> Project:
        glass = glass_types().get(self.glass_id)
        if glass is None:
            raise InputError(
                f"“{self.glass_id}” is not in the library", remedy="Choose one of: " + ", ".join(glass_types())
            )
        w, h = STANDARD_WINDOW
        u = window_u_value(glass.u_w_m2k, FRAME_U, FRAME_SHARE, EDGE_W_MK, 2 * (w + h) * 0.8, w * h)
        made = Glazing(
            id=fresh_ids(project.glazings, "G", 1)[0],
            name=glass.name,
            u_w_m2k=round(u, 2),
            g=glass.g,
            tau_e=glass.tau_e,
            panes=glass.panes,
            angle_class=glass.angle_class,
            diffuse_ratio=glass.diffuse_ratio,
            frame_share=FRAME_SHARE,
            source=glass.source,
            rho_e=min(glass.rho_e, 1 - glass.tau_e),
            frame_u_w_m2k=FRAME_U,
        )
        return structs.replace(project, glazings=(*project.glazings, made))


SHADES = {
    "": None,
    "inside": Shade(name="inside blind", outside=False, tau=0.10, rho=0.60),
    "outside": Shade(name="outside blind", outside=True, tau=0.05, rho=0.55),
}


class SetShade(Struct, frozen=True):
    """The shade of a glazing: none, an inside or an outside one; or a figure or the rule of the one that is there."""

    label: ClassVar[str] = "Shade"
    glazing_id: str
    field: str
    value: float | str

    def apply(self, project: Project) -> Project:
        old: Glazing = project.glazings[position(project.glazings, self.glazing_id)]
        if self.field == "kind":
            if self.value not in SHADES:
                raise InputError(f"There is no shade “{self.value}”")
            kept = old.shade is not None and ("outside" if old.shade.outside else "inside") == self.value
            return project if kept else with_part(project, "glazings", structs.replace(old, shade=SHADES[self.value]))
        if old.shade is None:
            raise InputError("This glazing has no shade", remedy="Choose an inside or outside one first")
        value = self.value
        if self.field in ("from_h", "to_h"):
            value = round(float(value))
        elif self.field not in (*SHADE_FIELDS, "rule"):
            raise InputError(f"A shade has no figure “{self.field}”")
        if self.field == "rule" and value not in ("sun", "always", "never", "hours"):
            raise InputError(f"There is no rule “{value}”", remedy="sun, always, never or hours")
        return with_part(
            project, "glazings", structs.replace(old, shade=structs.replace(old.shade, **{self.field: value}))
        )


# -- fabric sets --------------------------------------------------------------------------------------------------
def kind_of_wall(project: Project, wall: Wall) -> str:
    """What a fabric set calls a wall."""
    if wall.outside:
        return "wall"
    ids = [i for i in (wall.room_a, wall.room_b) if i not in NO_ROOM]
    served = {bool(room.system_id) for room in (find(project.rooms, i) for i in ids) if room is not None}
    return "to_unheated" if len(served) > 1 else "partition"


class AddFabricSet(Struct, frozen=True):
    """A set of what the building mostly has today."""

    label: ClassVar[str] = "New fabric set"

    def apply(self, project: Project) -> Project:
        counted: dict[str, dict[str, float]] = {}
        for wall in project.walls:
            of = counted.setdefault(kind_of_wall(project, wall), {})
            of[wall.build_up_id] = of.get(wall.build_up_id, 0.0) + wall.length_m * wall.height_m
            for o in wall.openings:
                if o.glazing_id:
                    panes = counted.setdefault("glazing", {})
                    panes[o.glazing_id] = panes.get(o.glazing_id, 0.0) + o.area_m2
        for slab in project.slabs:
            of = counted.setdefault(slab.kind, {})
            of[slab.build_up_id] = of.get(slab.build_up_id, 0.0) + slab.area_m2
        most = {kind: max(of, key=of.get) for kind, of in counted.items()}
        new_id = fresh_ids(project.fabric_sets, "S", 1)[0]
        made = FabricSet(id=new_id, name=f"Set {new_id[1:]}", **{k: most.get(k, "") for k in (*SET_KINDS, "glazing")})
        return structs.replace(project, fabric_sets=(*project.fabric_sets, made))


class SetFabricSet(Struct, frozen=True):
    """Which build-up or glazing a set gives to one kind of face; "" leaves that kind alone.

    Faces follow when it is applied.
    """

    label: ClassVar[str] = "Fabric set"
    set_id: str
    field: str
    value: str

    def apply(self, project: Project) -> Project:
        old = project.fabric_sets[position(project.fabric_sets, self.set_id)]
        if self.field not in (*SET_KINDS, "glazing", "name"):
            raise InputError(f"A fabric set has no kind “{self.field}”")
        known = project.glazings if self.field == "glazing" else project.build_ups
        if self.field != "name" and self.value and find(known, self.value) is None:
            raise InputError(f"“{self.value}” is no longer in the project")
        return with_part(project, "fabric_sets", structs.replace(old, **{self.field: self.value.strip()}))


class ApplyFabricSet(Struct, frozen=True):
    """Build-ups and glazing of a set onto the faces of a building, level or zone; faces chosen by hand stay."""

    label: ClassVar[str] = "Apply fabric set"
    set_id: str
    where: str = "all"  # all, "level " and an id, "zone " and an id

    def apply(self, project: Project) -> Project:
        chosen = project.fabric_sets[position(project.fabric_sets, self.set_id)]
        kind, _, part = self.where.partition(" ")
        if kind not in ("all", "level", "zone"):
            raise InputError(f"A fabric set cannot be applied to “{self.where}”", remedy="all, a level or a zone")
        rooms = {r.id for r in project.rooms if kind == "all" or part == (r.level_id if kind == "level" else r.zone_id)}

        def panes(wall: Wall) -> Wall:
            if not chosen.glazing:
                return wall
            openings = tuple(
                structs.replace(o, glazing_id=chosen.glazing)
                if o.glazing_id and not o.own_glazing and o.glazing_id != chosen.glazing
                else o
                for o in wall.openings
            )
            return wall if openings == wall.openings else structs.replace(wall, openings=openings)

        def walled(wall: Wall) -> Wall:
            if not rooms & {wall.room_a, wall.room_b}:
                return wall
            new = getattr(chosen, kind_of_wall(project, wall))
            if new and not wall.own_fabric and new != wall.build_up_id:
                wall = structs.replace(wall, build_up_id=new)
            return panes(wall)

        def slabbed(slab: Slab) -> Slab:
            new = getattr(chosen, slab.kind)
            if not rooms & {slab.room_below, slab.room_above} or slab.own_fabric or not new or new == slab.build_up_id:
                return slab
            return structs.replace(slab, build_up_id=new)

        walls, slabs = tuple(map(walled, project.walls)), tuple(map(slabbed, project.slabs))
        if all(a is b for a, b in zip(walls, project.walls)) and all(a is b for a, b in zip(slabs, project.slabs)):
            return project
        return structs.replace(project, walls=walls, slabs=slabs)


class RemoveFabricSet(Struct, frozen=True):
    label: ClassVar[str] = "Remove fabric set"
    set_id: str

    def apply(self, project: Project) -> Project:
        position(project.fabric_sets, self.set_id)
        return structs.replace(project, fabric_sets=tuple(s for s in project.fabric_sets if s.id != self.set_id))


class ClearUnused(Struct, frozen=True):
    """Build-ups, glazings, own materials and profiles that nothing uses, taken out in one step."""

    label: ClassVar[str] = "Remove unused"

    def apply(self, project: Project) -> Project:
        sets = project.fabric_sets
        built = (
            {w.build_up_id for w in project.walls}
            | {s.build_up_id for s in project.slabs}
            | {getattr(s, k) for s in sets for k in SET_KINDS}
        )
        glazed = {o.glazing_id for w in project.walls for o in w.openings} | {s.glazing for s in sets}
        build_ups = tuple(b for b in project.build_ups if b.id in built)
        glazings = tuple(g for g in project.glazings if g.id in glazed)
        made_of = {layer.material for b in build_ups for layer in b.layers}
        own = tuple(m for m in project.book.materials if m.id in made_of)
        followed = {u.profile_id for u in project.book.use_profiles} | {r.profile_id for r in project.rooms}
        profiles = tuple(p for p in project.book.profiles if p.id in followed)
        # A new job starts with build-ups that no wall has yet; without any, nothing could be drawn.
        build_ups, glazings = build_ups or project.build_ups[:1], glazings or project.glazings[:1]
        book = structs.replace(project.book, materials=own, profiles=profiles)
        if (len(build_ups), len(glazings)) == (len(project.build_ups), len(project.glazings)) and book == project.book:
            return project
        return structs.replace(project, build_ups=build_ups, glazings=glazings, book=book)
