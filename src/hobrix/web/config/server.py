"""The server: one process whose threads share one cache, and beside it the process that does background
work, started and ended with it.

Requests are read whole before a thread takes them, and replies are sent without one, so that nobody who
reads or writes slowly holds up the others.
"""

import os
import signal
import subprocess
import sys
import threading

import waitress
from django.conf import settings

from hobrix.web import beside
from hobrix.web.config.wsgi import application

# Threads wait for the database and for what is worked out beside them; they are cheap.
THREADS = 64
# Open connections, most of which are silent, and when a silent one is closed (seconds).
CONNECTIONS = 2000
SILENCE = 60
# How long one thread computes before another that has its data may go on (seconds). Requests ask the database
# several times each, and would wait for Python's usual 5 ms after each.
TURN = 0.001


def main() -> None:
    """The host and port are the arguments."""
    host, port = sys.argv[1:]
    sys.setswitchinterval(TURN)
    stopping = threading.Event()
    # Asked to end, it ends what it started.
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    beside.get_ready()
    threading.Thread(target=_keep_working, args=(stopping,), daemon=True).start()
    try:
        waitress.serve(
            application,
            host=host,
            port=int(port),
            threads=THREADS,
            connection_limit=CONNECTIONS,
            channel_timeout=SILENCE,
            cleanup_interval=10,
            asyncore_use_poll=True,
            max_request_body_size=settings.UPLOAD_LIMIT + 1024 * 1024,
            inbuf_overflow=4 * 1024 * 1024,
            ident=None,
            # Who asks, as the proxy says; whoever else says so is not believed.
            **(
                {
                    "trusted_proxy": settings.PROXY,
                    "trusted_proxy_headers": "x-forwarded-for x-forwarded-proto x-forwarded-host",
                }
                if settings.PROXY
                else {}
            ),
            clear_untrusted_proxy_headers=True,
            _quiet=True,
        )
    finally:
        stopping.set()


def _keep_working(stopping: threading.Event) -> None:
    """The worker, started again where it ends."""
    while not stopping.is_set():
        process = subprocess.Popen(
            [sys.executable, "-m", "hobrix.cli", "work", "--of", str(os.getpid())]
        )
        while not stopping.wait(1.0) and process.poll() is None:
            pass
        process.kill()


if __name__ == "__main__":
    main()
