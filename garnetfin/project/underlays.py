"""Drawings and pictures that lie under a level's plan. Their contents lie beside the project, named by content hash."""

from typing import Literal

from garnetfin.project.values import Node, within


class Underlay(Node, frozen=True):
    """Where a drawing lies: its point (u, v), in its own units, stands at origin + scale * turned (u, v) in metres.

    content     hash under which its lines (JSON) or picture (PNG) are kept
    scale       metres per unit of the drawing, or per pixel of a picture
    turn_deg    anticlockwise
    """

    id: str
    name: str
    level_id: str
    kind: Literal["lines", "picture"]
    content: str
    scale: float = 1.0
    turn_deg: float = 0.0
    x_m: float = 0.0
    y_m: float = 0.0
    visible: bool = True
    hidden_layers: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        where = f"underlay {self.name}"
        within(self.scale, 1e-6, 1e4, "Scale", where)
        within(self.turn_deg, -360, 360, "Turn", where, "°")
        within(self.x_m, -1e6, 1e6, "Place", where, "m")
        within(self.y_m, -1e6, 1e6, "Place", where, "m")
