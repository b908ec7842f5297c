"""Where things of an IFC file stand and what shape they have: placements, upright extrusions at once, all else by
its mesh.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.outlines import area_of, tidy
from garnetfin.exchange.faces import floor_outline

FAR_M = 1e5  # coordinates of maps: beyond it the building is brought to the origin
CHORD_M = 0.05  # by which the chords of a curve may stay inside it
LEAST_HOLLOW_M2 = 0.2
STRAIGHT_CURVES = 12  # corners beyond which an outline is looked at for curves


@dataclass(frozen=True, slots=True)
class Solid:
    """A room's shape: outline, level of its floor, greatest and mean clear height [m], floor without hollows [m2]."""

    outline: tuple[tuple[float, float], ...]
    floor_m: float
    high_m: float
    mean_m: float
    net_m2: float

    @property
    def hollow_m2(self) -> float:
        """Area [m2] of courtyards and shafts within the outline; 0 where there are none worth a word."""
        hollow = area_of(self.outline) - self.net_m2
        return hollow if hollow > max(LEAST_HOLLOW_M2, 0.005 * self.net_m2) else 0.0


class Shapes:
    """Placements and shapes of one file, in metres from where its building stands."""

    def __init__(self, model, metre: float) -> None:
        self.metre = metre
        self.base = np.zeros(3)
        building = next(iter(model.by_type("IfcBuilding")), None)
        if building is not None:
            self.base[2] = self.matrix(building)[2, 3]
        first = next((self.matrix(s) for s in model.by_type("IfcSpace")), None)
        if first is not None and np.abs(first[:2, 3]).max() > FAR_M:
            self.base[:2] = np.round(first[:2, 3], -3)

    def matrix(self, product) -> NDArray:
        """Placement (4, 4), translation in metres."""
        import ifcopenshell.util.placement

        try:
            m = np.array(ifcopenshell.util.placement.get_local_placement(product.ObjectPlacement), float)
        except Exception:  # missing, circular or of a kind that is not local
            return np.eye(4)
        m[:3, 3] = m[:3, 3] * self.metre - self.base
        return m

    def of(self, space) -> Solid | None:
        """The shape of a space: from an upright extrusion at once, else from its mesh; None without a usable one."""
        if space.Representation is None:
            return None
        solids = [
            i for r in space.Representation.Representations if r.RepresentationIdentifier == "Body" for i in r.Items
        ]
        if len(solids) == 1 and solids[0].is_a("IfcExtrudedAreaSolid"):
            found = self._upright(solids[0], self.matrix(space))
            if found is not None:
                return found
        points, triangles = self.mesh(space)
        if not len(points) or not np.isfinite(points).all():
            return None
        z0, z1 = float(points[:, 2].min()), float(points[:, 2].max())
        corners = points[triangles]
        normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        flat = (np.abs(normal[:, 2]) > 0.9 * np.linalg.norm(normal, axis=1)) & (corners[:, :, 2].max(axis=1) < z0 + 0.3)
        outline = floor_outline(list(corners[flat]))
        if outline is None or z1 - z0 < 0.5:
            return None
        outline = few_corners(outline)
        net = min(0.5 * float(np.abs(normal[flat][:, 2]).sum()), area_of(outline))
        # six times the volume of the pyramids from the mesh's triangles to one point
        about = corners - points[0]
        volume = abs(float(np.einsum("ij,ij->i", about[:, 0], np.cross(about[:, 1], about[:, 2])).sum())) / 6
        mean = volume / net if net > 0 else z1 - z0
        sound = 0.3 <= mean <= (z1 - z0) * 1.001
        return Solid(outline, z0, z1 - z0, mean if sound else z1 - z0, net)

    def mesh(self, product) -> tuple[NDArray, NDArray]:
        """(corners (n, 3) [m], triangles (m, 3)) of a product's body. Raises what the geometry kernel raises."""
        import ifcopenshell.geom

        settings = ifcopenshell.geom.settings()
        settings.set("use-world-coords", True)
        shape: Any = ifcopenshell.geom.create_shape(settings, product)
        points = np.array(shape.geometry.verts, float).reshape(-1, 3) - self.base
        return points, np.array(shape.geometry.faces, int).reshape(-1, 3)

    def _upright(self, solid, placed: NDArray) -> Solid | None:
        import ifcopenshell.util.placement

        points = self._profile(solid.SweptArea)
        if points is None:
            return None
        local = (
            np.eye(4)
            if solid.Position is None
            else np.array(ifcopenshell.util.placement.get_axis2placement(solid.Position), float)
        )
        local[:3, 3] *= self.metre
        whole = placed @ local
        direction = whole[:3, :3] @ np.array([*solid.ExtrudedDirection.DirectionRatios, 0.0][:3], float)
        direction /= np.linalg.norm(direction)
        if abs(direction[2]) < 0.999:
            return None
        space = (whole @ np.column_stack([points, np.zeros(len(points)), np.ones(len(points))]).T)[:3].T
        if not np.isfinite(space).all() or np.ptp(space[:, 2]) > 0.01:
            return None
        height = float(solid.Depth) * self.metre
        outline = tidy([(float(x), float(y)) for x, y in space[:, :2]])
        from shapely import Polygon

        if len(outline) < 3 or not Polygon(outline).is_valid or area_of(outline) < 0.2 or not 0.5 <= height <= 100:
            return None
        net = area_of(outline)
        for inner in getattr(solid.SweptArea, "InnerCurves", ()):
            hole = self.curve(inner)
            if hole is None:
                return None
            net -= area_of([(float(x), float(y)) for x, y in hole[:, :2]])
        floor = float(space[0, 2]) - (height if direction[2] < 0 else 0.0)
        return Solid(outline, floor, height, height, net) if net > LEAST_HOLLOW_M2 else None

    def _profile(self, profile) -> NDArray | None:
        """Corners (n, 2) [m] of a straight-edged profile."""
        if profile.is_a("IfcRectangleProfileDef") and not profile.is_a("IfcRoundedRectangleProfileDef"):
            x, y = float(profile.XDim) / 2, float(profile.YDim) / 2
            points = np.array([(-x, -y), (x, -y), (x, y), (-x, y)])
            if profile.Position is not None:
                at = np.array(profile.Position.Location.Coordinates[:2], float)
                u = (
                    np.array(profile.Position.RefDirection.DirectionRatios[:2], float)
                    if profile.Position.RefDirection
                    else np.array([1.0, 0.0])
                )
                u /= np.linalg.norm(u)
                points = at + points[:, :1] * u + points[:, 1:] * np.array([-u[1], u[0]])
            return points * self.metre
        if profile.is_a() in ("IfcArbitraryClosedProfileDef", "IfcArbitraryProfileDefWithVoids"):
            corners = self.curve(profile.OuterCurve)
            return None if corners is None else corners[:, :2]
        return None

    def curve(self, curve) -> NDArray | None:
        """Corners (n, 2 or 3) [m] of a polyline."""
        if curve.is_a("IfcPolyline"):
            points = [p.Coordinates for p in curve.Points]
        elif curve.is_a("IfcIndexedPolyCurve"):
            if any(s.is_a("IfcArcIndex") for s in curve.Segments or ()):
                return None
            points = list(curve.Points.CoordList)
        elif curve.is_a("IfcCompositeCurve"):
            parts = [self.curve(s.ParentCurve) for s in curve.Segments]
            known = [p[:-1] for p in parts if p is not None]
            return np.vstack(known) if len(known) == len(parts) else None
        else:
            return None
        corners: NDArray = np.array([tuple(p) for p in points], float) * self.metre
        if len(corners) > 1 and np.allclose(corners[0], corners[-1]):
            corners = corners[:-1]
        return corners if len(corners) >= 3 else None


def few_corners(outline: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
    """An outline whose curves are chords of few corners; one of straight walls as it is."""
    if len(outline) <= STRAIGHT_CURVES:
        return outline
    from shapely import Polygon

    fewer = Polygon(outline).simplify(CHORD_M)
    made = tidy(list(fewer.exterior.coords)) if fewer.is_valid and not fewer.is_empty else outline
    return tuple(made) if len(made) >= 3 else outline
