"""python -m levelmoor.cli"""

import sys

from levelmoor.cli.command_line import main

sys.exit(main())
