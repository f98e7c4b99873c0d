"""The process beside the server that does the jobs. It ends with the process that started it."""

import logging
import os
import threading
import time
from collections.abc import Callable

from django.core.management import call_command
from django.db import close_old_connections

from hobrix.web.jobs.abandoned import take_up_abandoned

_LOOK = 2.0  # seconds between looks for jobs that were killed


_DAY = 24 * 3600.0


def work(parent: int, daily: Callable[[], object]) -> None:
    """Do jobs until stopped or the parent is gone; ``daily`` is done at the beginning and every day."""
    threading.Thread(target=_watch, args=(parent, daily), daemon=True).start()
    call_command("db_worker", interval=0.2, startup_delay=False, reload=False, verbosity=0)


def _watch(parent: int, daily: Callable[[], object]) -> None:
    due = 0.0
    while os.getppid() == parent:
        take_up_abandoned()
        if time.monotonic() >= due:
            due = time.monotonic() + _DAY
            try:
                daily()
            except Exception as error:  # the jobs are looked after all the same
                logging.getLogger("hobrix").error("daily work", exc_info=error)
        close_old_connections()
        time.sleep(_LOOK)
    # Jobs survive being killed; a worker without its server would compete with the next one's.
    os._exit(1)
