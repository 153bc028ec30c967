from __future__ import annotations

from collections.abc import Iterator

import pytest

from tests.running.program import Person, Program

NAMES = ["mara", "tobin", "ines", "ola"]


@pytest.fixture(scope="session")
def program(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Program]:
    running = Program(tmp_path_factory.mktemp("data"), NAMES)
    yield running
    running.stop()


@pytest.fixture
def mara(program: Program) -> Person:
    return Person(program, "mara")
