"""A process that does pieces of work, one after the other, for the server that started it.

It hears ``("do", function, arguments)`` and ``("stop",)`` and says ``("begun",)``, ``("tell", share)`` and
``("done", result)``, ``("failed", error)`` or ``("broke", traceback)``.
"""

import logging
import os
import queue
import sys
import threading
import time
import traceback
from multiprocessing.connection import Connection
from typing import Any

from hobrix.core.errors import HobrixError
from hobrix.core.progress import Stopped

_TELL = 0.1  # seconds between two words on progress


class Doing:
    """The process's end of the line."""

    def __init__(self, connection: Connection) -> None:
        self._line = connection
        self._pieces: queue.Queue[tuple[Any, ...]] = queue.Queue()
        self._is_stopped = threading.Event()
        self._told = 0.0

    def listen(self) -> None:
        """Until the server is gone, and with it any reason to go on."""
        try:
            while True:
                message = self._line.recv()
                if message[0] == "stop":
                    self._is_stopped.set()
                else:
                    self._is_stopped.clear()
                    self._pieces.put(message[1:])
        except (EOFError, OSError):
            os._exit(0)

    def work(self) -> None:
        from django.db import close_old_connections

        while True:
            function, arguments = self._pieces.get()
            close_old_connections()
            self._line.send(("begun", None))
            self._line.send(self._ended(function, arguments))

    def _ended(self, function: Any, arguments: tuple[Any, ...]) -> tuple[str, Any]:
        try:
            return "done", function(*arguments, self.tell)
        except (HobrixError, Stopped) as error:
            return "failed", error
        except MemoryError:
            return "failed", HobrixError("This takes more memory than there is.")
        except Exception:
            return "broke", traceback.format_exc()

    def tell(self, share: float) -> None:
        if self._is_stopped.is_set():
            raise Stopped
        now = time.monotonic()
        if now - self._told > _TELL:
            self._told = now
            self._line.send(("tell", share))


def main() -> None:
    """The number of the socket to the server is the only argument."""
    import django
    from django.conf import settings
    from django.utils.module_loading import import_string

    # Whoever serves goes first.
    os.nice(5)

    doing = Doing(Connection(int(sys.argv[1])))
    threading.Thread(target=doing.listen, daemon=True).start()
    django.setup()
    # What is loaded at its first use is loaded now, and not on the time of whoever asks first.
    try:
        if settings.WARM_UP:
            import_string(settings.WARM_UP)()
    except Exception as error:  # whatever it is, what follows may do without
        logging.getLogger("hobrix").error("warming up", exc_info=error)
    doing.work()


if __name__ == "__main__":
    main()
