"""Small files that would fill the memory, sent to a server: how soon each is refused, and what it costs."""

import http.client
import json
import threading
import time

from made_bombs import BOMBS
from soak.served import Served


def bombs(served: Served) -> None:
    study, (who,) = served.people(1)
    path = f"/api/studies/{study}/datasets"
    for name, made, _ in [*BOMBS, ("blank.csv", lambda: b"a\n" + b"\n" * 300_000 + b"1\n", "")]:
        data = made()
        before = served.memory
        most, done = [before], threading.Event()

        def watch(most: list[int] = most, done: threading.Event = done) -> None:
            while not done.wait(0.02):
                most[0] = max(most[0], served.memory)

        watching = threading.Thread(target=watch)
        watching.start()
        began = time.monotonic()
        status, said = _sent(served.port, who.session, path, name, data)
        took = time.monotonic() - began
        done.set()
        watching.join()
        print(
            f"{name} ({len(data) / 1000:.1f} kB): {status} after {took:.2f} s and "
            f"{max(0, most[0] - before) / 1e6:.0f} MB more: {said}"
        )


def _sent(port: int, session: str, path: str, name: str, data: bytes) -> tuple[int, str]:
    """Status, and what is said."""
    head = f'--x\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n'
    headers = {
        "Cookie": f"sessionid={session}; csrftoken={'a' * 32}",
        "X-CSRFToken": "a" * 32,
        "Content-Type": "multipart/form-data; boundary=x",
    }
    line = http.client.HTTPConnection("127.0.0.1", port, timeout=120)
    line.request("POST", path, head.encode() + data + b"\r\n--x--\r\n", headers)
    reply = line.getresponse()
    told = json.loads(reply.read())
    return reply.status, str(told.get("detail") or told.get("title") or told.get("name"))[:90]
