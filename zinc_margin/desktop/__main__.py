"""``python -m zinc_margin.desktop``."""

import sys

from zinc_margin.desktop.shell.application import main

sys.exit(main())
