"""``python -m zinc_margin.commands``."""

import sys

from zinc_margin.commands import main

sys.exit(main())
