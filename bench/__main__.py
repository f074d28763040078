"""`make bench`: the table of speeds and sizes. Exits with 1 when a bar is missed."""

from __future__ import annotations

import os
import sys
from itertools import chain

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")


def main() -> int:
    from bench import application, bodies, drawings, fairness, finishing, geometry, sweeps
    from bench.machine import Machine
    from bench.table import as_they_come, show

    machine = Machine()
    rows = chain(
        machine.at_its_speed(geometry.rows),
        fairness.rows(),
        application.rows(machine),
        drawings.rows(machine),
        bodies.rows(machine),
        sweeps.rows(machine),
        finishing.rows(machine),
    )
    found = list(as_they_come(rows))
    show(found)
    return 0 if all(row.holds for row in found) else 1


if __name__ == "__main__":
    sys.exit(main())
