"""The command line, called in the test's own process: a process of its own takes a second to load what is loaded here.

`as_process` is the same as a whole program, for the tests of what only that shows.
"""

import contextlib
import io
import os
import subprocess
import sys
from types import SimpleNamespace
from unittest import mock

from levelmoor.cli import main


def levelmoor(*arguments, cwd=None, env=None, input=""):
    """Exit code and streams of a command."""
    out, err = io.StringIO(), io.StringIO()
    with (
        contextlib.redirect_stdout(out),
        contextlib.redirect_stderr(err),
        contextlib.chdir(cwd or os.getcwd()),  # noqa: PTH109
        mock.patch.dict(os.environ, env or {}),
        mock.patch.object(sys, "stdin", io.StringIO(input)),
    ):
        try:
            code = main([str(a) for a in arguments])
        except SystemExit as ended:
            code = ended.code
    return SimpleNamespace(returncode=code, stdout=out.getvalue(), stderr=err.getvalue())


def as_process(*arguments, **options):
    command = [sys.executable, "-m", "levelmoor.cli", *map(str, arguments)]
    return subprocess.run(command, capture_output=True, text=True, check=False, **options)
