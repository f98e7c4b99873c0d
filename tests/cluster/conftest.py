"""A cluster on this machine: a master and two workers, each a process of its own (Java has to be there)."""

import os
import signal
import socket
import subprocess
import time
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pyspark
import pytest

CLASS = Path(pyspark.__file__).parent / "bin" / "spark-class"


def free_port() -> int:
    with closing(socket.socket()) as taken:
        taken.bind(("127.0.0.1", 0))
        return int(taken.getsockname()[1])


class LocalCluster:
    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.port = free_port()
        self.address = f"spark://127.0.0.1:{self.port}"
        self.master = self._start("master.Master", "--port", str(self.port))
        self._wait()
        self.workers = [
            self._start("worker.Worker", self.address, "--cores", "1", "--memory", "1g")
            for _ in range(2)
        ]
        time.sleep(6)

    def _start(self, what: str, *words: str) -> subprocess.Popen[bytes]:
        command = [str(CLASS), f"org.apache.spark.deploy.{what}", "--host", "127.0.0.1"]
        command += ["--webui-port", str(free_port()), *words]
        environment = {
            **os.environ,
            "SPARK_LOCAL_IP": "127.0.0.1",
            "SPARK_WORKER_DIR": str(self.folder),
        }
        with (self.folder / f"{what}.log").open("ab") as log:
            return subprocess.Popen(
                command, stdout=log, stderr=log, env=environment, start_new_session=True
            )

    def _wait(self) -> None:
        end = time.monotonic() + 60
        while time.monotonic() < end:
            try:
                with socket.create_connection(("127.0.0.1", self.port), 1):
                    return
            except OSError:
                time.sleep(0.2)
        raise TimeoutError("the master does not start")

    def executors(self) -> list[int]:
        """Processes in which rows are counted."""
        found = subprocess.run(
            ["pgrep", "-f", "CoarseGrainedExecutorBackend"],
            capture_output=True,
            text=True,
        ).stdout.split()
        # Those that a worker of this cluster started, which are of its session.
        own = {worker.pid for worker in self.workers}
        return [int(pid) for pid in found if os.getsid(int(pid)) in own]

    def stop(self) -> None:
        for process in (*self.workers, self.master):
            try:
                os.killpg(process.pid, signal.SIGKILL)
            except ProcessLookupError:
                continue
            process.wait()


@pytest.fixture(scope="session")
def cluster(tmp_path_factory: pytest.TempPathFactory) -> Iterator[LocalCluster]:
    made = LocalCluster(tmp_path_factory.mktemp("cluster"))
    yield made
    made.stop()
