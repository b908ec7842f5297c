"""Tests of Garnetfin; run with: python -m tests"""

import os
import warnings

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
warnings.filterwarnings("error", module="garnetfin")
