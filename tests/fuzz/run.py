"""Reads mutants of every sample without the net that readers have below them: `python -m tests.fuzz.run --mutants 5000 --seed 1`.

A mutant gives a bank, whose items every writer of text takes, or an UnreadableSource with a way out; nothing else, and soon.
"""

from __future__ import annotations

import argparse
import sys
import time
import traceback
from collections import Counter
from dataclasses import dataclass, field

from rogatum.core.errors import UnreadableSource
from rogatum.core.exporting import export_bank
from rogatum.core.receiving import read_bare
from tests.fuzz.mutants import mutant
from tests.fuzz.samples import samples

WRITTEN = ("items-json", "gift", "qti-1.2", "qti-2.1")
SLOW = 20.0


@dataclass
class Tally:
    read: int = 0
    refused: int = 0
    slowest: float = 0.0
    faults: list[str] = field(default_factory=list)


def try_one(name: str, data: bytes, write: str | None) -> str:
    """What became of it: read or refused. Raises whatever else happens."""
    try:
        reading = read_bare((name, data))
    except UnreadableSource as refusal:
        assert refusal.what and refusal.way_out
        return "refused"
    reading.bank.model_dump_json()
    if write:
        export_bank(reading.bank, reading.media, write)
    return "read"


def fuzz(name: str, sample: bytes, count: int, seed: int) -> Tally:
    tally = Tally()
    for number in range(count):
        key = f"{seed}/{name}/{number}"
        started = time.perf_counter()
        try:
            became = try_one(name, mutant(sample, key), WRITTEN[number % 8] if number % 8 < len(WRITTEN) else None)
        except Exception as error:
            place = traceback.extract_tb(error.__traceback__)
            ours = next((f for f in reversed(place) if "/rogatum/" in f.filename), place[-1])
            tally.faults.append(
                f"{key}: {type(error).__name__}: {str(error)[:100]} at {ours.filename.rsplit('/', 2)[-1]}:{ours.lineno}"
            )
            continue
        tally.read += became == "read"
        tally.refused += became == "refused"
        took = time.perf_counter() - started
        tally.slowest = max(tally.slowest, took)
        if took > SLOW:
            tally.faults.append(f"{key}: took {took:.1f} s")
    return tally


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--mutants", type=int, default=5000)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--only", default="")
    options = parser.parse_args()
    faults = 0
    for name, sample in sorted(samples().items()):
        if options.only not in name:
            continue
        tally = fuzz(name, sample, options.mutants, options.seed)
        faults += len(tally.faults)
        print(
            f"{name:24} read {tally.read:5}  refused {tally.refused:5}  faults {len(tally.faults)}  slowest {tally.slowest:.2f} s",
            flush=True,
        )
        kinds = Counter(fault.split(": ", 1)[1] for fault in tally.faults)
        for kind, times in kinds.most_common(12):
            print(f"    {times} × {kind}   e.g. {next(f for f in tally.faults if f.endswith(kind)).split(': ')[0]}", flush=True)
    return 1 if faults else 0


if __name__ == "__main__":
    sys.exit(main())
