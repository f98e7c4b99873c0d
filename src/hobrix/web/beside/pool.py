"""The processes beside the server, and the thread that keeps them at work."""

import logging
import threading
import time
from collections import OrderedDict
from multiprocessing.connection import Pipe, wait

from hobrix.core.errors import HobrixError
from hobrix.core.progress import Stopped
from hobrix.web.beside.pieces import Asker, Piece, Waiting
from hobrix.web.beside.process import Process
from hobrix.web.beside.queue import SHORT, Line

_LOOK = 0.1  # seconds between two looks at what is under way
_GRACE = 0.4  # seconds in which work may end by itself once it was asked to
_HOMES = 1000
# Seconds for which a name that was stopped is not begun again.
_REMEMBERED = 60.0
BROKE_OFF = "Hobrix made a mistake. Nothing was changed; the server log says more."
TOO_MUCH_MEMORY = (
    "Working this out takes more memory than one answer may, so it was given up. Ask of fewer "
    "variables, or combine categories."
)


class BrokeOff(Exception):
    """Work that ended with a mistake of ours; its traceback is in the log."""


class Pool:
    """``short + long`` processes at most, of which ``long`` may be busy with long work."""

    def __init__(self, short: int, long: int, memory: int) -> None:
        self._most, self._memory = short + long, memory
        self._changed = threading.Condition()
        self._line = Line(short, long)
        self._processes = [Process() for _ in range(short)]
        # Where the last work of a home was done.
        self._homes: OrderedDict[str, Process] = OrderedDict()
        # Whoever stopped something and asks for it once more on the way, with when that was.
        self._stopped: dict[Asker, float] = {}
        self._wake_out, self._wake_in = Pipe(duplex=False)
        self._is_closed = False
        self._keeper = threading.Thread(target=self._keep, daemon=True)
        self._keeper.start()

    # --- called by the threads that serve ---------------------------------------------------------

    def ask(self, asker: Asker, piece: Piece, patience: float) -> Waiting:
        """The piece as it stands once it has ended, or after so many seconds. Whoever asks again with
        the same piece waits for the same work.

        Raises:
            Stopped: somebody stopped it for this asker meanwhile.
        """
        with self._changed:
            if asker in self._stopped:
                raise Stopped
            waiting = self._line.pieces.get(piece.key)
            if waiting is None or (waiting.ended is not None and waiting.error is not None):
                waiting = self._line.pieces[piece.key] = Waiting(piece, asker.user)
            waiting.askers[asker] = time.monotonic() + patience
            self._wake()
            self._changed.wait_for(lambda: self._has_ended(waiting, asker), patience)
            if asker not in waiting.askers:
                raise Stopped
            if waiting.ended is None:
                waiting.askers[asker] = time.monotonic()
            return waiting

    def _has_ended(self, waiting: Waiting, asker: Asker) -> bool:
        return waiting.ended is not None or asker not in waiting.askers

    def look(self, asker: Asker) -> tuple[float | None, int | None] | None:
        """How far it is, and its place where it waits for its turn; None where nobody waits for it."""
        with self._changed:
            waiting = self._line.of(asker)
            if waiting is None:
                return None
            return waiting.done, self._line.place(waiting, self._running())

    def stop(self, asker: Asker) -> None:
        """This person waits no more; where nobody else does, the work ends."""
        with self._changed:
            now = time.monotonic()
            recent = {who: at for who, at in self._stopped.items() if now - at < _REMEMBERED}
            self._stopped = {**recent, asker: now}
            if (waiting := self._line.of(asker)) is not None:
                del waiting.askers[asker]
                self._changed.notify_all()
                self._wake()

    def numbers(self) -> tuple[int, int, int, int]:
        """Pieces waiting and running, processes, and the bytes they hold."""
        with self._changed:
            running = len(self._running())
            alive = sum(each.ended is None for each in self._line.pieces.values())
            memory = sum(process.memory for process in self._processes)
            return alive - running, running, len(self._processes), memory

    def close(self) -> None:
        with self._changed:
            self._is_closed = True
            self._wake()
        self._keeper.join()

    # --- the thread that keeps the processes at work ------------------------------------------------

    def _wake(self) -> None:
        self._wake_in.send(None)

    def _running(self) -> list[Waiting]:
        return [process.does for process in self._processes if process.does is not None]

    def _keep(self) -> None:
        while not self._is_closed:
            try:
                self._turn()
            except Exception as error:  # whatever it is, the others are still to be served
                logging.getLogger("hobrix").error("the pool", exc_info=error)
                time.sleep(_LOOK)
        for process in self._processes:
            process.end()

    def _turn(self) -> None:
        """One look at everything."""
        lines = {process.line: process for process in self._processes}
        is_quiet = not self._line.pieces and not self._running()
        heard = wait([self._wake_out, *lines], None if is_quiet else _LOOK)
        with self._changed:
            for line in heard:
                if line is self._wake_out:
                    self._wake_out.recv()
                else:
                    self._hear(lines[line])  # type: ignore[index]
            self._end_what_nobody_wants()
            for process in list(self._processes):
                self._watch(process)
            self._begin()

    def _hear(self, process: Process) -> None:
        try:
            kind, what = process.hear()
        except (EOFError, OSError):
            self._lost(process, BrokeOff(BROKE_OFF))
            return
        waiting = process.does
        if waiting is None:
            return
        if kind == "begun":
            return
        if kind == "tell":
            waiting.done = what
            return
        process.does = None
        if kind == "done":
            self._ended(waiting, result=what)
        elif kind == "broke":
            logging.getLogger("hobrix").error("unforeseen, in a process beside\n%s", what)
            self._ended(waiting, error=BrokeOff(BROKE_OFF))
        elif isinstance(what, Stopped) and waiting.askers:
            waiting.done = None  # its turn comes again
        else:
            self._ended(waiting, error=what)

    def _ended(
        self, waiting: Waiting, result: object = None, error: BaseException | None = None
    ) -> None:
        waiting.result, waiting.error, waiting.ended = result, error, time.monotonic()
        self._changed.notify_all()

    def _lost(self, process: Process, error: BaseException | None) -> None:
        """A process is gone; its work has failed, or (None) waits for another."""
        process.end()
        self._processes.remove(process)
        self._homes = OrderedDict((k, v) for k, v in self._homes.items() if v is not process)
        if process.does is not None:
            process.does.done = None
            if error is not None:
                self._ended(process.does, error=error)
        if not self._processes:
            self._processes.append(Process())

    def _end_what_nobody_wants(self) -> None:
        for waiting in self._line.left():
            del self._line.pieces[waiting.piece.key]
            if waiting.ended is None:
                self._ended(waiting, error=Stopped())

    def _watch(self, process: Process) -> None:
        """What runs too long for its place, takes too much, or is wanted by nobody, ends."""
        waiting = process.does
        if waiting is None:
            many = sum(each.gives_way for each in self._processes) > self._line.long_places
            if process.memory > self._memory or (process.gives_way and many):
                self._lost(process, None)
            return
        now = time.monotonic()
        if process.stopped is not None:
            if now - process.stopped > _GRACE:
                self._lost(process, None)
            return
        if waiting.ended is not None:
            process.ask_to_stop()
        elif process.memory > self._memory:
            self._lost(process, HobrixError(TOO_MUCH_MEMORY))
        elif not waiting.is_long and process.spent > SHORT:
            waiting.is_long = True
            if self._line.has_place(waiting, self._running()):
                process.make_way()
            else:
                process.ask_to_stop()

    def _begin(self) -> None:
        while (waiting := self._line.next(self._running())) is not None:
            process = self._free_for(waiting)
            if process is None:
                return
            self._homes[waiting.piece.home] = process
            self._homes.move_to_end(waiting.piece.home)
            if len(self._homes) > _HOMES:
                self._homes.popitem(last=False)
            try:
                process.do(waiting)
            except OSError:
                process.does = None
                self._lost(process, None)

    def _free_for(self, waiting: Waiting) -> Process | None:
        """An idle process, best the one that did the last work of the same home, or one that gives way
        where the work is long; a new one where there may be more."""
        known = self._homes.get(waiting.piece.home)
        if known is not None and known.is_idle:
            return known
        idle = [process for process in self._processes if process.is_idle]
        fitting = [process for process in idle if process.gives_way == waiting.is_long]
        if not fitting and len(self._processes) < self._most:
            self._processes.append(Process())
            return self._processes[-1]
        return next(iter(fitting or idle), None)
