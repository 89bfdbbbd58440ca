"""The window: margin, bench and rack; the only place that knows Qt.

The core is loaded first. Once Qt is there, it looks into the source of every module that is loaded
after it, which would make the start a tenth longer; and what stays for good need not be looked
through for garbage again and again.
"""

import gc
from importlib import import_module

gc.disable()
for _part in ("handoff.complete", "handoff.make", "handoff.pace", "pixels.sheets", "plan.build"):
    import_module(f"zinc_margin.{_part}")
gc.freeze()
gc.enable()
