"""python -m levelmoor.cli"""

import sys

from levelmoor.cli.command_line import main

if __name__ == "__main__":
    sys.exit(main())
