"""A process of the pool, as the server sees it."""

import socket
import subprocess
import sys
import time
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

from hobrix.web.beside.pieces import Waiting

_PAGE = 4096


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
                # Ctrl-C is for the server; this ends with it.
                start_new_session=True,
            )
        self.line = Connection(ours.detach())
        self.does: Waiting | None = None
        self.since = 0.0
        self.stopped: float | None = None

    @property
    def is_idle(self) -> bool:
        return self.does is None

    def do(self, waiting: Waiting) -> None:
        """
        Raises:
            OSError: the process is gone.
        """
        self.does, self.since, self.stopped = waiting, time.monotonic(), None
        self.line.send(("do", waiting.piece.function, waiting.piece.arguments))

    def ask_to_stop(self) -> None:
        self.stopped = time.monotonic()
        self.line.send(("stop",))

    def hear(self) -> tuple[str, Any]:
        """
        Raises:
            EOFError, OSError: the process is gone.
        """
        message: tuple[str, Any] = self.line.recv()
        return message

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
