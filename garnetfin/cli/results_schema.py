"""The schema of the results as JSON (JSON Schema, draft 2020-12): what `garnetfin compute --json` writes, key by key.

A test holds it against the results of several projects, so that no key comes or goes without it.
"""

from typing import Any

from garnetfin.cli.results_json import UNITS
from garnetfin.engine.equipment.schedules import COLUMNS, Column
from garnetfin.engine.results import CAUSES, HEATING_CAUSES, NEEDS

Schema = dict[str, Any]
NUMBER: Schema = {"type": "number"}
OPEN: Schema = {"type": ["number", "null"]}
WHOLE: Schema = {"type": "integer"}
WORDS: Schema = {"type": "string"}
MAYBE_WORDS: Schema = {"type": ["string", "null"]}
YES: Schema = {"type": "boolean"}
HOURS: Schema = {
    "description": "twelve design days of 24 hours",
    "type": "array",
    "minItems": 12,
    "maxItems": 12,
    "items": {"type": "array", "minItems": 24, "maxItems": 24, "items": NUMBER},
}


def _unit(key: str) -> str:
    """Unit of a key by its ending, the longest that fits."""
    fits = [ending for ending in UNITS if key.endswith(ending)]
    return UNITS[max(fits, key=len)] if fits else ""


def _thing(**parts: Schema) -> Schema:
    """An object with these keys and no others."""
    made = {}
    for key, part in parts.items():
        unit = _unit(key)
        made[key] = {**part, "description": unit} if unit and "description" not in part else part
    return {"type": "object", "properties": made, "required": list(parts), "additionalProperties": False}


def _list(part: Schema) -> Schema:
    return {"type": "array", "items": part}


def _map(part: Schema) -> Schema:
    """An object whose keys are ids or names."""
    return {"type": "object", "additionalProperties": part}


MISSING = _thing(missing=WORDS, remedy=WORDS)


def _known(part: Schema) -> Schema:
    """What was computed, or why it could not be."""
    return {"anyOf": [part, MISSING]}


def _piece(columns: tuple[Column, ...]) -> Schema:
    """A piece of equipment by the columns of its schedule."""
    cells = {c.key: OPEN if c.quantity else WORDS for c in columns}
    return _thing(id=WORDS, **cells, pinned=_list(WORDS), remark=WORDS)


