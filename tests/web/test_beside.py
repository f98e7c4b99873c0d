"""Work beside the threads that serve: it ends when asked to, and nobody takes more than a share."""

import os
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest

from hobrix.core.errors import HobrixError, QuestionError
from hobrix.core.progress import Stopped
from hobrix.web.beside import pool as pools
from hobrix.web.beside import queue
from hobrix.web.beside.pieces import Asker, Piece, Waiting
from hobrix.web.beside.pool import BrokeOff, Pool
from web import beside_work as work

ANN, BEN = 1, 2


@pytest.fixture
def pool(monkeypatch: pytest.MonkeyPatch) -> Iterator[Pool]:
    monkeypatch.setenv("PYTHONPATH", str(Path(__file__).parents[1]))
    monkeypatch.setattr(pools, "SHORT", 0.5)
    made = Pool(short=2, long=1, memory=600 * 1024**2)
    # Warm, so that seconds are those of the work.
    made.ask(Asker(0, "first"), piece(work.doubled, 1), 60)
    yield made
    made.close()


def piece(function: Callable[..., Any], *arguments: Any, home: str = "") -> Piece:
    key = f"{function.__name__}{arguments}"
    return Piece(key, home or key, function, arguments)


def ended(
    pool: Pool,
    asker: Asker,
    one: Piece,
    seconds: float = 30,
    meanwhile: Callable[[], Any] = lambda: None,
) -> Waiting:
    """Asks again and again, as a browser does; others do ``meanwhile``."""
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        waiting = pool.ask(asker, one, 0.2)
        if waiting.ended is not None:
            return waiting
        meanwhile()
        time.sleep(0.05)
    raise AssertionError("It did not end.")


def until(condition: Callable[[], Any], seconds: float = 10) -> None:
    end = time.monotonic() + seconds
    while not condition():
        assert time.monotonic() < end
        time.sleep(0.02)


def test_what_is_worked_out_comes_back_and_errors_come_back_whole(pool: Pool) -> None:
    given = ended(pool, Asker(ANN, "a"), piece(work.doubled, 21)).result
    assert given[0] == 42
    assert given[1] != os.getpid()
    refused = ended(pool, Asker(ANN, "b"), piece(work.refuses)).error
    assert isinstance(refused, QuestionError)
    assert (refused.message, refused.slot, refused.remedies) == (
        "Not so.",
        "outcome",
        (("other", 1),),
    )
    assert isinstance(ended(pool, Asker(ANN, "c"), piece(work.wrong)).error, BrokeOff)


def test_a_process_that_dies_or_takes_too_much_spoils_its_own_piece_only(pool: Pool) -> None:
    assert isinstance(ended(pool, Asker(ANN, "a"), piece(work.dies)).error, BrokeOff)
    greedy = ended(pool, Asker(ANN, "b"), piece(work.greedy)).error
    assert isinstance(greedy, HobrixError)
    assert "more memory" in greedy.message
    assert ended(pool, Asker(ANN, "c"), piece(work.doubled, 4)).result[0] == 8


@pytest.mark.parametrize("function", [work.polite, work.stubborn])
def test_work_that_is_stopped_ends_within_a_second(
    pool: Pool, function: Callable[..., Any], tmp_path: Path
) -> None:
    ann, extra = Asker(ANN, "a"), (str(tmp_path / "mark"),) if function is work.polite else ()
    one = piece(function, 60, *extra)
    pool.ask(ann, one, 0.3)
    assert pool.look(ann) is not None
    raised: list[BaseException] = []

    def wait() -> None:
        try:
            pool.ask(ann, one, 30)
        except Stopped as error:
            raised.append(error)

    waiter = threading.Thread(target=wait)
    waiter.start()
    time.sleep(0.1)
    pool.stop(ann)
    waiter.join(5)
    until(lambda: not pool._running())
    # Whoever asks next finds the place free.
    assert ended(pool, Asker(BEN, "b"), piece(work.doubled, 3, home=one.home)).result[0] == 6
    assert len(raised) == 1
    assert pool.look(ann) is None
    # Asked again on the way, it is not begun anew under this name, but under another.
    with pytest.raises(Stopped):
        pool.ask(ann, one, 0.1)
    pool.ask(Asker(ANN, "again"), one, 0.1)
    assert pool.look(Asker(ANN, "again")) is not None


