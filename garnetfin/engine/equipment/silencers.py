"""Silencers of a unit: the shortest set with which no room hears more of its fan than its limit."""

import numpy as np

from garnetfin.core import noise
from garnetfin.core.equipment import silencers as core
from garnetfin.engine.equipment.catalogues import rows as catalogue
from garnetfin.engine.equipment.records import Refused, SilencerRecord, UnitRecord
from garnetfin.engine.flows.flow_results import SOURCES, NoiseResult
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import FanResult, Missing
from garnetfin.engine.stages.noise import fan_bands
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project

FAN = SOURCES.index("fan")
FAN_SHARE_DB = 3.0  # of a room's limit, that ducts, dampers and outlets may fill beside the fan
WORDS = {
    "width": "wider than the section",
    "drop": "pressure drop above what is allowed",
    "sound": "lets more through than the rooms allow",
}


def silencer(
    project: Project,
    system: AirSystem,
    heard: NoiseResult | Missing | None,
    fan: FanResult | Missing | None,
    sheet: UnitRecord,
    memo: Memo,
) -> SilencerRecord | None:
    """The set behind the supply fan; None where the unit has none, or nothing is known of what is heard."""
    kinds = [p.kind for p in system.parts]
    behind = system.parts[kinds.index("supply_fan") + 1 :] if "supply_fan" in kinds else ()
    part = next((p for p in behind if p.kind == "attenuator"), None)
    known = isinstance(heard, NoiseResult) and isinstance(fan, FanResult) and fan.point is not None
    if part is None or not known or sheet.layout is None:
        return None
    assert isinstance(heard, NoiseResult) and isinstance(fan, FanResult)
    row = key(project.book, heard, fan, sheet, part.id)
    found: SilencerRecord | None = memo.one(
        "silencer", row, lambda: _compute(project, system.id, part.id, heard, fan, sheet)
    )
    return found


def allowed_behind(heard: NoiseResult) -> np.ndarray:
    """Sound power [dB] (8,) that may enter the ducts: what does now, and what every room still lets through."""
    assert heard.fan_bands is not None
    limits = np.array([noise.NC_TABLE[int(np.searchsorted(noise.NC, t.limit_nc))] for t in heard.terminals.values()])
    of_fan = np.array([t.by_source[FAN] for t in heard.terminals.values()])
    room: np.ndarray = (limits - FAN_SHARE_DB - of_fan).min(axis=0)
    allowed: np.ndarray = heard.fan_bands + room
    return allowed


def _compute(
    project: Project, system_id: str, part_id: str, heard: NoiseResult, fan: FanResult, sheet: UnitRecord
) -> SilencerRecord | None:
    if heard.fan_bands is None or not heard.terminals or sheet.layout is None:
        return None
    casing = sheet.layout.casing
    face = (casing.width_m, casing.height_m)
    most_pa = assumption(project.book, "silencer_pa").figure
    before, allowed = fan_bands(fan), allowed_behind(heard)
    found = core.choose(catalogue(project.book, "attenuators"), before, allowed, sheet.supply_m3s, face, most_pa)
    return SilencerRecord(
        f"{system_id}:{part_id}",
        f"{sheet.tag}-AT",
        system_id,
        part_id,
        sheet.supply_m3s,
        face,
        tuple(before.tolist()),
        tuple(allowed.tolist()),
        found.model,
        found.drop_pa,
        tuple(found.after_db.tolist()),
        tuple(found.own_db.tolist()),
        found.lacks_hz,
        found.lacks_db,
        tuple(Refused(model, WORDS[why]) for model, why in found.refused.items()),
    )