def results_schema() -> Schema:
    """The schema of all results, with the units of figures as descriptions."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Results of a Garnetfin project",
        "description": "Keys carry their units; figures are unrounded but for arrays of hours.",
        **_thing(
            made_by=WORDS,
            project=WORDS,
            units_by_key_ending=_map(WORDS),
            arrays=_thing(hours=WORDS, causes=_list(WORDS), heating_causes=_list(WORDS), needs=_list(WORDS)),
            climate=_known(_climate()),
            rooms=_list({"anyOf": [_room(), _room_missing()]}),
            together=_map(_known(_block())),
            air_systems=_list(_system()),
            plant=_known(_plant()),
            equipment=_thing(**{key: _list(_piece(columns)) for key, columns in COLUMNS.items()}),
            findings=_list(
                _thing(
                    code=WORDS,
                    link=WORDS,
                    kind=WORDS,
                    object=WORDS,
                    title=WORDS,
                    reason=WORDS,
                    severity=WORDS,
                    mends=_list(WORDS),
                )
            ),
        ),
    }


def _climate() -> Schema:
    return _thing(
        pressure_pa=NUMBER,
        dry_air_density_kg_m3=NUMBER,
        winter_c=NUMBER,
        dry_bulb_c=HOURS,
        wet_bulb_c=HOURS,
        humidity_ratio_kg_kg=HOURS,
    )


HEAD: dict[str, Schema] = {"id": WORDS, "number": WORDS, "name": WORDS, "level": WORDS, "served": YES}


def _room_missing() -> Schema:
    return _thing(**HEAD, missing=WORDS, remedy=WORDS)


def _room() -> Schema:
    given = _thing(figure=NUMBER, origin=WORDS, by_rule=OPEN, source=WORDS)
    fields: tuple[str, ...] = (
        "area_m2",
        "cooling_c",
        "heating_c",
        "people",
        "lights_w_m2",
        "equipment_w_m2",
        "infiltration_1h",
    )
    fields += ("air_change_1h", "outdoor_m3s")
    return _thing(
        **HEAD,
        inputs=_thing(**dict.fromkeys(fields, given)),
        volume_m3=NUMBER,
        faces=_list(
            _thing(kind=WORDS, to=WORDS, area_m2=NUMBER, u_w_m2k=NUMBER, azimuth_deg=OPEN, tilt_deg=OPEN, name=WORDS)
        ),
        cooling_peak_w=NUMBER,
        peak_month=WHOLE,
        peak_hour=WHOLE,
        heating_w=NUMBER,
        heating_by_cause_w=_thing(**dict.fromkeys(HEATING_CAUSES, NUMBER)),
        has_plant=YES,
        stands_on_area_alone=YES,
        winter_c=NUMBER,
        heating_balanced_w=NUMBER,
        start_up_w=NUMBER,
        warm_up_w=NUMBER,
        air_c=HOURS,
        sensible_w=HOURS,
        latent_w=HOURS,
        by_cause_w=_thing(**dict.fromkeys(CAUSES, HOURS)),
        supply_m3s=OPEN,
        governs=MAYBE_WORDS,
        needs_m3s={"anyOf": [_thing(**dict.fromkeys(NEEDS, OPEN)), {"type": "null"}]},
        outdoor_wanted_m3s=OPEN,
        extract_m3s=OPEN,
        return_m3s=OPEN,
    )


def _block() -> Schema:
    return _thing(
        rooms=WHOLE,
        cooling_peak_w=NUMBER,
        peak_month=WHOLE,
        peak_hour=WHOLE,
        heating_w=NUMBER,
        sum_of_room_peaks_w=NUMBER,
        sensible_w=HOURS,
    )


def _plant() -> Schema:
    return _thing(
        cooling_w=NUMBER,
        cooling_month=WHOLE,
        cooling_hour=WHOLE,
        cooling_sum_w=NUMBER,
        heating_w=NUMBER,
        chilled_water_m3s=NUMBER,
        hot_water_m3s=NUMBER,
        plant_room_m2=NUMBER,
        air_handlers_m2=NUMBER,
        stands_on_estimates=YES,
    )


def _system() -> Schema:
    return _thing(
        id=WORDS,
        name=WORDS,
        air=_known(_air()),
        ducts=_known(_ducts()),
        duct_heat={"anyOf": [_duct_heat(), {"type": "null"}]},
        fan=_known(_fan()),
        other_fans=_map(_known(_fan())),
        real_flows=_known(_real()),
    )


def _air() -> Schema:
    return _thing(
        supply_c=NUMBER,
        flow_m3s=NUMBER,
        outdoor_m3s=NUMBER,
        outdoor_origin=WORDS,
        outdoor_source=WORDS,
        least_intake_m3s=OPEN,
        critical_room=MAYBE_WORDS,
        density_kg_m3=NUMBER,
        rooms=_list(
            _thing(
                room=WORDS,
                supply_m3s=NUMBER,
                least_m3s=NUMBER,
                transfer_in_m3s=NUMBER,
                transfer_out_m3s=NUMBER,
                outdoor_wanted_m3s=NUMBER,
                outdoor_arrives_m3s=NUMBER,
            )
        ),
        train=_known(_thing(summer=_at(), winter=_at())),
    )


def _at() -> Schema:
    return _thing(
        month={"type": ["integer", "null"]},
        hour={"type": ["integer", "null"]},
        cooling_w=NUMBER,
        heating_w=NUMBER,
        reheat_w=NUMBER,
        zone_heat_w=NUMBER,
        room_units_w=NUMBER,
        recovered_w=NUMBER,
        outdoor_kg_s=NUMBER,
        closes_within_w=NUMBER,
        states=_list(
            _thing(
                behind=WORDS,
                dry_bulb_c=NUMBER,
                humidity_ratio_kg_kg=NUMBER,
                relative_humidity_share=NUMBER,
                enthalpy_j_kg=NUMBER,
                flow_kg_s=NUMBER,
            )
        ),
        coils=_list(_thing(part=WORDS, total_w=NUMBER, sensible_w=NUMBER, condensate_kg_s=NUMBER)),
        heaters=_list(_thing(part=WORDS, heat_w=NUMBER)),
        humidifiers=_list(_thing(part=WORDS, water_kg_s=NUMBER)),
        rooms=_list(
            _thing(
                room=WORDS,
                supply_kg_s=NUMBER,
                supply_c=NUMBER,
                room_c=NUMBER,
                humidity_ratio_kg_kg=NUMBER,
                reheat_w=NUMBER,
                unit_w=NUMBER,
            )
        ),
    )


def _ducts() -> Schema:
    return _thing(
        length_m=NUMBER,
        steel_kg=NUMBER,
        flow_m3s=NUMBER,
        leak_m3s=NUMBER,
        needed_pa=NUMBER,
        index_run=_thing(terminal=WORDS, segments=_list(WORDS), loss_pa=NUMBER),
        segments=_list(
            _thing(
                id=WORDS,
                shape=WORDS,
                width_m=NUMBER,
                height_m=NUMBER,
                pinned=YES,
                flow_m3s=NUMBER,
                length_m=NUMBER,
                velocity_m_s=NUMBER,
                friction_pa_m=NUMBER,
                friction_pa=NUMBER,
                flexible_pa=NUMBER,
                fittings=_list(_thing(name=WORDS, k=NUMBER, reference=WORDS, loss_pa=NUMBER)),
                loss_pa=NUMBER,
                leak_m3s=NUMBER,
                tightness=WORDS,
                left_pa=OPEN,
                clear_height_m=OPEN,
                steel_kg=NUMBER,
            )
        ),
        terminals=_list(
            _thing(
                label=WORDS,
                room=WORDS,
                flow_m3s=NUMBER,
                model=WORDS,
                terminal_pa=NUMBER,
                run_pa=NUMBER,
                surplus_pa=NUMBER,
                damper_deg=OPEN,
            )
        ),
    )


def _duct_heat() -> Schema:
    return _thing(
        ua_w_k=NUMBER,
        surface_m2=NUMBER,
        around_c=NUMBER,
        at_unit_c=NUMBER,
        gained_w=NUMBER,
        terminals_c=_map(NUMBER),
        segments=_map(
            _thing(
                runs_in=WORDS,
                around_c=NUMBER,
                u_w_m2k=NUMBER,
                start_c=NUMBER,
                end_c=NUMBER,
                gained_w=NUMBER,
                outside_c=NUMBER,
                dew_c=NUMBER,
            )
        ),
    )


def _fan() -> Schema:
    """A fan with its operating point, or with why there is none though its duty is known."""
    duty: dict[str, Schema] = dict(
        wanted_m3s=NUMBER, wanted_pa=NUMBER, duct_pa=NUMBER, parts=_list(_thing(name=WORDS, loss_pa=NUMBER))
    )
    at = _thing(
        flow_m3s=NUMBER,
        total_pa=NUMBER,
        shaft_w=NUMBER,
        electric_w=NUMBER,
        efficiency_share=NUMBER,
        from_stall_share=NUMBER,
        specific_w_per_m3s=NUMBER,
    )
    return {
        "anyOf": [
            _thing(**duty, fan=WORDS, speed_rpm=NUMBER, operating_point=at),
            _thing(**duty, missing=WORDS, remedy=WORDS),
        ]
    }


def _real() -> Schema:
    return _thing(
        converged=YES,
        residual_pa=NUMBER,
        residual_m3s=NUMBER,
        fan_m3s=NUMBER,
        fan_pa=NUMBER,
        rooms=_list(
            _thing(
                room=WORDS,
                design_m3s=NUMBER,
                real_m3s=NUMBER,
                short_of=_list(WORDS),
                cooling_lacks_w=NUMBER,
                warmer_k=NUMBER,
                noise_nc=OPEN,
            )
        ),
    )
