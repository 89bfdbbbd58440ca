"""Open formats in: what a photo is, its pixels as stored, and its colours."""

import logging
import warnings

for _library in ("tifffile", "PIL", "imagecodecs", "pikepdf"):
    # what is wrong with a photo is said in one sentence, not by every reader in turn
    logging.getLogger(_library).addHandler(logging.NullHandler())
    logging.getLogger(_library).propagate = False
warnings.filterwarnings("ignore", module=r"(PIL|tifffile)\b")
