"""Sources that were made with their truth, in an archive: what of them is read rightly."""

from __future__ import annotations

import json
import zipfile
from collections.abc import Iterator
from pathlib import Path

from rogatum.core.errors import UnreadableSource
from rogatum.core.receiving import read_source
from tests import scorer

DATA = Path(__file__).parent / "data"


def tally_of(archive: str, folder: Path) -> scorer.Tally:
    """The tally of the sources of an archive of `tests/data`, unpacked into a folder."""
    with zipfile.ZipFile(DATA / archive) as opened:
        opened.extractall(folder)
    total = scorer.Tally()
    for name, truth in _truths(folder):
        try:
            bank = json.loads(read_source(folder / "files" / name).bank.model_dump_json())
        except UnreadableSource:
            assert truth.get("exit") == 3, name
            continue
        if "items" in truth:
            scorer.score_bank(truth, bank, total)
        else:
            assert "error" in {finding["level"] for finding in bank["findings"]}, name
    return total


def _truths(folder: Path) -> Iterator[tuple[str, dict]]:
    for path in sorted((folder / "truth").glob("*.json")):
        yield path.name.removesuffix(".json"), json.loads(path.read_text())
