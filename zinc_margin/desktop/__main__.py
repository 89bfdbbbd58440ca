"""``python -m zinc_margin.desktop``."""

import sys

from .application import main

sys.exit(main())
