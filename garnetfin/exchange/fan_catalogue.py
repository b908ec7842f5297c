"""Reading a catalogue of fans: CSV, one row a measured point, as the file format describes it."""

from pathlib import Path

from garnetfin.core.errors import FileError, InputError
from garnetfin.core.fans.catalogue import HIGH_EFFICIENCY, OUTLET_BAND
from garnetfin.exchange.terminal_catalogue import figure, grouped_rows, read_text
from garnetfin.project.catalogue import MOST_FANS, MOST_POINTS, FanPoint, OwnFan

COLUMNS = (
    "fan_id",
    "type",
    "wheel_diameter_m",
    "outlet_area_m2",
    "speed_rpm",
    "min_speed_rpm",
    "max_speed_rpm",
    "density_kg_m3",
    "motor_kw",
    "flow_m3_s",
    "total_pressure_pa",
    "static_pressure_pa",
    "shaft_power_w",
    "sound_power_db",
    "region",
)
SAME = (
    "type",
    "wheel_diameter_m",
    "outlet_area_m2",
    "speed_rpm",
    "min_speed_rpm",
    "max_speed_rpm",
    "density_kg_m3",
    "motor_kw",
)


def read_fans(path: Path) -> tuple[tuple[OwnFan, ...], tuple[str, ...]]:
    """(fans, remarks on rows that look odd). Raises FileError that names the row and column and what is accepted."""
    return parse_fans(read_text(path), path.name)


def parse_fans(text: str, name: str) -> tuple[tuple[OwnFan, ...], tuple[str, ...]]:
    fans, remarks = [], []
    for rows in grouped_rows(text, name, COLUMNS, "fan_id", MOST_FANS * MOST_POINTS):
        fan, said = _fan(rows, name)
        fans.append(fan)
        remarks += said
    return tuple(fans), tuple(remarks)


def _fan(rows: list[dict], name: str) -> tuple[OwnFan, list[str]]:
    first = rows[0]
    for cells in rows:
        for column in SAME:
            if cells[column] != first[column]:
                raise FileError(
                    f"{name}, row {cells['row']}: {column} of {first['fan_id']} differs from row {first['row']}"
                )
        if cells["region"] not in ("stall", "normal"):
            raise FileError(
                f"{name}, row {cells['row']}: region is “{cells['region'][:40]}”", remedy="Write stall or normal"
            )
    points, remarks = [], []
    area, density = figure(first, "outlet_area_m2", name), figure(first, "density_kg_m3", name)
    for c in rows:
        q, total, static, shaft = (
            figure(c, column, name)
            for column in ("flow_m3_s", "total_pressure_pa", "static_pressure_pa", "shaft_power_w")
        )
        if total < static - 0.5:
            raise FileError(
                f"{name}, row {c['row']}: the total pressure {total:g} Pa is below the static {static:g} Pa",
                remedy="Check which column is which",
            )
        velocity_pa = density / 2 * (q / area) ** 2 if area > 0 else 0.0
        if abs(total - static - velocity_pa) > OUTLET_BAND * velocity_pa + 1.0:
            remarks.append(
                f"{name}, row {c['row']}: total less static is {total - static:.0f} Pa, the outlet gives "
                f"{velocity_pa:.0f} Pa"
            )
        if shaft > 0 and q * total / shaft > HIGH_EFFICIENCY:
            remarks.append(f"{name}, row {c['row']}: an efficiency of {q * total / shaft:.2f} is high")
        points.append(
            FanPoint(
                flow_m3s=q,
                total_pa=total,
                shaft_w=shaft,
                sound_db=figure(c, "sound_power_db", name),
                stalled=c["region"] == "stall",
            )
        )
    try:
        return OwnFan(
            id=first["fan_id"],
            kind=first["type"],
            wheel_m=figure(first, "wheel_diameter_m", name),
            outlet_m2=area,
            speed_rpm=figure(first, "speed_rpm", name),
            min_rpm=figure(first, "min_speed_rpm", name),
            max_rpm=figure(first, "max_speed_rpm", name),
            density_kg_m3=density,
            motor_w=figure(first, "motor_kw", name) * 1000,
            points=tuple(points),
            source=name,
        ), remarks
    except InputError as error:
        raise FileError(f"{name}, rows {first['row']} to {rows[-1]['row']}: {error}") from None
