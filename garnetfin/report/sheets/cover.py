"""The cover: whose job, which issue, who signs, what the set holds; headline figures of the chain."""

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.results import AirResult, DuctResult, FanResult, Missing, Results
from garnetfin.report.blocks import Block, Col, Contents, Facts, Heading, TableBlock, Text, with_unit


def cover(results: Results, units: System, issued: bool = False) -> list[Block]:
    project, papers = results.project, results.project.papers
    blocks: list[Block] = [Heading(project.name, 1, "Loads, air flows, ducts and fan")]
    rows = (
        ("Job", papers.job),
        ("Client", papers.client),
        ("Place", project.site.name if project.site else ""),
        ("Issue", issue_words(results, issued)),
        ("Made by", papers.made_by),
        ("Checked by", papers.checked_by),
    )
    blocks.append(Facts(tuple((k, v or display.DASH) for k, v in rows)))
    blocks += [
        Heading("Contents", 3),
        Contents(),
        Heading("Headline figures", 3),
        Facts(tuple(_headlines(results, units))),
    ]
    if papers.issues:
        blocks += [
            Heading("Issues", 3),
            TableBlock(
                (Col("No.", width=0.5, left=True), Col("Day", width=1, left=True), Col("What for", width=5, left=True)),
                tuple((str(i.number), i.date, i.note) for i in papers.issues),
            ),
        ]
    estimated = [r for r in project.rooms if (f := results.room(r.id)) is not None and f.estimate is not None]
    if estimated:
        blocks.append(
            Text(
                f"{len(estimated)} rooms stand on area and use alone: "
                f"{', '.join(r.number for r in estimated[:12])}{' …' if len(estimated) > 12 else ''}. "
                "Their loads are early estimates.",
                True,
            )
        )
    return blocks


def issue_words(results: Results, issued: bool) -> str:
    """Which issue a page belongs to: the one that is handed over, else the next one, in work."""
    issues = results.project.papers.issues
    return (
        f"{issues[-1].number}, {issues[-1].date}"
        if issued and issues
        else f"{results.project.papers.next_number} in work"
    )


def _headlines(results: Results, units: System):
    together = results.blocks[""]
    if isinstance(together, Missing):
        yield "Loads", f"{together.reason}"
    else:
        yield "Cooling, rooms together", with_unit("load", together.peak_w, units, 1)
        yield "At", display.hour(*together.peak)
        yield "Heating, rooms together", with_unit("load", together.heating_w, units, 1)
    for system in results.project.air_systems:
        air, ducts, fan = results.air[system.id], results.ducts[system.id], results.fans[system.id]
        if isinstance(air, AirResult):
            yield f"{system.name}, supply", with_unit("system_flow", air.flow_m3s, units)
        if isinstance(ducts, DuctResult) and ducts.terminals:
            yield f"{system.name}, index run", f"{ducts.index.label}, {with_unit('pressure', ducts.runs.fan_pa, units)}"
        if isinstance(fan, FanResult) and fan.point is not None:
            yield (
                f"{system.name}, fan",
                f"{with_unit('pressure', fan.point.pressure_pa, units)}, "
                f"{with_unit('shaft_power', fan.point.electric_w, units)}",
            )
