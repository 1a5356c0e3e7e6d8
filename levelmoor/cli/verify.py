"""The command line's verify: a published bundle, judged again."""

import argparse
import json
from hashlib import sha256
from pathlib import Path
from typing import Any

from levelmoor.cli.exits import BadInput

PROVES = (
    "This proves that the findings follow from the files in the bundle: codes and figures were compared, not "
    "wording. It does not prove who published it, nor that the files are true: compare the SHA-256 with the one "
    "on the page where it was published."
)


def add_commands(commands: Any) -> None:
    """The parser of this command."""
    verify = commands.add_parser("verify", help="check a published bundle and judge it again")
    verify.add_argument("bundle", metavar="BUNDLE", type=Path)
    verify.add_argument("--sha256", metavar="DIGEST", default="", help="as shown on the page that published it")
    verify.add_argument("--json", action="store_true")
    verify.set_defaults(run=_verify)


def _verify(options: argparse.Namespace) -> int:
    from levelmoor.formats.bundle import BundleProblem, verify_bundle

    try:
        data = options.bundle.read_bytes()
        if options.sha256 and sha256(data).hexdigest() != options.sha256.strip().lower():
            raise BadInput(f"{options.bundle}: its SHA-256 is {sha256(data).hexdigest()}, not the one given")
        result = verify_bundle(data)
    except OSError as problem:
        raise BadInput(f"{options.bundle}: {problem.strerror or problem}") from None
    except BundleProblem as problem:
        raise BadInput(f"{options.bundle}: {problem}") from None
    if options.json:
        print(
            json.dumps(
                {
                    "same": result.same,
                    "sha256": result.sha256,
                    "agrees": result.agrees,
                    "differs": result.differs,
                    "proves": PROVES,
                },
                ensure_ascii=False,
                indent=1,
            )
        )
    else:
        print(f"{result.title}, revision {result.revision}: checksums of {result.files} files agree")
        for line in result.agrees:
            print(f"  same       {line}")
        for line in result.differs:
            print(f"  different  {line}")
        print(f"SHA-256 {result.sha256}")
        print(PROVES)
        print("same" if result.same else "different")
    return 0 if result.same else 1
