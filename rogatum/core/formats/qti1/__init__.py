"""QTI 1.2 and 1.2.1 (ASI XML Binding), bare or in a content package; and Common Cartridge, which profiles it."""

from dataclasses import replace

from rogatum.core.formats.base import EVERYTHING, Format
from rogatum.core.formats.qti1.cartridge import PROFILES, looks_like_cartridge, read_cartridge, write_cartridge
from rogatum.core.formats.qti1.read import read_qti1
from rogatum.core.formats.qti1.sniff import looks_like_qti1
from rogatum.core.formats.qti1.write import write_qti1

FORMAT = Format(
    name="qti-1.2",
    label="QTI 1.2",
    suffix=".zip",
    sniff=looks_like_qti1,
    read=read_qti1,
    write=write_qti1,
    package=True,
    carries=replace(EVERYTHING, feedback=frozenset({"general", "correct", "incorrect", "choice"}), regex=False),
)

COMMON_CARTRIDGE = Format(
    name="common-cartridge",
    label="Common Cartridge",
    suffix=".imscc",
    sniff=looks_like_cartridge,
    read=read_cartridge,
    write=write_cartridge,
    package=True,
    carries=replace(
        FORMAT.carries,
        types=frozenset(PROFILES),  # type: ignore[arg-type]
        metadata=False,
        pools=False,
        draws=False,
        stimuli=False,
    ),
)
