"""How the tests are shared out among the processes that run them."""

from __future__ import annotations

from pathlib import PurePosixPath
from typing import Any

import pytest
from hypothesis import HealthCheck, settings
from xdist.scheduler import LoadScopeScheduling

# No test of properties is held to a clock. `make test` tries the same examples each time, so that what is red is red for what
# was changed; `make fuzz` looks for new ones.
_UNHURRIED = settings(deadline=None, suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large])
settings.register_profile("same", _UNHURRIED, derandomize=True)
settings.register_profile("fresh", _UNHURRIED, print_blob=True)
settings.load_profile("same")

# Their tests need a running program, which takes long to start: one process runs all of them, beside the others.
WITH_PROGRAM = ("browser", "running")


class Together(LoadScopeScheduling):
    """A file stays together, for what its tests share, and so does a folder whose tests share a program."""

    def _split_scope(self, nodeid: str) -> str:
        path = PurePosixPath(nodeid.partition("::")[0])
        return str(path.parent if path.parent.name in WITH_PROGRAM else path)


def pytest_xdist_make_scheduler(config: pytest.Config, log: Any) -> Together:
    return Together(config, log)
