"""``python -m zinc_margin.desktop``."""

import sys

from zinc_margin.desktop.application import main

sys.exit(main())
