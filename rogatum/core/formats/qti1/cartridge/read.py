"""Reads the quizzes and question banks of a cartridge: QTI 1.2 with scores in per cent."""

from __future__ import annotations

from rogatum.core.formats.qti1.cartridge.paths import path_of_title
from rogatum.core.formats.qti1.read import Qti1Reader
from rogatum.core.formats.shared.base import Reading
from rogatum.core.sources import SourceTree


def read_cartridge(tree: SourceTree) -> Reading:
    """Reads the quizzes and question banks of a cartridge; its other resources are listed. Raises UnreadableSource."""
    return Qti1Reader(tree, "common-cartridge", percent_scores=True, path_of_title=path_of_title).read()
