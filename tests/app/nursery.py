"""A process in which everything that a server needs is loaded: servers split off from it in a moment, to be killed again and again.

Each line of its input is a port; a server for it is begun, on the data of the environment, and its number printed. From then on it is a server like
any other: its own process, database, address and workers.
"""

from __future__ import annotations

import os
import signal
import sys

from wander.app.engine.processes import loading


def main() -> None:
    with loading():
        import wander.app.api.application  # noqa: F401
        from wander.app.serve import run
    # whoever has ended is gone at once
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)
    for line in sys.stdin:
        child = os.fork()
        if child == 0:
            signal.signal(signal.SIGCHLD, signal.SIG_DFL)
            os.setsid()
            sys.stdin.close()
            os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
            run("127.0.0.1", int(line), demo=False)
            os._exit(0)
        print(child, flush=True)


if __name__ == "__main__":
    main()
