"""``python -m jadeite``: the same as the command ``jadeite``."""

import sys

from jadeite.cli import main

if __name__ == "__main__":
    sys.exit(main())
