"""`python -m hinoki.cli`."""

import sys

from hinoki.cli import main

if __name__ == "__main__":
    sys.exit(main())
