"""The command line: a module for each group of commands."""

from levelmoor.cli.command_line import main

__all__ = ["main"]
