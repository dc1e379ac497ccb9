"""The rules of the job and all computation, with no interface: plans, sun, clocks, replay, findings, fit.

Zone data are the pinned ``tzdata`` package's and never the machine's, because machines differ from it in real towns.
"""

import os
import zoneinfo

zoneinfo.reset_tzpath(to=())
# The matrices here are small. Split among threads they take longer, and where several processes work, a hundred times as long.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
