"""Every property of the core and the doors again, with many and other examples.

The test command tries the same few each time; here a failure prints how to repeat it.
"""

import os
import subprocess
import sys
from pathlib import Path

from bench.figures import Figure, run

ROOT = Path(__file__).resolve().parents[1]


def measure() -> list[Figure]:
    done = subprocess.run(
        [sys.executable, "-m", "pytest", "-q", "-n", "2", "-m", "hypothesis", "tests"],
        cwd=ROOT,
        env={**os.environ, "FURROW_EXAMPLES": "many"},
        check=False,
    )
    return [Figure("properties with many examples, pytest's exit code", done.returncode, "", 0)]


if __name__ == "__main__":
    run(measure)
