"""Tests of Garnetfin; run with: python -m tests"""

import os
import sys
import traceback
import warnings

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("QT_LOGGING_RULES", "default.warning=false")  # what the offscreen platform cannot do

faults: list[str] = []


def _keep(kind, value, trace) -> None:
    """An exception in a slot or a paint event does not reach the test that caused it; it is kept and counted."""
    faults.append("".join(traceback.format_exception(kind, value, trace)))


sys.excepthook = _keep
warnings.filterwarnings("error", module="garnetfin")
