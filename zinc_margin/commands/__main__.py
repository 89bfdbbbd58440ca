"""``python -m zinc_margin.commands``."""

import sys

from . import main

sys.exit(main())
