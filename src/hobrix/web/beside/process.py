"""A process of the pool, as the server sees it."""

import os
import socket
import subprocess
import sys
import time
from contextlib import suppress
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

from hobrix.web.beside.pieces import Waiting

_PAGE = 4096
# Niceness of what is long; what is short has that of the pool (``doing``), and the server none.
_LEAST = 15
_TICKS = os.sysconf("SC_CLK_TCK")


class Process:
    """Started anew, never forked: the server has threads."""

    def __init__(self) -> None:
        ours, theirs = socket.socketpair()
        with theirs:
            number = theirs.fileno()
            self._process = subprocess.Popen(
                [sys.executable, "-m", "hobrix.web.beside.doing", str(number)],
                pass_fds=[number],
                stdin=subprocess.DEVNULL,
                # Several processes share the cores; threads of one would stand in the others' way.
                env={**os.environ, "OPENBLAS_NUM_THREADS": "1"},
                # Ctrl-C is for the server; this ends with it. No session of its own: between sessions
                # the system shares out the cores evenly, and niceness would say nothing.
                process_group=0,
            )
        self.line = Connection(ours.detach())
        self.does: Waiting | None = None
        self.stopped: float | None = None
        self.gives_way = False
        # Seconds of computing it had taken when it began what it does; None before it begins.
        self._taken: float | None = None

    @property
    def is_idle(self) -> bool:
        return self.does is None

    def do(self, waiting: Waiting) -> None:
        """
        Raises:
            OSError: the process is gone.
        """
        self.does, self.stopped, self._taken = waiting, None, None
        self.line.send(("do", waiting.piece.function, waiting.piece.arguments))

    def make_way(self) -> None:
        """What is long gives way to what is short, from now on: only the system's owner could take that
        back."""
        self.gives_way = True
        with suppress(OSError):
            os.setpriority(os.PRIO_PROCESS, self._process.pid, _LEAST)

    def ask_to_stop(self) -> None:
        self.stopped = time.monotonic()
        self.line.send(("stop",))

    def hear(self) -> tuple[str, Any]:
        """
        Raises:
            EOFError, OSError: the process is gone.
        """
        message: tuple[str, Any] = self.line.recv()
        if message[0] == "begun":
            self._taken = self._computed()
        return message

    @property
    def spent(self) -> float:
        """Seconds of computing on what it does: on a busy machine hours may pass meanwhile."""
        return 0.0 if self._taken is None else self._computed() - self._taken

    def _computed(self) -> float:
        try:
            fields = Path(f"/proc/{self._process.pid}/stat").read_text().rsplit(")", 1)[1].split()
        except OSError:
            return 0.0
        return (int(fields[11]) + int(fields[12])) / _TICKS

    def end(self) -> None:
        self._process.kill()
        self._process.wait()
        self.line.close()

    @property
    def memory(self) -> int:
        return memory_of(self._process.pid)


def memory_of(process: int) -> int:
    """Bytes a process holds; 0 once it is gone."""
    try:
        fields = Path(f"/proc/{process}/statm").read_text().split()
    except OSError:
        return 0
    return int(fields[1]) * _PAGE
