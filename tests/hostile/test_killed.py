"""A process that is killed while it writes, with a reader beside it."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest

from tests.hostile import amount, tried


@pytest.mark.parametrize("what", ["save", "build", "lasting build"])
def test_whoever_reads_sees_the_old_or_the_new_whenever_the_writer_is_killed(
    what: str, tmp_path: Path
) -> None:
    words = [sys.executable, "-m", "tests.hostile.killing", what, str(amount(25, 500))]
    done = subprocess.run(
        [*words, str(tmp_path)], capture_output=True, text=True, check=False, timeout=1200
    )
    assert done.returncode == 0, done.stderr
    met = json.loads(done.stdout)
    tried(f"a {what} killed at a system call, with a reader beside it", sum(met.values()))
    assert met["old"] > 5 and met["new"] > 0
    assert what == "build" or not met["unfinished"], "these are whole at any instant"
