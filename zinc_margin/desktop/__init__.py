"""The window: margin, bench and rack; the only place that knows Qt.

The core is loaded first. Once Qt is there, it looks into the source of every module that is loaded
after it, which would make the start a tenth longer; and what stays for good need not be looked
through for garbage again and again.
"""

import gc

gc.disable()
from zinc_margin.handoff import complete, labs, make, names, pace
from zinc_margin.photo import pixels as _
from zinc_margin.pixels import render, sheets
from zinc_margin.plan import build

gc.freeze()
gc.enable()
