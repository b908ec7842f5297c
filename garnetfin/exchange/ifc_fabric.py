"""What IFC elements are made of: layer sets as build-ups, window properties as glazing; what is missing is assumed and
said.
"""

import re
from collections import Counter
from collections.abc import Callable

import numpy as np
from msgspec import structs

from garnetfin.core.errors import GarnetfinError
from garnetfin.core.tables import materials
from garnetfin.project.fabric import BuildUp, BuildUpLayer, Glazing
from garnetfin.project.new import usual_build_ups

FILMS_M2K_W = 0.17
# Words of material names -> library material, for materials that bring no figures of their own.
WORDS = (
    ("plasterboard|gypsum|plaster", "plasterboard_700"),
    ("insulation|wool|eps|xps|foam", "mineral_wool"),
    ("concrete|reinforced", "concrete_2200"),
    ("screed", "screed"),
    ("render|stucco", "render_cement"),
)


def psets_of(element) -> dict:
    """All properties of an element by name."""
    import ifcopenshell.util.element

    try:
        return {k: v for part in ifcopenshell.util.element.get_psets(element).values() for k, v in part.items()}
    except Exception:  # property sets that refer to nothing
        return {}


def number(value: object) -> float | None:
    """A finite figure, or None."""
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        return None
    return float(value) if np.isfinite(value) else None


class Fabric:
    """Gathers the build-ups and glazings of a model by what elements ask for."""

    def __init__(self, model, name: str, metre: float, note: Callable[..., None]) -> None:
        self.model, self.name, self.metre, self.note = model, name, metre, note
        self.glazings: dict[tuple, Glazing] = {}
        self.build_ups: dict[str, BuildUp] = {}
        self.old_figures = _old_materials(model)

    def glazing(self, psets: dict) -> Glazing:
        u, g = number(psets.get("ThermalTransmittance")), number(psets.get("SolarHeatGainTransmittance"))
        tau = number(psets.get("SolarTransmittance"))
        key = (u, g, tau)
        if key not in self.glazings:
            if u is None or g is None:
                self.note(
                    "assumed",
                    "a window without figures: "
                    + " and ".join(w for w, v in (("U 1.3 W/m²K", u), ("g 0.50", g)) if v is None),
                )
            u = u if u is not None and 0.05 <= u <= 7 else 1.3
            g = g if g is not None and 0 <= g <= 1 else 0.5
            tau = tau if tau is not None and 0 <= tau <= g else 0.86 * g
            self.glazings[key] = Glazing(
                id=f"glazing {len(self.glazings) + 1}",
                name=f"window U {u:.2f} g {g:.2f}",
                u_w_m2k=u,
                g=g,
                tau_e=tau,
                source=self.name,
            )
        return self.glazings[key]

    def walls(self) -> tuple[str, str]:
        """The commonest build-ups of outside and inside walls."""
        outer, inner = Counter(), Counter()
        for wall in self.model.by_type("IfcWall"):
            layers = self._layer_set(wall)
            if layers is not None:
                outside = bool(psets_of(wall).get("IsExternal"))
                (outer if outside else inner)[self.build_up(wall, outside)] += 1
        first = tuple(c.most_common(1)[0][0] if c else "" for c in (outer, inner))
        if len(outer) > 1:
            self.note("assumed", f"all outside walls as the commonest of {len(outer)} kinds")
        return first

    def _layer_set(self, element):
        import ifcopenshell.util.element

        try:
            material = (
                ifcopenshell.util.element.get_material(element, should_skip_usage=True) if element is not None else None
            )
        except Exception:  # an association that refers to nothing
            return None
        return (
            material
            if material is not None and material.is_a("IfcMaterialLayerSet") and material.MaterialLayers
            else None
        )

    def build_up(self, element, outside: bool) -> str:
        """Id of the build-up of an element: its layers, else its U-value, else the usual one of its kind."""
        layers = self._layer_set(element)
        if layers is not None:
            own = f"layers {layers.id()}"
            if own not in self.build_ups:
                try:
                    self.build_ups[own] = BuildUp(
                        id=own,
                        name=str(layers.LayerSetName or getattr(element, "Name", None) or own)[:80],
                        layers=tuple(self._layer(x) for x in layers.MaterialLayers[:40]),
                    )
                except GarnetfinError as error:
                    self.note("left out", f"layers of {element.Name or own}: {error.what}")
                    return self._usual(element, outside)
            return own
        u = number(psets_of(element).get("ThermalTransmittance")) if element is not None else None
        if u and 0.05 <= u <= 5:
            own = f"U {u:g}"
            self.build_ups.setdefault(
                own,
                BuildUp(
                    id=own,
                    name=f"U-value {u:g}",
                    layers=(BuildUpLayer(resistance_m2k_w=max(1 / u - FILMS_M2K_W, 1e-3), name="by U-value"),),
                ),
            )
            return own
        return self._usual(element, outside)

    def _usual(self, element, outside: bool) -> str:
        kind = element.is_a() if element is not None else ""
        usual = (
            "R1"
            if kind == "IfcRoof"
            else ("F1" if outside else "F2")
            if kind == "IfcSlab"
            else "W1"
            if outside
            else "P1"
        )
        own = f"usual {usual}"
        if own not in self.build_ups:
            self.note("assumed", f"elements without layers: {next(b.name for b in usual_build_ups() if b.id == usual)}")
            self.build_ups[own] = structs.replace(next(b for b in usual_build_ups() if b.id == usual), id=own)
        return own

    def _layer(self, layer) -> BuildUpLayer:
        thickness = float(layer.LayerThickness or 0.0) * self.metre
        name = str(layer.Material.Name if layer.Material is not None else "layer")[:60]
        figures = psets_of(layer.Material) if layer.Material is not None else {}
        figures |= self.old_figures.get(layer.Material.id(), {}) if layer.Material is not None else {}
        k, density, heat = (
            number(figures.get(x)) for x in ("ThermalConductivity", "MassDensity", "SpecificHeatCapacity")
        )
        if k and density and heat and thickness > 0:
            return BuildUpLayer(
                name=name, thickness_m=thickness, conductivity_w_mk=k, density_kg_m3=density, specific_heat_j_kgk=heat
            )
        if re.search("air|cavity", name, re.I) or thickness <= 1e-5:
            return BuildUpLayer(name=name, resistance_m2k_w=0.18)
        known = next((m for words, m in WORDS if re.search(words, name, re.I) and m in materials()), "")
        known = known or next(
            (m.id for m in materials().values() if m.name.lower().split(",")[0] in name.lower()), "block_light"
        )
        self.note("assumed", f"material {name} without figures: {materials()[known].name}")
        return BuildUpLayer(material=known, thickness_m=thickness, name=name, conductivity_w_mk=k or 0.0)


def _old_materials(model) -> dict[int, dict[str, object]]:
    """Figures of materials as IFC2X3 keeps them, by the number of the material: in entities of their own."""
    found: dict[int, dict[str, object]] = {}
    if str(model.schema) != "IFC2X3":
        return found
    for held in model.by_type("IfcMaterialProperties"):
        own = found.setdefault(held.Material.id(), {})
        for name in ("ThermalConductivity", "SpecificHeatCapacity", "MassDensity"):
            if getattr(held, name, None) is not None:
                own[name] = getattr(held, name)
        for extra in getattr(held, "ExtendedProperties", None) or ():
            if extra.is_a("IfcPropertySingleValue") and extra.NominalValue is not None:
                own.setdefault(extra.Name, extra.NominalValue.wrappedValue)
    return found
