"""The report: all sheets in their order."""

from garnetfin.core.units import System
from garnetfin.engine.results import Results
from garnetfin.report.blocks import Block
from garnetfin.report.sheets.air import air_flows
from garnetfin.report.sheets.balance import balance
from garnetfin.report.sheets.basis import basis
from garnetfin.report.sheets.ducts import ducts
from garnetfin.report.sheets.fan import fans, findings
from garnetfin.report.sheets.loads import loads

SHEETS = (basis, loads, air_flows, ducts, balance, fans, findings)


def document(results: Results, units: System = "SI") -> list[Block]:
    """Blocks of the whole report; what could not be computed says why in its place."""
    return [block for sheet in SHEETS for block in sheet(results, units)]
