"""The rules of the job and all computation, with no interface: plans, sun, clocks, replay, findings, fit.

Zone data are the pinned ``tzdata`` package's and never the machine's, because machines differ from it in real towns.
"""

import zoneinfo

zoneinfo.reset_tzpath(to=())
