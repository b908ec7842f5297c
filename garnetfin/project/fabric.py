"""What walls, floors, roofs and windows are made of."""

from garnetfin.core.errors import InputError
from garnetfin.project.values import Node, within


class BuildUpLayer(Node):
    """A library material with a thickness, or (material "") a resistance alone, e.g. an air gap.

    A material of its own, e.g. from a file, has a thickness, conductivity, density and specific heat and no library name.
    """

    material: str = ""
    thickness_m: float = 0.0
    resistance_m2k_w: float = 0.0
    conductivity_w_mk: float = 0.0          # 0: the library's; else an equivalent one, e.g. with studs
    name: str = ""
    density_kg_m3: float = 0.0
    specific_heat_j_kgk: float = 0.0

    @property
    def own(self) -> bool:
        """A massive layer that names no library material."""
        return not self.material and self.density_kg_m3 > 0

    def __post_init__(self) -> None:
        where = f"layer {self.name or self.material or 'air gap'}"
        if self.material:
            within(self.thickness_m, 1e-5, 3, "Thickness", where, "m")
            within(self.resistance_m2k_w, 0, 0, "The resistance of a material layer", where, "m²K/W")
        elif self.own:
            within(self.thickness_m, 1e-5, 3, "Thickness", where, "m")
            within(self.conductivity_w_mk, 0.001, 500, "Conductivity", where, "W/mK")
            within(self.density_kg_m3, 0.5, 25000, "Density", where, "kg/m³")
            within(self.specific_heat_j_kgk, 50, 10000, "Specific heat", where, "J/kgK")
            within(self.resistance_m2k_w, 0, 0, "The resistance of a material layer", where, "m²K/W")
        else:
            within(self.thickness_m, 0, 3, "Thickness", where, "m")
            within(self.resistance_m2k_w, 1e-4, 50, "Resistance", where, "m²K/W")
        within(self.conductivity_w_mk, 0, 500, "Conductivity", where, "W/mK")
        within(self.density_kg_m3, 0, 25000, "Density", where, "kg/m³")
        within(self.specific_heat_j_kgk, 0, 10000, "Specific heat", where, "J/kgK")


class BuildUp(Node):
    """Layers from inside to outside."""

    id: str
    name: str
    layers: tuple[BuildUpLayer, ...]
    absorptance: float = 0.6
    inside_absorptance: float = 0.4

    def __post_init__(self) -> None:
        if not 1 <= len(self.layers) <= 40:
            raise InputError("A build-up needs 1 to 40 layers", where=f"build-up {self.name}")
        within(self.absorptance, 0, 1, "Solar absorptance", f"build-up {self.name}")
        within(self.inside_absorptance, 0.01, 1, "Inside absorptance", f"build-up {self.name}")


class Glazing(Node):
    """A whole window's heat loss and its glass; g and tau_e at normal incidence."""

    id: str
    name: str
    u_w_m2k: float
    g: float
    tau_e: float
    panes: int = 2
    angle_class: float = 2.5
    diffuse_ratio: float = 0.871
    frame_share: float = 0.2
    source: str = ""

    def __post_init__(self) -> None:
        where = f"glazing {self.name}"
        within(self.u_w_m2k, 0.05, 7, "U-value", where, "W/m²K")
        within(self.g, 0, 1, "Solar factor g", where)
        within(self.tau_e, 0, self.g, "Solar transmittance", where)
        within(self.panes, 1, 4, "Panes", where)
        within(self.angle_class, 1, 10, "Angle class", where)
        within(self.diffuse_ratio, 0.3, 1, "Diffuse ratio", where)
        within(self.frame_share, 0, 0.9, "Frame share", where)
