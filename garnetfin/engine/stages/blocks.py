"""Rooms taken together: what a system, a zone or the building asks for at their common hours."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from garnetfin.core.loads.heating import HEATING_CAUSES
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.results import Block, Missing, Results, RoomResult, peak_of
from garnetfin.project.tree import Project

# rooms whose sums are kept together: an edit of one room adds up its share and the shares
SHARE = 32


class Sums(NamedTuple):
    """Sums over rooms:

    (causes, 12, 24) and (12, 24) [W], heating by cause [W]; hours (12, 24) that count in any of them.
    """

    by_cause_w: np.ndarray
    sensible_w: np.ndarray
    latent_w: np.ndarray
    instant_w: np.ndarray
    heating_by_cause_w: np.ndarray
    heating_w: float
    peaks_w: float
    low_w: float
    high_w: float
    area_m2: float
    counted: np.ndarray


def _sums(known: Sequence[RoomResult]) -> Sums:
    rows = []
    for r in known:
        area = r.figures.area_m2.figure
        low, high = (
            (r.peak_w, r.peak_w) if r.estimate is None else (r.estimate.low_w_m2 * area, r.estimate.high_w_m2 * area)
        )
        rows.append(
            Sums(
                r.by_cause_w,
                r.sensible_w,
                r.latent_w,
                r.instant_w,
                r.heating_by_cause_w,
                r.heating_w,
                r.peak_w,
                low,
                high,
                area,
                r.counted,
            )
        )
    return _added(rows)


def _added(rows: Sequence[Sums]) -> Sums:
    *figures, counted = zip(*rows)
    return Sums(*(sum(column) for column in figures), np.any(counted, axis=0))


def _block(room_ids: tuple[str, ...], s: Sums) -> Block:
    """Heat between rooms of the block is no load of it."""
    heating, inside = s.heating_by_cause_w.copy(), 0.0
    if len(room_ids) > 1:
        beside = HEATING_CAUSES.index("adjacent rooms")
        inside, heating[beside] = float(heating[beside]), 0.0
    share = float(s.sensible_w[peak_of(s.sensible_w, s.counted)]) / s.peaks_w if s.peaks_w > 0 else 1.0
    return Block(
        room_ids,
        s.by_cause_w,
        s.sensible_w,
        s.latent_w,
        s.instant_w,
        heating,
        s.heating_w - inside,
        s.peaks_w,
        s.counted,
        s.area_m2,
        s.low_w * share,
        s.high_w * share,
    )


def together(known: Sequence[RoomResult]) -> Block:
    """Rooms at their common hours; at least one."""
    return _block(tuple(r.room_id for r in known), _sums(known))


def block_of(results: Results, room_ids: Sequence[str]) -> Block | None:
    """Rooms that have loads at their common hours: as known already, where they are those of a system, a zone or the
    building. None of none.
    """
    known = [r for i in room_ids if (r := results.room(i)) is not None]
    ids = tuple(r.room_id for r in known)
    there = next((b for b in results.blocks.values() if isinstance(b, Block) and b.room_ids == ids), None)
    return there or (together(known) if known else None)


def block(project: Project, rooms: dict[str, RoomResult | Missing], system_id: str, memo: Memo) -> Block | Missing:
    """The served rooms of a system ("" = of all systems) or of "zone:" and a zone's id at their common worst hour."""
    zone_id = system_id[5:] if system_id.startswith("zone:") else ""
    members = [
        room
        for room in project.rooms
        if room.kept and (room.zone_id == zone_id if zone_id else system_id in ("", room.system_id))
    ]
    known = [rooms[m.id] for m in members if isinstance(rooms[m.id], RoomResult)]
    if not members:
        return Missing("no rooms", "Put served rooms into this zone" if zone_id else "Serve rooms by this air system")
    if not known:
        return next(rooms[m.id] for m in members)
    shares = [known[i : i + SHARE] for i in range(0, len(known), SHARE)]
    rows = [key(*share) for share in shares]
    return memo.one(
        "block",
        key(*rows),
        lambda: _block(
            tuple(r.room_id for r in known),
            _added(memo.rows("share of a block", rows, lambda stale: [_sums(shares[i]) for i in stale])),
        ),
    )
