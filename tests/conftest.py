"""How the tests are shared out among the processes that run them."""

from __future__ import annotations

from pathlib import PurePosixPath
from typing import Any

import pytest
from xdist.scheduler import LoadScopeScheduling

# Their tests need a running program, which takes long to start: one process runs all of them, beside the others.
WITH_PROGRAM = ("browser", "running")


class Together(LoadScopeScheduling):
    """A file stays together, for what its tests share, and so does a folder whose tests share a program."""

    def _split_scope(self, nodeid: str) -> str:
        path = PurePosixPath(nodeid.partition("::")[0])
        return str(path.parent if path.parent.name in WITH_PROGRAM else path)


def pytest_xdist_make_scheduler(config: pytest.Config, log: Any) -> Together:
    return Together(config, log)
