"""Common Cartridge 1.1 to 1.3: its assessments and question banks are a profile of QTI 1.2, with scores in per cent and weights."""

from rogatum.core.formats.qti1.cartridge.carries import CARRIES
from rogatum.core.formats.qti1.cartridge.read import read_cartridge
from rogatum.core.formats.qti1.cartridge.sniff import looks_like_cartridge
from rogatum.core.formats.qti1.cartridge.write import write_cartridge
from rogatum.core.formats.qti1.outline import OUTLINE
from rogatum.core.formats.shared.base import Format

FORMAT = Format(
    name="common-cartridge",
    label="Common Cartridge",
    suffix=".imscc",
    sniff=looks_like_cartridge,
    read=read_cartridge,
    write=write_cartridge,
    package=True,
    carries=CARRIES,
    outline=OUTLINE,
)
