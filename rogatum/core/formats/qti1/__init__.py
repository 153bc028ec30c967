"""QTI 1.2 and 1.2.1 (ASI XML Binding), bare or in a content package; and Common Cartridge, which profiles it."""

from rogatum.core.formats.qti1.carries import CARRIES
from rogatum.core.formats.qti1.cartridge import FORMAT as COMMON_CARTRIDGE
from rogatum.core.formats.qti1.outline import OUTLINE
from rogatum.core.formats.qti1.read import read_qti1
from rogatum.core.formats.qti1.sniff import looks_like_qti1
from rogatum.core.formats.qti1.write import write_qti1
from rogatum.core.formats.shared.base import Format

FORMAT = Format(
    name="qti-1.2",
    label="QTI 1.2",
    suffix=".zip",
    sniff=looks_like_qti1,
    read=read_qti1,
    write=write_qti1,
    package=True,
    carries=CARRIES,
    outline=OUTLINE,
)

__all__ = ["COMMON_CARTRIDGE", "FORMAT"]