def test_two_who_ask_the_same_share_the_work_and_one_may_leave(pool: Pool, tmp_path: Path) -> None:
    mark = tmp_path / "mark"
    one = piece(work.polite, 1.0, str(mark))
    pool.ask(Asker(ANN, "a"), one, 0.1)
    pool.ask(Asker(BEN, "b"), one, 0.1)
    pool.stop(Asker(ANN, "a"))
    assert ended(pool, Asker(BEN, "b"), one).result == "done"
    assert len(mark.read_text().split()) == 1


def test_work_ends_when_nobody_asks_for_it_any_more(
    pool: Pool, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(queue, "PATIENCE", 0.5)
    one = piece(work.stubborn, 60)
    pool.ask(Asker(ANN, "a"), one, 0.1)
    until(lambda: pool.look(Asker(ANN, "a")) is None)
    until(lambda: not pool._running())


def test_long_work_leaves_places_for_what_is_short_and_is_told_its_turn(
    pool: Pool, tmp_path: Path
) -> None:
    """Ann asks four long pieces; Ben's short ones do not wait for them."""
    # Longer than all short ones take on a busy machine; what is left of them is ended with the pool.
    long = [piece(work.polite, 60, str(tmp_path / f"mark {i}")) for i in range(4)]
    for i, one in enumerate(long):
        pool.ask(Asker(ANN, f"{i}"), one, 0)

    def alive() -> list[tuple[float | None, int | None] | None]:
        for i, one in enumerate(long):
            pool.ask(Asker(ANN, f"{i}"), one, 0)
        return [pool.look(Asker(ANN, f"{i}")) for i in range(4)]

    until(lambda: alive() and sum(each.is_long for each in pool._line.pieces.values()) >= 2, 30)
    for number in range(20):
        short = piece(work.doubled, number + 100)
        ended(pool, Asker(BEN, f"b{number}"), short, meanwhile=alive)
    # All of them are done while Ann still waits.
    assert any(found is not None for found in alive())
    assert any(waiting.ended is None for waiting in pool._line.pieces.values())
    turns = [found[1] for found in alive() if found is not None]
    assert None in turns
    assert max(turn for turn in turns if turn is not None) >= 1


def test_the_turn_goes_to_whoever_has_the_fewest_under_way() -> None:
    line = queue.Line(short_places=3, long_places=2)

    def waits(name: str, owner: int, is_long: bool = False, home: str = "") -> Waiting:
        made = Waiting(Piece(name, home or name, work.doubled, ()), owner, is_long=is_long)
        made.made = float(len(line.pieces))
        line.pieces[name] = made
        return made

    first, second, fourth = waits("a1", ANN), waits("a2", ANN), waits("a0", ANN)
    third, long = waits("b1", BEN), waits("b2", BEN, is_long=True)
    assert line.next([]) is first
    assert line.next([first]) is third
    assert line.next([first, third]) is second
    # Two of three short places are as many as one may hold; Ben's long piece has its own.
    assert line.next([first, third, second]) is long
    fourth.ended = 1.0
    # One of the two long places each; the other stays for somebody else.
    running = waits("b3", BEN, is_long=True)
    assert line.next([first, second, third, running]) is None
    cleo = waits("c1", 3, is_long=True)
    assert line.next([first, second, third, running]) is cleo
    running.ended = 1.0
    assert line.next([first, second, third]) is cleo
    assert line.place(long, [first, second, third]) == 1
    assert line.place(cleo, [first, second, third]) == 2
    # Work of one home is not begun in two places.
    waits("a3", ANN, home="a1")
    assert line.next([first, second, third, cleo, long]) is None
