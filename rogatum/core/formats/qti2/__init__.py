"""QTI 2.1, 2.2 and 3.0 (items, tests, stimuli; bare or in a content package): one reader and one writer, a table per dialect."""

from rogatum.core.formats.qti2.carries import CARRIES
from rogatum.core.formats.qti2.dialects import DIALECTS, Dialect
from rogatum.core.formats.qti2.outline import OUTLINE
from rogatum.core.formats.qti2.read import read_qti2
from rogatum.core.formats.qti2.sniff import sniffer
from rogatum.core.formats.qti2.write import writer
from rogatum.core.formats.shared.base import Format


def _format(dialect: Dialect) -> Format:
    return Format(
        name=dialect.format,
        label=dialect.label,
        suffix=".zip",
        sniff=sniffer(dialect),
        read=read_qti2,
        write=writer(dialect),
        package=True,
        carries=CARRIES,
        outline=OUTLINE,
    )


QTI_2_1_FORMAT, QTI_2_2_FORMAT, QTI_3_0_FORMAT = (_format(dialect) for dialect in DIALECTS)
FORMATS = (QTI_2_1_FORMAT, QTI_2_2_FORMAT, QTI_3_0_FORMAT)
