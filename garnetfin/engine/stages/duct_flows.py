"""What air each drawn duct carries, and what its terminals make of theirs."""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.ducts.tree import gather_flows
from garnetfin.engine.results import AirResult, BoxInDuct, TerminalPoint
from garnetfin.engine.stages.duct_layout import Layout
from garnetfin.engine.stages.duct_make import made_arrays
from garnetfin.engine.stages.terminals import terminal_flows, terminal_point
from garnetfin.project.book import Book
from garnetfin.project.ducts import Air


@dataclass(frozen=True, slots=True, eq=False)
class Carried:
    """Ducts as drawn with the air in them, before they have a size.

    terminal_m3s    by terminal id
    bare_m3s        (segments,) at design, without leaks
    leak_m3s        (segments,) that leaks out of each; below 0 into it
    flow_m3s        (segments,) at the unit's end: what terminals beyond take, and what leaks up to there
    mid_m3s         (segments,) half way along each
    points          what each reached terminal does at its flow
    end_pa          (segments,) loss of the terminal at its end, NaN where none sits
    roughness_m, compression    (segments,) of what they are made of
    box_pa          (segments,) drop of the flow box that stands in each, 0 without
    """

    at: Layout
    air: AirResult
    book: Book
    way: Air
    terminal_m3s: dict[str, float]
    bare_m3s: NDArray[np.float64]
    leak_m3s: NDArray[np.float64]
    flow_m3s: NDArray[np.float64]
    mid_m3s: NDArray[np.float64]
    points: tuple[TerminalPoint, ...]
    end_pa: NDArray[np.float64]
    roughness_m: NDArray[np.float64]
    compression: NDArray[np.float64]
    box_pa: NDArray[np.float64]

    def leaking(self, leak_m3s: NDArray[Any]) -> "Carried":
        """The same with other leaks."""
        # What leaks out of supply ducts, and into those that are sucked, the unit moves besides.
        more = leak_m3s if self.way == "supply" else -leak_m3s
        flow = self.bare_m3s + self.at.tree.beyond(more)
        return replace(self, leak_m3s=leak_m3s, flow_m3s=flow, mid_m3s=flow - more / 2)

    @property
    def point_pa(self) -> NDArray[np.float64]:
        return np.array([p.pressure_pa for p in self.points])


def carried(at: Layout, air: AirResult, book: Book, way: Air) -> Carried:
    """Flows of terminals gathered along the tree; where they follow loads, the greatest of any one hour."""
    flows = terminal_flows(at.members, air)
    node_flow = np.zeros(at.nodes)
    np.add.at(node_flow, at.at, [flows[t.id] for t in at.reached])
    flow = gather_flows(at.tree, node_flow)
    if air.block_at is not None and way == "supply":
        flow = np.minimum(flow, _running_peaks(at, flows, air))
    points = tuple(terminal_point(t, flows[t.id], book) for t in at.reached)
    end_pa = np.full(len(at.segments), np.nan)
    end_pa[at.own] = np.array([p.pressure_pa for p in points])
    return Carried(
        at,
        air,
        book,
        way,
        flows,
        flow,
        np.zeros(len(flow)),
        flow,
        flow,
        points,
        end_pa,
        *made_arrays(at.made),
        box_drops(at, air.boxes if way == "supply" else ()),
    )


def box_drops(at: Layout, boxes: tuple[BoxInDuct, ...]) -> NDArray[np.float64]:
    """Drop of the box in each duct (segments,) [Pa]: it stands where air of its rooms alone begins to flow, once on
    every branch where that parts from other air in several places.
    """
    found = np.zeros(len(at.segments))
    if not boxes:
        return found
    number = {room_id: k for k, box in enumerate(boxes, 1) for room_id in box.room_ids}
    marks = np.zeros((at.nodes, 3))
    for t, node in zip(at.reached, at.at):
        k = number.get(t.room_id, 0)
        marks[node] += (1.0, k, k * k)
    # as many terminals, their boxes' numbers and the squares of these: no spread means one box
    count, total, square = gather_flows(at.tree, marks).T
    alone = (count > 0) & (total > 0) & (count * square == total**2)
    parent = at.tree.parent
    begins = alone & ((parent < 0) | ~alone[np.maximum(parent, 0)])
    which = np.where(count > 0, total / np.maximum(count, 1), 0).round().astype(int)
    drops = np.array([0.0, *(box.drop_pa for box in boxes)])
    return np.where(begins, drops[np.where(begins, which, 0)], 0.0)


def _running_peaks(at: Layout, flows: dict[str, float], air: AirResult) -> NDArray[Any]:
    """Greatest flow of every duct at one hour [m3/s], where the rooms' flows follow their needs.

    The winter design day counts as an hour. What serves one room alone carries all that its box lets through.
    """
    row = {r.room_id: i for i, r in enumerate(air.rooms)}
    through_day = np.hstack([air.flow_hours, air.winter_m3s[:, None]])
    at_node, rooms = np.zeros((at.nodes, through_day.shape[1])), np.zeros((at.nodes, 3))
    for t, node in zip(at.reached, at.at):
        room = row.get(t.room_id)
        if room is not None and air.rooms[room].flow_m3s > 0:
            at_node[node] += flows[t.id] / air.rooms[room].flow_m3s * through_day[room]
            rooms[node] += (1.0, room, room * room)
    # As many terminals, their rooms' numbers and the squares of these: no spread means one room.
    count, number, square = gather_flows(at.tree, rooms).T
    return np.where(count * square == number**2, np.inf, gather_flows(at.tree, at_node).max(axis=1))
