"""How gunicorn serves Hobrix: one process, so that all threads share one cache, and beside it
the process that does background work, started and ended with it."""

import subprocess
import sys
import threading
from typing import Any

wsgi_app = "hobrix.web.config.wsgi:application"
workers = 1
threads = 8
worker_class = "gthread"
control_socket_disable = True
loglevel = "warning"
timeout = 300
keepalive = 30

_stopping = threading.Event()
_worker: list[subprocess.Popen[bytes]] = []


def _keep_working() -> None:
    while not _stopping.is_set():
        process = subprocess.Popen([sys.executable, "-m", "hobrix.cli", "work"])
        _worker[:] = [process]
        while not _stopping.wait(1.0) and process.poll() is None:
            pass


def when_ready(_server: Any) -> None:
    threading.Thread(target=_keep_working, daemon=True).start()


def on_exit(_server: Any) -> None:
    _stopping.set()
    for process in _worker:
        process.kill()
