"""QTI 2.1, 2.2 and 3.0 (items, tests, stimuli; bare or in a content package): one reader and one writer, a table per dialect."""

from dataclasses import replace

from rogatum.core.formats.base import EVERYTHING, Format
from rogatum.core.formats.qti2.dialects import DIALECTS, Dialect
from rogatum.core.formats.qti2.read import read_qti2
from rogatum.core.formats.qti2.sniff import sniffer
from rogatum.core.formats.qti2.write import writer


def _format(dialect: Dialect) -> Format:
    return Format(
        name=dialect.format,
        label=dialect.label,
        suffix=".zip",
        sniff=sniffer(dialect),
        read=read_qti2,
        write=writer(dialect),
        package=True,
        carries=replace(EVERYTHING, feedback=frozenset({"general", "correct", "incorrect", "choice"})),
    )


QTI_2_1_FORMAT, QTI_2_2_FORMAT, QTI_3_0_FORMAT = (_format(dialect) for dialect in DIALECTS)
FORMATS = (QTI_2_1_FORMAT, QTI_2_2_FORMAT, QTI_3_0_FORMAT)
