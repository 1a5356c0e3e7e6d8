"""The command line: every group of commands, and how a command ends that goes wrong."""

import argparse
import sys
import traceback
from collections.abc import Sequence

from levelmoor import __version__
from levelmoor.cli import accounts, adjust, backup, bench, check, choke, emissions, judge, serve, sweeps, tuner, verify
from levelmoor.cli.exits import BAD_INPUT, BadInput

GROUPS = (check, verify, bench, sweeps, emissions, judge, adjust, tuner, choke, serve, accounts, backup)


def main(arguments: Sequence[str] | None = None) -> int:
    parser = _parser()
    options = parser.parse_args(arguments)
    try:
        return int(options.run(options))
    except BadInput as problem:
        print(f"levelmoor {options.command}: {problem}", file=sys.stderr)
        return BAD_INPUT
    except RuntimeError as problem:
        print(f"levelmoor {options.command}: {problem}", file=sys.stderr)
        return BAD_INPUT
    except BrokenPipeError:
        return BAD_INPUT
    except Exception:
        # A fault of the program is not a verdict, and its exit code none of theirs.
        traceback.print_exc()
        print(f"levelmoor {options.command}: something went wrong; this is not a verdict", file=sys.stderr)
        return BAD_INPUT


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="levelmoor", description="Check swept antennas against their published specifications."
    )
    parser.add_argument("--version", action="version", version=f"levelmoor {__version__}")
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND")
    for group in GROUPS:
        group.add_commands(commands)
    return parser
