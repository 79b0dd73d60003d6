"""./jolly demo: the application on loopback, with the demo's pieces."""

import argparse
import http.client
import os
import shutil
import signal
import socket
import subprocess
import sys
import time
from collections import deque
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager, suppress
from dataclasses import dataclass
from pathlib import Path

from ops.database import Cluster, database
from ops.machine import DATA, ROOT, VENV, prepare, say, secrets
from ops.trouble import Trouble

HOST = "127.0.0.1"
SERVER_LOG = DATA / "server.log"


def application_env(database_url: str) -> dict[str, str]:
    """The environment of the application, served over plain HTTP on loopback."""
    return os.environ | {"DATABASE_URL": database_url, "SECRET_KEY": secrets()["django"],
                         "JOLLY_LOCAL": "1", "JOLLY_DEMO": "1",
                         "DJANGO_SETTINGS_MODULE": "jolly.settings"}


def manage(env: dict[str, str], *arguments: str) -> None:
    """Run one of the application's own commands."""
    done = subprocess.run([str(VENV / "bin" / "python"), "manage.py", *arguments], check=False,
                          cwd=ROOT / "server", env=env, capture_output=True, text=True)
    if done.returncode:
        last = (done.stderr.strip().splitlines() or ["no reason given"])[-1]
        raise Trouble(f"The database could not be made ready: {last}")


SECONDS_FOR_THE_PORT = 4.0
"""So long a server that has lost the command it belonged to may take to end."""
MOST_STARTS, WITHIN = 5, 30.0
"""A server that has ended so often within so many seconds is not started again."""
MOST_LOG = 8 * 2**20


def listen(port: int) -> socket.socket:
    """The port, taken at once so that nobody else can; Trouble if somebody keeps it."""
    if not 1024 <= port <= 65535:
        raise Trouble("A port goes from 1024 to 65535.")
    listening = socket.socket()
    listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    deadline = time.monotonic() + SECONDS_FOR_THE_PORT
    while True:
        try:
            listening.bind((HOST, port))
            listening.listen(1024)
            return listening
        except OSError:
            if time.monotonic() > deadline:
                listening.close()
                raise Trouble(f"Port {port} is in use; end what listens there, or choose another: "
                              f"./jolly demo --port {port + 10}") from None
            time.sleep(0.1)


@contextmanager
def served(listening: socket.socket, env: dict[str, str]) -> Iterator[subprocess.Popen[bytes]]:
    """The application, answering at a socket, which it takes over; ended with all its workers."""
    with ExitStack() as running:
        server = _start(listening, env, running)
        listening.close()
        yield server


def _start(listening: socket.socket, env: dict[str, str],
           running: ExitStack) -> subprocess.Popen[bytes]:
    """The application once it answers, which ends with what is `running`."""
    env = env | {"BIND": f"fd://{listening.fileno()}", "OWNER": str(os.getpid())}
    with SERVER_LOG.open("ab") as log:
        server = subprocess.Popen([str(VENV / "bin" / "gunicorn"), "jolly.wsgi"],
                                  cwd=ROOT / "server", env=env, stdout=log, stderr=log,
                                  stdin=subprocess.DEVNULL, start_new_session=True,
                                  pass_fds=[listening.fileno()])
    running.callback(_end, server)
    _wait_until_ready(server, listening.getsockname()[1])
    return server


def _end(server: subprocess.Popen[bytes]) -> None:
    if server.poll() is None:
        server.terminate()
        try:
            server.wait(5)
        except subprocess.TimeoutExpired:
            os.killpg(server.pid, signal.SIGKILL)
            server.wait()


def answers(port: int, path: str) -> bool:
    """Whether what listens at a port answers this well."""
    try:
        connection = http.client.HTTPConnection(HOST, port, timeout=2)
        connection.request("GET", path)
        return connection.getresponse().status == 200
    except OSError:
        return False


def _wait_until_ready(server: subprocess.Popen[bytes], port: int) -> None:
    deadline = time.monotonic() + 60
    while time.monotonic() < deadline and server.poll() is None:
        if answers(port, "/api/session"):
            return
        time.sleep(0.1)
    raise Trouble("The application did not start; what it says is in .data/server.log.")


@dataclass
class Demo:
    """The demo as it runs: where it answers, how its server is started, and its database if that is
    ours."""

    address: str
    start: Callable[[], subprocess.Popen[bytes]]
    server: subprocess.Popen[bytes]
    cluster: Cluster | None

    def watch(self) -> None:
        """Keep server and database running and the logs short; Trouble when the server ends again
        and again."""
        ended: deque[float] = deque(maxlen=MOST_STARTS)
        while True:
            time.sleep(1)
            bound(SERVER_LOG)
            if self.cluster is not None:
                bound(self.cluster.log)
                self.cluster.revive()
            if self.server.poll() is not None:
                ended.append(time.monotonic())
                if len(ended) == MOST_STARTS and ended[-1] - ended[0] < WITHIN:
                    raise Trouble("The application stops again and again; what it says is in "
                                  ".data/server.log.")
                self.server = self.start()


def bound(log: Path) -> None:
    """Begin a log anew where it has grown large; the one before stays beside it."""
    with suppress(OSError):
        if log.stat().st_size > MOST_LOG:
            shutil.copyfile(log, log.with_suffix(".log.1"))
            os.truncate(log, 0)  # whoever writes to it appends


@contextmanager
def demo_server(listening: socket.socket) -> Iterator[Demo]:
    """The demo, ready to be opened."""
    address = "http://{}:{}/".format(*listening.getsockname())
    with listening, database() as (url, cluster), ExitStack() as running:
        env = application_env(url)
        manage(env, "prepare")

        def start() -> subprocess.Popen[bytes]:
            return _start(listening, env, running)

        yield Demo(address, start, start(), cluster)


def demo(options: argparse.Namespace) -> int:
    """Serve the demo until Ctrl-C."""
    listening = listen(options.port)
    signal.signal(signal.SIGINT, signal.default_int_handler)  # also where it was ignored
    for ending in (signal.SIGTERM, signal.SIGHUP):  # a terminal that is closed hangs up
        if signal.getsignal(ending) is not signal.SIG_IGN:
            signal.signal(ending, lambda *_: sys.exit(0))
    prepare(testing=False)
    try:
        with demo_server(listening) as running:
            print(f"Jolly Lattice is at {running.address} (Ctrl-C ends it)", flush=True)
            running.watch()
    except KeyboardInterrupt:
        say("\nEnded.")
    return 0
