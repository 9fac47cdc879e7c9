"""``python -m noonshade``."""

import sys

from noonshade.cli import main

sys.exit(main())
