"""`python -m lattice` is the command `lattice`."""

import sys

from lattice.cli import main

sys.exit(main())
