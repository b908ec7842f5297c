"""Where flow boxes stand: the ducts on which the air of their rooms alone begins to flow."""

from collections.abc import Mapping

from garnetfin.engine.equipment.records import BoxRecord
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.results import BOX_LOSS, DuctResult


def box_places(ducts: DuctResult, boxes: Mapping[str, BoxRecord], memo: Memo) -> Mapping[str, tuple[str, ...]]:
    """Ducts of each box by its id, several where no one duct carries its air; none of a box before ducts are drawn."""
    row = key(ducts, *((b.id, b.room_ids) for b in boxes.values()))
    found: Mapping[str, tuple[str, ...]] = memo.one("box places", row, lambda: _compute(ducts, boxes))
    return found


def _compute(ducts: DuctResult, boxes: Mapping[str, BoxRecord]) -> dict[str, tuple[str, ...]]:
    number = {segment_id: i for i, segment_id in enumerate(ducts.segment_ids)}
    bears = [any(f.reference == BOX_LOSS for f in ducts.segments[i].fittings) for i in ducts.segment_ids]
    of_room = {room_id: b.id for b in boxes.values() for room_id in b.room_ids}
    found: dict[str, dict[str, None]] = {}
    for terminal in ducts.terminals:
        at = number[terminal.segment_id]
        while at >= 0 and not bears[at]:
            at = int(ducts.tree.parent[at])
        box_id = of_room.get(terminal.room_id)
        if at >= 0 and box_id is not None:
            found.setdefault(box_id, {})[ducts.segment_ids[at]] = None
    return {box_id: tuple(at) for box_id, at in found.items()}
