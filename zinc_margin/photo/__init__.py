"""Read photos in open formats: their facts, stored pixels and colours."""

import logging
import warnings

for _library in ("tifffile", "PIL", "imagecodecs", "pikepdf"):
    # Decoders warn about damaged files; we report damage once, in one sentence.
    logging.getLogger(_library).addHandler(logging.NullHandler())
    logging.getLogger(_library).propagate = False
warnings.filterwarnings("ignore", module=r"(PIL|tifffile)\b")
