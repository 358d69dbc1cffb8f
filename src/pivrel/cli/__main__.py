"""`python -m pivrel.cli`."""

import sys

from pivrel.cli.main import main

sys.exit(main())
